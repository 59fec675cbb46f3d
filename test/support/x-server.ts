import { type ChildProcess, spawn } from 'node:child_process';
import type { Readable } from 'node:stream';

/** An X server that shows nothing, for as long as a test runs. */
export interface XServer {
  readonly display: string;
  stop(): Promise<void>;
}

/** Starts one on a display that is free. */
export async function startXServer(): Promise<XServer> {
  const child: ChildProcess = spawn('Xvfb', ['-displayfd', '3', '-screen', '0', '800x600x24', '-nolisten', 'tcp'], {
    stdio: ['ignore', 'ignore', 'ignore', 'pipe'],
  });
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
