import { type ChildProcess, type ChildProcessByStdio, execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import type { Readable, Writable } from 'node:stream';
import {
  type Browser,
  type BrowserContext,
  type BrowserContextOptions,
  type ConsoleMessage,
  chromium,
  type Page,
} from 'playwright-core';

const vite = resolve(import.meta.dirname, '../../node_modules/vite/bin/vite.js');
const axe = createRequire(import.meta.url).resolve('axe-core');

const firstThere = (...paths: readonly (string | undefined)[]): string =>
  paths.find((path) => path && existsSync(path)) ?? '';

/** Chromium with windows. */
export const executablePath = firstThere(
  process.env.CHROMIUM,
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome',
);
/** Chromium without them, which asks a fifth to a third less of the machine; that with them where it is not installed. */
export const headlessPath = firstThere(process.env.CHROMIUM, '/usr/bin/chromium-headless-shell', executablePath);

/** What keeps a headless browser quiet on a machine without a display or a network. */
export const browserArguments = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

const root = resolve(import.meta.dirname, '../..');

/** An example, served on this machine from its build or as README starts it, and browsers with profiles of their own. */
export class Site {
  readonly #example: string;
  readonly #folder: string;
  readonly #scratch: string;
  #server: ChildProcess | undefined;
  readonly #contexts: BrowserContext[] = [];
  /** For pages that keep no profile: each has a context of its own in it. */
  #browser: Promise<Browser> | undefined;
  /** What went wrong in a page without anybody catching it. */
  readonly faults: string[] = [];
  address = '';

  constructor(example: string) {
    this.#example = example;
    this.#folder = resolve(import.meta.dirname, '../../examples', example);
    this.#scratch = mkdtempSync(join(tmpdir(), `drawer-${example}-`));
  }

  async start(): Promise<void> {
    const out = join(this.#scratch, 'site');
    const environment = { ...process.env, NODE_ENV: 'production' };
    execFileSync(process.execPath, [vite, 'build', '--outDir', out, '--logLevel', 'error'], {
      cwd: this.#folder,
      env: environment,
    });
    const preview = [vite, 'preview', '--outDir', out, '--port', '0'];
    await this.#serve(spawn(process.execPath, preview, { cwd: this.#folder, env: environment, detached: true }));
  }

  /** Starts it as README does, or by another script, without opening a browser window. */
  async startFromSources(words: readonly string[] = [this.#example]): Promise<void> {
    const environment = { ...process.env, NODE_ENV: 'development', BROWSER: 'none' };
    await this.#serve(spawn('npm', ['run', ...words], { cwd: root, env: environment, detached: true }));
  }

  async #serve(server: ChildProcessByStdio<Writable, Readable, Readable>): Promise<void> {
    this.#server = server;
    this.address = await servedAt(server);
  }

  /** A browser with the profile of that name, where one is named; the same profile again is the same browser come back. */
  async open(profile: string | undefined, options: BrowserContextOptions = {}): Promise<BrowserContext> {
    const launching = { executablePath: headlessPath, args: browserArguments };
    const all: BrowserContextOptions = {
      viewport: { width: 1280, height: 800 },
      acceptDownloads: true,
      permissions: ['clipboard-read', 'clipboard-write'],
      ...options,
    };
    if (profile === undefined) this.#browser ??= chromium.launch(launching);
    const context = await (profile === undefined
      ? (await (this.#browser as Promise<Browser>)).newContext(all)
      : chromium.launchPersistentContext(join(this.#scratch, profile), { ...launching, ...all }));
    await hearSaid(context);
    return context;
  }

  /** A page of the site that knows nothing of others, or one in the browser of a profile. */
  async visit(profile?: string, path = '', options: BrowserContextOptions = {}): Promise<Page> {
    const context = await this.open(profile, options);
    this.#contexts.push(context);
    const page = context.pages()[0] ?? (await context.newPage());
    this.watch(page);
    await page.goto(this.address + path);
    return page;
  }

  /** Keeps what goes wrong in a page. */
  watch(page: Page): void {
    noteFaults(page, this.faults, (message) => message.location().url.endsWith('/favicon.ico'));
  }

  /** Closes every browser; gives what went wrong in their pages since the last time. */
  async closeAll(): Promise<readonly string[]> {
    for (const context of this.#contexts.splice(0)) await context.close().catch(() => {});
    return this.faults.splice(0);
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

  async stop(): Promise<void> {
    await (await this.#browser)?.close();
    // The server's whole process group: npm does not pass a signal on.
    if (this.#server?.pid !== undefined && this.#server.exitCode === null) process.kill(-this.#server.pid);
    rmSync(this.#scratch, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 });
  }
}

/** Adds the uncaught errors of a page, and those that it logs, to a list, but for what is forgiven. */
export function noteFaults(
  page: Page,
  faults: string[],
  isForgiven: (message: ConsoleMessage) => boolean = () => false,
): void {
  page.on('pageerror', (error) => faults.push(error.stack ?? error.message));
  page.on('console', (message) => {
    if (message.type() === 'error' && !isForgiven(message)) faults.push(message.text());
  });
}

/** The address that a development or preview server of Vite, or the desk's own, says it serves at. */
export const servedAt = (server: ChildProcessByStdio<Writable, Readable, Readable>): Promise<string> =>
  new Promise((found, failed) => {
    let said = '';
    const listen = (chunk: Buffer): void => {
      said += chunk;
      // Vite colours what it says, also in the middle of the address.
      const [address] =
        /http:\/\/(?:localhost:\d+\/|127\.0\.0\.1:\d+\/\S+(?=\n))/.exec(said.replace(/\u001b\[\d+m/g, '')) ?? [];
      if (address) found(address);
    };
    server.stdout.on('data', listen);
    server.stderr.on('data', listen);
    server.on('close', () => failed(new Error(`the site was not served: ${said}`)));
  });

/** Notes in each page of a browser what its panel says. */
export const hearSaid = (context: BrowserContext): Promise<unknown> =>
  context.addInitScript(() => {
    const said: string[] = [];
    Object.assign(globalThis, { said });
    addEventListener('drawer-say', (event) => said.push((event as CustomEvent<string>).detail));
  });

/** How long a page may take for one thing on a slow and busy machine. */
const longest = 60_000;

/** Waits until a live region says it. */
export const heard = (page: Page, words: RegExp): Promise<void> =>
  page.getByRole('status').filter({ hasText: words }).first().waitFor({ timeout: longest });

/** Waits until the panel says it because of a deed: what it says may be what it has said before. */
export async function heardAfter(page: Page, words: RegExp, deed: () => Promise<void>): Promise<void> {
  const before = await page.evaluate(() => (globalThis as unknown as { said: string[] }).said.length);
  await deed();
  await page.waitForFunction(
    ([from, source]) =>
      (globalThis as unknown as { said: string[] }).said
        .slice(from as number)
        .some((each) => new RegExp(source as string).test(each)),
    [before, words.source] as const,
    { timeout: longest },
  );
}

/** Does what the menu of the whole drawer offers. */
export async function fromMenu(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Menu' }).click();
  await page.getByRole('menuitem', { name }).click();
}

/** The slips that the panel shows. */
export const slips = (page: Page): Promise<string[]> => page.locator('drawer-panel [role="option"]').allInnerTexts();

/** Selects an element's insides, or all of it, as dragging over it does. */
export const selectElement = (page: Page, selector: string, itself = false): Promise<void> =>
  page.evaluate(
    ([of, whole]) => {
      const element = document.querySelector(of as string);
      if (!element) throw new Error(`there is no ${of}`);
      const range = document.createRange();
      if (whole) range.selectNode(element);
      else range.selectNodeContents(element);
      document.getSelection()?.removeAllRanges();
      document.getSelection()?.addRange(range);
    },
    [selector, itself] as const,
  );

/** What axe finds of serious faults, by rule and element. */
export async function seriousFindings(page: Page): Promise<string[]> {
  await page.evaluate(readFileSync(axe, 'utf8')); // a page’s own rules for scripts hold for tags
  return page.evaluate(async () => {
    const { violations } = await (
      globalThis as unknown as {
        axe: { run(): Promise<{ violations: { id: string; impact: string; nodes: { html: string }[] }[] }> };
      }
    ).axe.run();
    return violations
      .filter(({ impact }) => impact === 'serious' || impact === 'critical')
      .map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html).join(' | ')}`);
  });
}
