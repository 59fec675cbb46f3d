import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { type BrowserContext, chromium } from 'playwright-core';

const folder = resolve(import.meta.dirname, '../../examples/desk');
const vite =
  ['../../node_modules/vite/bin/vite.js', 'node_modules/vite/bin/vite.js']
    .map((path) => resolve(folder, path))
    .find(existsSync) ?? '';

const executablePath =
  [process.env.CHROMIUM, '/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].find(
    (path) => path && existsSync(path),
  ) ?? '';

/** What keeps a headless browser quiet on a machine without a display or a network. */
const browserArguments = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** The desk, built and served on this machine, and a browser with a profile of its own. */
export class DeskServer {
  readonly #scratch = mkdtempSync(join(tmpdir(), 'drawer-desk-'));
  #server: ChildProcess | undefined;
  address = '';

  async start(): Promise<void> {
    const out = join(this.#scratch, 'site');
    const environment = { ...process.env, NODE_OPTIONS: '', NODE_ENV: 'production' };
    execFileSync(process.execPath, [vite, 'build', '--outDir', out, '--logLevel', 'error'], {
      cwd: folder,
      env: environment,
    });
    const server = spawn(process.execPath, [vite, 'preview', '--outDir', out, '--port', '0'], {
      cwd: folder,
      env: environment,
    });
    this.#server = server;
    this.address = await new Promise((found, failed) => {
      let said = '';
      server.stdout.on('data', (chunk: Buffer) => {
        said += chunk;
        // Vite colours what it says, also in the middle of the address.
        const [address] = /http:\/\/localhost:\d+\//.exec(said.replace(/\u001b\[\d+m/g, '')) ?? [];
        if (address) found(address);
      });
      server.on('close', () => failed(new Error(`the desk was not served: ${said}`)));
    });
  }

  /** A browser with the profile of that name; the same profile again is the same browser come back. */
  open(profile: string): Promise<BrowserContext> {
    return chromium.launchPersistentContext(join(this.#scratch, profile), {
      executablePath,
      args: browserArguments,
      viewport: { width: 1280, height: 800 },
      acceptDownloads: true,
      permissions: ['clipboard-read', 'clipboard-write'],
    });
  }

  path(name: string): string {
    return join(this.#scratch, name);
  }

  /** Kills every process of a profile's browser, as a crash would. */
  kill(profile: string): void {
    try {
      execFileSync('pkill', ['-KILL', '-f', join(this.#scratch, profile)]);
    } catch {
      // none is left
    }
  }

  stop(): void {
    this.#server?.kill();
    rmSync(this.#scratch, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 });
  }
}
