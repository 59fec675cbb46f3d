import { type ChildProcessWithoutNullStreams, spawn } from 'node:child_process';
import { setTimeout as pass } from 'node:timers/promises';
import { DrawerError } from '../../content/index.ts';
import { type Copied, type DesktopClipboard, mostBytes, type Offer, type Offering } from '../clipboard.ts';
import { X11Clipboard } from '../x11/x11-clipboard.ts';

/** How long a program may take to hand over what was copied, in milliseconds. */
const patience = 5_000;
/** By then `wl-paste` has ended where the compositor lets nobody watch, in milliseconds. */
const refusedWithin = 500;

type Environment = Readonly<Record<string, string | undefined>>;

/**
 * The clipboard of a Wayland compositor that lets programs without a window watch it (the protocol `wlr-data-control-unstable-v1`
 * or `ext-data-control-v1`), by the programs of the package wl-clipboard. Several forms can only be put there by way of an X
 * server within Wayland; without one it is words alone.
 */
export class WaylandClipboard implements DesktopClipboard {
  readonly system = 'Wayland';
  readonly hearsPastes: boolean;
  readonly ended: Promise<void>;
  readonly #environment: Environment;
  readonly #watching: ChildProcessWithoutNullStreams;
  readonly #listeners = new Set<() => void>();
  #bridge: X11Clipboard | undefined;

  /** @param told - how many of the lines it prints tell of nothing new */
  private constructor(environment: Environment, watching: ChildProcessWithoutNullStreams, told: number) {
    this.#environment = environment;
    this.hearsPastes = Boolean(environment.DISPLAY); // by way of the X server
    this.#watching = watching;
    this.ended = codeOf(watching).then(() => {});
    let known = told;
    watching.stdout.on('data', (lines: Buffer) => {
      for (const sign of lines) if (sign === lineEnd && known-- <= 0) for (const hear of [...this.#listeners]) hear();
    });
  }

  /** `undefined` where the compositor lets no program watch its clipboard. @throws DrawerError `storage` without wl-clipboard */
  static async open(environment: Environment): Promise<WaylandClipboard | undefined> {
    // It begins by telling of what is there already.
    const told = (await formsOn(environment)).length > 0 ? 1 : 0;
    const watching = run('wl-paste', ['--watch', 'echo'], environment);
    const clipboard = new WaylandClipboard(environment, watching, told);
    const first = new Promise((heard) => watching.stdout.once('data', heard));
    const isRefused = await Promise.race([
      clipboard.ended.then(() => true),
      (told === 0 ? pass(refusedWithin) : first).then(() => false),
    ]);
    return isRefused ? undefined : clipboard;
  }

  async copied(): Promise<Copied | undefined> {
    const forms = await formsOn(this.#environment);
    if (forms.length === 0) return undefined;
    return { forms, read: (form) => printed(this.#environment, '--no-newline', '--type', form) };
  }

  async watch(onCopy: () => void): Promise<() => void> {
    this.#listeners.add(onCopy);
    return () => void this.#listeners.delete(onCopy);
  }

  async offer(offering: Offering, onPasted?: () => void): Promise<Offer> {
    const { DISPLAY: display } = this.#environment;
    this.#bridge ??= display
      ? await X11Clipboard.open(display, { needsFocus: true }).catch(() => undefined)
      : undefined;
    const offer = await this.#bridge?.offer(offering, onPasted).catch(() => undefined);
    if (offer) return offer;
    const copying = run('wl-copy', ['--foreground', '--type', 'text/plain;charset=utf-8'], this.#environment);
    copying.stdin.end(offering.forms.get('UTF8_STRING') ?? new Uint8Array());
    return { gone: codeOf(copying).then(() => {}), isWordsAlone: true, end: () => void copying.kill() };
  }

  async close(): Promise<void> {
    this.#watching.kill();
    await this.#bridge?.close();
  }
}

const lineEnd = 10;

async function formsOn(environment: Environment): Promise<readonly string[]> {
  const lines = new TextDecoder().decode(await printed(environment, '--list-types')).split('\n');
  return [...new Set(lines.filter((line) => line !== ''))];
}

/** What `wl-paste` prints; `undefined` where it has nothing to print. @throws DrawerError `too-large`; `storage` */
async function printed(environment: Environment, ...words: string[]): Promise<Uint8Array | undefined> {
  const child = run('wl-paste', words, environment);
  const pieces: Buffer[] = [];
  let size = 0;
  let problem: DrawerError | undefined;
  const giveUp = (because: DrawerError): void => {
    problem = because;
    child.kill('SIGKILL');
  };
  const mute = new DrawerError('storage/clipboard-mute', { seconds: patience / 1000 });
  const timer = setTimeout(giveUp, patience, mute);
  child.stdout.on('data', (piece: Buffer) => {
    timer.refresh();
    pieces.push(piece);
    size += piece.length;
    if (size > mostBytes) giveUp(new DrawerError('too-large/clipboard-large', { most: mostBytes / 2 ** 20 }));
  });
  const code = await codeOf(child).finally(() => clearTimeout(timer));
  if (problem) throw problem;
  return code === 0 ? Buffer.concat(pieces) : undefined;
}

function run(program: string, words: readonly string[], environment: Environment): ChildProcessWithoutNullStreams {
  const child = spawn(program, words, { env: environment });
  child.stdin.on('error', () => {}); // it has ended before it read all
  return child;
}

/** What a program ended with. @throws DrawerError `storage` where it is not there */
const codeOf = (child: ChildProcessWithoutNullStreams): Promise<number | null> =>
  new Promise((ended, failed) => {
    child.on('close', ended);
    child.on('error', () => failed(new DrawerError('storage/clipboard-program', { program: child.spawnfile })));
  });
