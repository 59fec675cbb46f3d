import { type ChildProcess, spawn } from 'node:child_process';
import type { Readable } from 'node:stream';
import type { Connection } from '../../src/desktop/x11/connection.ts';

/** An X server that shows nothing, for as long as a test runs. */
export interface XServer {
  readonly display: string;
  stop(): Promise<void>;
}

/** Starts one on a display that is free. */
export async function startXServer(): Promise<XServer> {
  const child: ChildProcess = spawn(
    'Xvfb',
    ['-displayfd', '3', '-noreset', '-screen', '0', '800x600x24', '-nolisten', 'tcp'],
    {
      stdio: ['ignore', 'ignore', 'ignore', 'pipe'],
    },
  );
  const ended = new Promise<void>((end) => child.on('close', () => end()));
  const number = await new Promise<string>((told, failed) => {
    child.on('error', failed);
    let words = '';
    (child.stdio[3] as Readable).on('data', (chunk: Buffer) => {
      words += chunk;
      if (words.includes('\n')) told(words.trim());
    });
    void ended.then(() => failed(new Error('the X server ended')));
  });
  return {
    display: `:${number}`,
    stop: async () => {
      child.kill();
      await ended;
    },
  };
}

/** Brings a window of this process to the front, as a window manager tells of it. */
export async function bringToFront(desktop: Connection, name: string, title: string): Promise<void> {
  const window = desktop.window();
  const set = async (of: number, property: string, type: string, format: 8 | 32, held: Uint8Array): Promise<void> =>
    desktop.setProperty(of, await desktop.atom(property), await desktop.atom(type), format, held);
  await set(window, 'WM_CLASS', 'STRING', 8, Buffer.from(`${name}\0${name}\0`));
  await set(window, '_NET_WM_NAME', 'UTF8_STRING', 8, Buffer.from(title));
  await set(desktop.root, '_NET_ACTIVE_WINDOW', 'WINDOW', 32, new Uint8Array(Uint32Array.of(window).buffer));
  await desktop.settle();
}
