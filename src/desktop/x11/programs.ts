import type { Program } from '../clipboard.ts';
import type { Connection } from './connection.ts';
import { numbersIn } from './owned-selection.ts';

/** The property of the root window by which a window manager tells which window is in front (EWMH 1.5). */
export const inFrontProperty = '_NET_ACTIVE_WINDOW';

/** The program whose window is in front, and its process where that is known; `undefined` where nobody tells. */
export async function programInFront(
  server: Connection,
): Promise<{ readonly program: Program; readonly process: number | undefined } | undefined> {
  const [window] = await windowsIn(server, inFrontProperty);
  if (!window) return undefined;
  return { program: await programOf(server, window), process: await server.processOf(window) };
}

/** The program that a clipboard belongs to, by a window of its process that people see: the owner's own has no name. */
export async function programOwning(server: Connection, owner: number): Promise<Program | undefined> {
  const process = await server.processOf(owner);
  if (process === undefined) return undefined;
  for (const name of [inFrontProperty, '_NET_CLIENT_LIST'])
    for (const window of await windowsIn(server, name))
      if ((await server.processOf(window)) === process) return programOf(server, window);
  return undefined;
}

const windowsIn = async (server: Connection, name: string): Promise<readonly number[]> =>
  [...numbersIn(await server.property(server.root, name))].filter((window) => window !== 0);

/** What its window says of it: its class (ICCCM, section 4.1.2.5) and its title. */
async function programOf(server: Connection, window: number): Promise<Program> {
  const [, name = ''] = textIn(await server.property(window, 'WM_CLASS')).split('\0');
  const title = await server.property(window, '_NET_WM_NAME');
  return { name, title: textIn(title.length > 0 ? title : await server.property(window, 'WM_NAME')) };
}

const textIn = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
