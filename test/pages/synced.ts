import { openDrawer, openSyncing, type Syncing } from '../../src/browser/index.ts';
import { type Drawer, DrawerError } from '../../src/index.ts';
import { type Act, act, snippetsOf } from '../support/acts.ts';

/** What the tests reach from outside. */
declare global {
  interface Window {
    shared: typeof shared;
  }
}

let drawer: Drawer;
let syncing: Syncing;
const shared = {
  async open(address: string, passphrase: string, name = 'shared') {
    drawer = await openDrawer(name);
    syncing = await openSyncing(name, address, { passphrase, labelBeside: (preview) => `${preview} (elsewhere)` });
  },
  /** What is done, or the reason of the error. */
  sync: () => syncing.sync().catch((error: unknown) => (DrawerError.is(error) ? error.reason : Promise.reject(error))),
  /** Keeps in step from now on; `problems` counts how often the server was away. */
  follow() {
    const onUnreachable = (): void => void shared.problems++;
    void syncing.follow({ onUnreachable, signal: new AbortController().signal });
  },
  problems: 0,
  act: (given: Act) => act(drawer, given),
  snippets: () => snippetsOf(drawer),
  async picture(bytes: readonly number[], hash: string) {
    const picture = { media: hash, mediaType: 'image/png', width: 1, height: 1 } as const;
    const media = new Map([[hash, Uint8Array.from(bytes)]]);
    await drawer.keep({ content: { shape: 'picture', picture }, origin: {}, media });
  },
  /** SHA-256 of the bytes that it has of a picture, in hexadecimal. */
  async hashOfPicture(hash: string) {
    const digest = await crypto.subtle.digest('SHA-256', new Uint8Array((await drawer.findMedia(hash)) ?? []));
    return Array.from(new Uint8Array(digest), (byte) => byte.toString(16).padStart(2, '0')).join('');
  },
  async secret(words: string) {
    const content = { shape: 'run', inlines: [{ type: 'text', text: words }] } as const;
    await drawer.keep({ content, origin: {}, secret: true });
  },
  /** Makes a secret of what begins with these words. */
  async hide(words: string) {
    const found = (await snippetsOf(drawer)).filter(({ facts }) => facts.preview.startsWith(words));
    await drawer.mark(
      found.map(({ id }) => id),
      { secret: true },
    );
  },
  check: async () => (await drawer.check()).faults,
};
window.shared = shared;
document.documentElement.dataset.ready = '';
