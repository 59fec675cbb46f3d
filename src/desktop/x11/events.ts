import type { Event } from 'x11';
import { DrawerError } from '../../content/index.ts';
import type { Connection } from './connection.ts';

/** How long a program may take to answer, or to go on with its answer, in milliseconds. */
const patience = 5_000;

/** Of a property: it has a value, or has none any more (X11 protocol, PropertyNotify). */
export const [newValue, deleted] = [0, 1];

/** What is told of a window, in order: nothing is missed between two waits. */
export class WindowEvents {
  readonly #events: Event[] = [];
  #wake: () => void = () => {};
  readonly stop: () => void;

  constructor(server: Connection, window: number) {
    this.stop = server.hear((event) => {
      if (event.requestor !== window && event.wid !== window) return;
      this.#events.push(event);
      this.#wake();
    });
  }

  /** @throws DrawerError `storage` when it does not come for long */
  async next(isIt: (event: Event) => boolean): Promise<Event> {
    for (const until = Date.now() + patience; ; ) {
      for (let event = this.#events.shift(); event; event = this.#events.shift()) if (isIt(event)) return event;
      const left = until - Date.now();
      if (left <= 0) throw new DrawerError('storage/clipboard-mute', { seconds: patience / 1000 });
      let timer: ReturnType<typeof setTimeout> | undefined;
      await new Promise<void>((wake) => {
        this.#wake = wake;
        timer = setTimeout(wake, left);
      });
      clearTimeout(timer);
    }
  }
}
