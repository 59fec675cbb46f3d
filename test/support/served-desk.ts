import { type ChildProcess, spawn } from 'node:child_process';
import { type BrowserContextOptions, chromium, type Page } from 'playwright-core';
import { command } from './cli.ts';
import { browserArguments, headlessPath, hearSaid, noteFaults } from './site.ts';

/** A desk that runs as a process. */
export interface RunningDesk {
  readonly child: ChildProcess;
  /** The address that lets one browser in. */
  readonly address: string;
  readonly ended: Promise<number | null>;
  err(): string;
}

/** `drawer desk --no-open` in a folder, with a drawer of its own. */
export async function startDesk(
  words: readonly string[],
  { cwd, ...environment }: Record<string, string>,
): Promise<RunningDesk> {
  const child = spawn(process.execPath, [command, 'desk', '--no-open', ...words], {
    cwd,
    env: { ...process.env, ...environment },
  });
  let [out, err] = ['', ''];
  child.stderr.on('data', (chunk: Buffer) => {
    err += chunk;
  });
  const ended = new Promise<number | null>((done) => child.on('close', done));
  const address = await new Promise<string>((found, failed) => {
    child.stdout.on('data', (chunk: Buffer) => {
      out += chunk;
      const [printed] = /http:\/\/127\.0\.0\.1:\S+/.exec(out) ?? [];
      if (printed) found(printed);
    });
    void ended.then((code) => failed(new Error(`the desk ended with ${code}: ${err}`)));
  });
  return { child, address, ended, err: () => err };
}

/** One browser; collects the uncaught errors of its pages. */
export class Windows {
  readonly #browser = chromium.launch({ executablePath: headlessPath, args: browserArguments });
  readonly faults: string[] = [];

  /** A window of a person who has been let in, or of another. */
  async open(address: string, options: BrowserContextOptions = {}): Promise<Page> {
    const context = await (await this.#browser).newContext({ viewport: { width: 1280, height: 800 }, ...options });
    await hearSaid(context);
    return this.another(address, await context.newPage());
  }

  /** Brings a page to an address. */
  async another(address: string, page: Page): Promise<Page> {
    noteFaults(page, this.faults);
    await page.goto(address);
    return page;
  }

  /** Closes every window; gives what went wrong in them. */
  async closeAll(): Promise<readonly string[]> {
    for (const context of (await this.#browser).contexts()) await context.close();
    return this.faults.splice(0);
  }

  async close(): Promise<void> {
    await (await this.#browser).close();
  }
}
