import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { DrawerError } from '../../content/index.ts';
import { deskFiles, serveDesk } from '../../host/index.ts';
import { openFile } from '../../node/index.ts';
import type { Context } from '../context.ts';
import { openCommandDrawer } from '../with-drawer.ts';

export interface DeskOptions {
  readonly port?: string;
  /** Whether the browser is opened; else the address is printed. */
  readonly open?: boolean;
  /** Goes on after the last window was closed. */
  readonly stay?: boolean;
  readonly author?: string;
}

/** How long a desk goes on after its last window was closed, in milliseconds. */
const endsAfter = 60_000;
const page = join(__dirname, '..', 'desk');

/** `drawer desk`: serves the desk with the command's drawer and the files of this folder, until nobody uses it any more. */
export async function desk(files: readonly string[], options: DeskOptions, context: Context): Promise<void> {
  const named = files.map((file) => resolve(file));
  for (const file of named) await (await openFile(file)).close();
  const reach = { folder: process.cwd(), named, author: options.author };
  const served = await serveDesk({
    page,
    port: portIn(options),
    open: (passphrase) => openCommandDrawer(context, { makes: true, passphrase }),
    files: (drawer) => deskFiles(reach, drawer),
    session: context.environment,
    ...(!options.stay && { endsAfter }),
  });
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, () => void served.end());
  const door = options.open === false ? undefined : await openBrowser(served.address);
  context.print(context.words.tell(door ? 'deskOpened' : 'deskAt', { address: served.address }));
  await served.ended;
  if (door) await rm(door, { recursive: true, force: true });
  context.remark(context.words.tell('deskEnded'));
}

function portIn({ port }: DeskOptions): number | undefined {
  if (port === undefined) return undefined;
  const number = Number(port);
  if (/^\d+$/.test(port) && number >= 1024 && number <= 65_535) return number;
  throw new DrawerError('usage/port-invalid', { port });
}

/**
 * Opens the address in the browser; gives the folder of a page that leads there, since other users of this computer see the
 * words that a program is started with. `undefined` where no browser could be started.
 */
async function openBrowser(address: string): Promise<string | undefined> {
  const folder = await mkdtemp(join(tmpdir(), 'drawer-desk-')); // only its owner can look into it
  const file = join(folder, 'desk.html');
  const leading = `<!doctype html><meta charset="utf-8"><title>Drawer</title><meta http-equiv="refresh" content="0;url=${address}">`;
  try {
    await writeFile(file, leading, { mode: 0o600 });
    const { default: open } = await import('open');
    const browser = await open(file);
    browser.on('error', () => {});
    return folder;
  } catch {
    await rm(folder, { recursive: true, force: true });
    return undefined;
  }
}
