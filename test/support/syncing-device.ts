import { mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Drawer, plainText, run, type Snippet } from 'drawer';
import { mediaHash } from 'drawer/formats';
import { openDrawer, openSyncing, type Syncing, type SyncResult } from 'drawer/node';

const folder = mkdtempSync(join(tmpdir(), 'drawer-sync-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
let made = 0;

export const passphrase = 'wooden river ferry';
export const reasons = ({ problems }: SyncResult): string[] => problems.map(({ reason }) => reason);

/** A device with a drawer, and what it meets others by: a folder as this device sees it, or a server. */
export class SyncingDevice {
  readonly root = join(folder, `device-${++made}`);
  readonly shared: string;
  readonly path = join(this.root, 'own.drawer');
  drawer!: Drawer;
  sync!: Syncing;

  readonly #name: string | undefined;

  constructor(shared?: string, name?: string) {
    this.#name = name;
    mkdirSync(this.root);
    this.shared = shared ?? join(this.root, 'shared');
  }

  async open(words = passphrase): Promise<this> {
    this.sync = await openSyncing(this.path, this.shared, {
      passphrase: words,
      name: this.#name,
      labelBeside: (preview) => `${preview} (elsewhere)`,
    });
    this.drawer = await openDrawer(this.path);
    return this;
  }

  async close(): Promise<void> {
    await this.sync.close();
    await this.drawer.close();
  }

  keep(...all: string[]): Promise<unknown> {
    return this.drawer.keep(all.map((words) => ({ content: run(words), origin: {} })));
  }

  /** Keeps bytes as a picture; gives its hash. */
  async keepPicture(bytes: Uint8Array): Promise<string> {
    const media = mediaHash(bytes);
    const picture = { media, mediaType: 'image/png', width: 1, height: 1 } as const;
    await this.drawer.keep({ content: { shape: 'picture', picture }, origin: {}, media: new Map([[media, bytes]]) });
    return media;
  }

  async snippets(): Promise<readonly Snippet[]> {
    return this.drawer.getMany((await this.drawer.list(1, 10_000)).map(({ summary }) => summary.id));
  }

  async words(): Promise<string[]> {
    return (await this.snippets()).map(({ content }) => plainText(content));
  }

  /** The folder in the shared one that holds what is sealed under its key. */
  get sealed(): string {
    const names = readdirSync(this.shared).filter((each) => /^[0-9a-f]{16}$/.test(each));
    expect(names).toHaveLength(1);
    return join(this.shared, String(names));
  }

  /** The logs in its folder; its own is the one that grows when it syncs. */
  logs(): string[] {
    return readdirSync(this.sealed).filter((name) => name.endsWith('.log'));
  }
}
