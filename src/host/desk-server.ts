import { randomBytes, timingSafeEqual } from 'node:crypto';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Duplex } from 'node:stream';
import sirv from 'sirv';
import { WebSocketServer } from 'ws';
import { DrawerError } from '../content/index.ts';
import { deskClipboard } from './desk-clipboard.ts';
import { DrawerHost, type HostOptions } from './serve.ts';

/** Options of `serveDesk`. */
export interface DeskOptions extends Pick<HostOptions, 'open' | 'files'> {
  /** The folder of the desk's built page. */
  readonly page: string;
  /** On 127.0.0.1; one that is free where none is given. */
  readonly port?: number | undefined;
  /** The variables of the session whose clipboard it may gather from; without them it has none. */
  readonly session?: Readonly<Record<string, string | undefined>>;
  /** How long it goes on after the last window was closed, in milliseconds; without it, until it is stopped. */
  readonly endsAfter?: number | undefined;
}

/** A desk that is being served. */
export interface ServedDesk {
  /** The address that lets one browser in, once. */
  readonly address: string;
  /** Settles when it has ended, and the drawer is closed. */
  readonly ended: Promise<void>;
  /** Ends it when what it was asked for is done. */
  end(): Promise<void>;
}

/** Of one message, in bytes: files travel whole. */
const longest = 2 ** 30;

/** The page runs its own scripts only, shows pictures of its own or those it made, and is shown in no other page. */
const policyOf = (port: number): string =>
  [
    "default-src 'none'",
    "script-src 'self'",
    "worker-src 'self'",
    "style-src 'self'",
    "style-src-attr 'unsafe-inline'", // documents and editors set looks on elements
    "img-src 'self' data: blob:",
    "font-src 'self'",
    `connect-src 'self' ws://127.0.0.1:${port} data: blob:`, // some browsers do not count sockets among 'self'
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ].join('; ');

/**
 * Serves a drawer and its desk to the browsers of one person at this computer. Only who has been let in by its address gets an
 * answer: the address holds a random key that works once; the browser keeps another in a cookie that no script and no other
 * site sees, and that is bound to a random path, since cookies are shared by all ports.
 * @throws DrawerError `usage` where the port is taken
 */
export async function serveDesk({ page, port = 0, endsAfter, session, ...options }: DeskOptions): Promise<ServedDesk> {
  const door = new Door();
  let ending: NodeJS.Timeout | undefined;
  let ended: Promise<void> | undefined;
  const host = new DrawerHost({
    ...options,
    ...(session && {
      clipboard: (drawer, tell) => deskClipboard(session, (url) => door.isItsPage(url), drawer, tell),
    }),
    onConnected: (count) => {
      clearTimeout(ending);
      if (count === 0 && endsAfter !== undefined && !ended) ending = setTimeout(() => void end(), endsAfter);
    },
  });
  const files = sirv(page, { etag: true, setHeaders: (response) => setHeaders(response, door.port) });
  const server = createServer((request, response) => {
    if (!door.isHere(request)) return refuse(response, door.port, 421);
    if (door.letIn(request, response)) return;
    if (!door.knows(request)) return refuse(response, door.port, 403);
    request.url = door.inside(request);
    files(request, response, () => refuse(response, door.port, 404));
  });
  const sockets = new WebSocketServer({ noServer: true, maxPayload: longest });
  server.on('upgrade', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
    if (!door.isHere(request) || !door.isOwnPage(request) || !door.knows(request))
      return socket.end('HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n');
    sockets.handleUpgrade(request, socket, head, (client) => {
      client.on('error', () => client.terminate());
      host.accept(client, request.url ?? '');
    });
  });
  let tellEnded = (): void => {};
  const whenEnded = new Promise<void>((settled) => {
    tellEnded = settled;
  });
  const end = (): Promise<void> => {
    clearTimeout(ending);
    ended ??= host
      .close()
      .finally(() => closeServer(server, sockets))
      .finally(tellEnded);
    return ended;
  };
  door.port = await listen(server, port);
  return { address: door.address(), ended: whenEnded, end };
}

/** Who may come in. */
class Door {
  port = 0;
  /** Cookies go by host and path, not by port: no other server here is told one of a path that it cannot know. */
  readonly #path = `/${randomKey()}/`;
  readonly #key = randomKey();
  #ticket: string | undefined = randomKey();

  get #origin(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  address(): string {
    return `${this.#origin}${this.#path}?key=${this.#ticket}`;
  }

  /** Whether a request means this server by the one name that it has: another name may be any site's that leads here. */
  isHere({ headers }: IncomingMessage): boolean {
    return headers.host === `127.0.0.1:${this.port}`;
  }

  isItsPage(url: string): boolean {
    return url.startsWith(`${this.#origin}${this.#path}`);
  }

  /** Whether a connection is asked for by the desk's own page; programs that are no browser do not say. */
  isOwnPage({ headers }: IncomingMessage): boolean {
    return headers.origin === undefined || headers.origin === this.#origin;
  }

  /**
   * Gives the cookie to the first who comes with the ticket, and leads on to the page: by a page of its own, since a strict
   * cookie goes only with what a page of this server asks for.
   */
  letIn({ url = '', method }: IncomingMessage, response: ServerResponse): boolean {
    const { pathname, searchParams } = new URL(url, this.#origin);
    const key = searchParams.get('key');
    if (method !== 'GET' || pathname !== this.#path || key === null) return false;
    if (this.#ticket === undefined || !isSame(key, this.#ticket)) return false;
    this.#ticket = undefined;
    setHeaders(response, this.port);
    response.setHeader('Set-Cookie', `key=${this.#key}; Path=${this.#path}; HttpOnly; SameSite=Strict`);
    response.writeHead(200, { 'Content-Type': 'text/html; charset=utf-8' });
    response.end(
      `<!doctype html><title>Drawer</title><link rel="icon" href="data:,"><meta http-equiv="refresh" content="0;url=${this.#path}">`,
    );
    return true;
  }

  knows({ url = '', headers }: IncomingMessage): boolean {
    const given = /(?:^|; )key=([^;]*)/.exec(headers.cookie ?? '')?.[1];
    return url.startsWith(this.#path) && given !== undefined && isSame(given, this.#key);
  }

  /** What is asked for behind the random path. */
  inside({ url = '' }: IncomingMessage): string {
    return `/${url.slice(this.#path.length)}`;
  }
}

const randomKey = (): string => randomBytes(24).toString('base64url');

const isSame = (given: string, key: string): boolean =>
  given.length === key.length && timingSafeEqual(Buffer.from(given), Buffer.from(key));

function setHeaders(response: ServerResponse, port: number): void {
  response.setHeader('Content-Security-Policy', policyOf(port));
  response.setHeader('Referrer-Policy', 'no-referrer');
  response.setHeader('X-Content-Type-Options', 'nosniff');
  response.setHeader('Cross-Origin-Resource-Policy', 'same-origin');
  response.setHeader('Cross-Origin-Opener-Policy', 'same-origin');
  response.setHeader('Cache-Control', 'no-cache');
}

function refuse(response: ServerResponse, port: number, status: number): void {
  setHeaders(response, port);
  response.writeHead(status, { 'Content-Type': 'text/plain; charset=utf-8' }).end(`${status}\n`);
}

const listen = (server: Server, port: number): Promise<number> =>
  new Promise((listening, failed) => {
    server.once('error', (error: NodeJS.ErrnoException) =>
      failed(error.code === 'EADDRINUSE' ? new DrawerError('usage/port-taken', { port: String(port) }) : error),
    );
    server.listen(port, '127.0.0.1', () => listening((server.address() as AddressInfo).port));
  });

const closeServer = (server: Server, sockets: WebSocketServer): Promise<void> =>
  new Promise((closed) => {
    for (const client of sockets.clients) client.terminate();
    server.close(() => closed());
    server.closeAllConnections();
  });
