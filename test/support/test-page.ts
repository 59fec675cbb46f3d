import { readdirSync, readFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { extname, resolve } from 'node:path';
import { build } from 'rolldown';

const pages = resolve(import.meta.dirname, '../pages');
const types: Readonly<Record<string, string>> = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript',
  '.css': 'text/css',
};

/** A policy as strict as a page can have: nothing inline, nothing from elsewhere, and markup only by named policies. */
export const strictPolicy = [
  "default-src 'none'",
  "script-src 'self'",
  "style-src 'self'",
  "img-src 'self' data:",
  "connect-src 'self' data:",
  "require-trusted-types-for 'script'",
  'trusted-types lit-html drawer',
].join('; ');

/** A page of `test/pages`, with the library bundled as somebody would, served on this machine. */
export class TestPage {
  readonly #name: string;
  readonly #policy: string | undefined;
  readonly #files = new Map<string, Uint8Array | string>();
  /** What the page asked for that it has no business with. */
  readonly asked: string[] = [];
  #server: Server | undefined;
  address = '';

  /** @param name of its files, such as `strict` for `strict.html`, `strict.ts` and `strict.css`. */
  constructor(name: string, policy?: string) {
    this.#name = name;
    this.#policy = policy;
  }

  async start(): Promise<void> {
    const { output } = await build({
      input: resolve(pages, `${this.#name}.ts`),
      platform: 'browser',
      transform: { target: 'es2022' },
      output: { sourcemapIgnoreList: false },
      write: false,
      logLevel: 'warn',
    });
    for (const part of output) this.#files.set(`/${part.fileName}`, part.type === 'chunk' ? part.code : part.source);
    for (const name of readdirSync(pages).filter((each) => /\.(?:html|css)$/.test(each)))
      this.#files.set(name === `${this.#name}.html` ? '/' : `/${name}`, readFileSync(resolve(pages, name), 'utf8'));
    const server = createServer(({ url = '/' }, answer) => {
      const path = url.replace(/[?#].*$/, '');
      const file = this.#files.get(path);
      if (file === undefined) this.asked.push(url);
      answer.writeHead(file === undefined ? 404 : 200, {
        'Content-Type': types[extname(path) || '.html'] ?? 'application/octet-stream',
        ...(this.#policy !== undefined && { 'Content-Security-Policy': this.#policy }),
      });
      answer.end(file ?? '');
    });
    this.#server = server;
    await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
    this.address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
  }

  stop(): void {
    this.#server?.close();
  }
}
