import { type BirpcReturn, createBirpc } from 'birpc';
import { decodeMessage, encodeMessage } from './codec.ts';

/** One connection of a channel. */
export interface Connection {
  send(frame: Uint8Array): void;
}

/** A frame: the message's number (0 where there is none), the number of the last message received, and the message. */
type Frame = readonly [number: number, received: number, message?: unknown];

/**
 * Messages between two ends, over connections that may break. Each message is numbered and kept until the other end has
 * confirmed it; a new connection sends the unconfirmed ones again, and the other end drops those it has. So each message
 * arrives once and in order.
 */
export class Channel {
  readonly #deliver: (message: unknown) => void;
  #connection: Connection | undefined;
  #unconfirmed: { readonly number: number; readonly frame: Uint8Array }[] = [];
  #sent = 0;
  #received = 0;

  /** @param deliver - receives each message of the other end */
  constructor(deliver: (message: unknown) => void) {
    this.#deliver = deliver;
  }

  /** Whether it has received anything yet. */
  get hasReceived(): boolean {
    return this.#received > 0;
  }

  send(message: unknown): void {
    const number = this.#sent + 1;
    const frame = encodeMessage([number, this.#received, message] satisfies Frame);
    this.#sent = number;
    this.#unconfirmed.push({ number, frame });
    this.#connection?.send(frame);
  }

  /** Uses a new connection from now on, or none. */
  connect(connection: Connection | undefined): void {
    this.#connection = connection;
    if (connection) for (const { frame } of this.#unconfirmed) connection.send(frame);
  }

  /** Takes a frame from a connection. */
  receive(bytes: Uint8Array): void {
    const [number, confirmed, message] = decodeMessage(bytes) as Frame;
    this.#unconfirmed = this.#unconfirmed.filter((each) => each.number > confirmed);
    if (number === 0) return;
    const isNew = number > this.#received;
    if (isNew) this.#received = number;
    this.#connection?.send(encodeMessage([0, this.#received] satisfies Frame));
    if (isNew) this.#deliver(message);
  }
}

/** Calls both ways over a channel of their own: `local` is called by the other end, `remote` calls it. */
export interface Calls<Remote extends object, Local extends object> {
  readonly channel: Channel;
  readonly remote: BirpcReturn<Remote, Local>;
}

export function callsOf<Remote extends object, Local extends object>(local: Local): Calls<Remote, Local> {
  let receive: (message: unknown) => void = () => {};
  const channel = new Channel((message) => receive(message));
  const remote = createBirpc<Remote, Local>(local, {
    post: (message: unknown) => channel.send(message),
    on: (listener) => {
      receive = listener;
    },
    timeout: -1, // a lost connection may take its time
  });
  return { channel, remote };
}
