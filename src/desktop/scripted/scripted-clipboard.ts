import { type ChildProcessWithoutNullStreams, spawn } from 'node:child_process';
import { createInterface } from 'node:readline';
import { DrawerError } from '../../content/index.ts';
import {
  type Copied,
  type DesktopClipboard,
  type Forms,
  mostBytes,
  type Offer,
  type Offering,
  type Program,
} from '../clipboard.ts';

/** How long the system may take to answer, in milliseconds. */
const patience = 5_000;
/** How often it is asked whether something was copied, in milliseconds. */
const askedEvery = 500;

/** A system whose clipboard is reached by a script of ours, in a scripting host that it comes with. */
export interface ScriptedSystem {
  readonly name: string;
  /** The host with the script. */
  readonly command: readonly [program: string, ...words: string[]];
  /** Its names for forms by those that other systems have for them, and what its way of writing them takes. */
  readonly forms: ReadonlyMap<string, FormHere>;
}

export interface FormHere {
  readonly name: string;
  /** A hint that is given: one that is read keeps the name that the system has for it. */
  readonly isOnlyWritten?: true;
  /** From how the system has it, where that is not plain. */
  read?(bytes: Uint8Array): Uint8Array;
  /** To how the system has it. */
  write?(bytes: Uint8Array): Uint8Array;
}

/** What the script is asked, a line of JSON each; bytes are in Base64. */
type Question =
  | { readonly ask: 'count' }
  | { readonly ask: 'forms' }
  | { readonly ask: 'read'; readonly form: string }
  | { readonly ask: 'offer'; readonly forms: Readonly<Record<string, string>> };

/** What it answers, a line each, in order. */
interface Answer {
  /** Another number after each change. */
  readonly count?: number;
  readonly forms?: readonly string[];
  readonly program?: Program;
  readonly bytes?: string;
  /** In words of the system, where it could not be done. */
  readonly problem?: string;
}

/** The clipboard of a system that is asked in turns whether something was copied, and keeps what is put there itself. */
export class ScriptedClipboard implements DesktopClipboard {
  readonly system: string;
  readonly hearsPastes = false;
  readonly ended: Promise<void>;
  readonly #forms: ReadonlyMap<string, FormHere>;
  readonly #host: ChildProcessWithoutNullStreams;
  readonly #answers: ((line: string) => void)[] = [];
  readonly #listeners = new Set<() => void>();
  readonly #gone = new Set<() => void>();
  #count: number | undefined;
  #timer: ReturnType<typeof setTimeout> | undefined;

  /** @throws DrawerError `storage` where the host is not there */
  static async open(system: ScriptedSystem): Promise<ScriptedClipboard> {
    const clipboard = new ScriptedClipboard(system);
    clipboard.#count = (await clipboard.#ask({ ask: 'count' })).count;
    clipboard.#askAgain();
    return clipboard;
  }

  private constructor({ name, command: [program, ...words], forms }: ScriptedSystem) {
    this.system = name;
    this.#forms = forms;
    this.#host = spawn(program, words);
    this.#host.stdin.on('error', () => {}); // it has ended; `ended` tells
    createInterface({ input: this.#host.stdout }).on('line', (line) => this.#answers.shift()?.(line));
    this.ended = new Promise((end) => {
      for (const event of ['error', 'close']) this.#host.on(event, () => end());
    });
  }

  async #ask(question: Question): Promise<Answer> {
    const answered = new Promise<string>((answer) => {
      this.#answers.push(answer);
    });
    this.#host.stdin.write(`${JSON.stringify(question)}\n`);
    let timer: ReturnType<typeof setTimeout> | undefined;
    const late = new Promise<'late'>((end) => {
      timer = setTimeout(end, patience, 'late');
    });
    const line = await Promise.race([answered, late, this.ended]);
    clearTimeout(timer);
    if (line === undefined) throw new DrawerError('storage/clipboard-program', { program: this.#host.spawnfile });
    if (line === 'late') throw new DrawerError('storage/clipboard-mute', { seconds: patience / 1000 });
    const answer = JSON.parse(line) as Answer;
    if (answer.problem === undefined) return answer;
    throw new DrawerError('storage/clipboard-not-given', { system: this.system }, { cause: answer.problem });
  }

  #askAgain(): void {
    this.#timer = setTimeout(async () => {
      try {
        const { count } = await this.#ask({ ask: 'count' });
        if (count !== this.#count) this.#changed(count);
      } catch (error) {
        if (!DrawerError.is(error)) throw error; // it is asked again
      }
      if (this.#timer !== undefined) this.#askAgain();
    }, askedEvery);
  }

  #changed(count: number | undefined): void {
    this.#count = count;
    for (const end of [...this.#gone]) end();
    for (const hear of [...this.#listeners]) hear();
  }

  async copied(): Promise<Copied | undefined> {
    const { forms = [], program } = await this.#ask({ ask: 'forms' });
    if (forms.length === 0) return undefined;
    const known = new Map(
      [...this.#forms].flatMap(([form, { name, isOnlyWritten }]) => (isOnlyWritten ? [] : [[name, form]])),
    );
    return {
      forms: forms.map((name) => known.get(name) ?? name),
      ...(program && { program }),
      read: (form) => this.#read(form),
    };
  }

  async #read(form: string): Promise<Uint8Array | undefined> {
    const here = this.#forms.get(form);
    const { bytes } = await this.#ask({ ask: 'read', form: here?.name ?? form });
    if (bytes === undefined) return undefined;
    const held = Buffer.from(bytes, 'base64');
    if (held.length > mostBytes) throw new DrawerError('too-large/clipboard-large', { most: mostBytes / 2 ** 20 });
    return here?.read ? here.read(held) : held;
  }

  async watch(onCopy: () => void): Promise<() => void> {
    this.#listeners.add(onCopy);
    return () => void this.#listeners.delete(onCopy);
  }

  async offer({ forms }: Offering): Promise<Offer> {
    const { count } = await this.#ask({ ask: 'offer', forms: this.#written(forms) });
    for (const end of [...this.#gone]) end();
    this.#count = count;
    let lose: () => void = () => {};
    const gone = new Promise<void>((lost) => {
      lose = lost;
    });
    const ended = (): void => {
      this.#gone.delete(ended);
      lose();
    };
    this.#gone.add(ended);
    const end = (): void => {
      if (this.#gone.has(ended)) void this.#ask({ ask: 'offer', forms: {} }).then(ended, ended);
    };
    return { gone, isKept: true, end };
  }

  /** Only what the system has a name for, and our own. */
  #written(forms: Forms): Readonly<Record<string, string>> {
    const written: Record<string, string> = {};
    for (const [form, bytes] of forms) {
      const here = this.#forms.get(form);
      if (here) written[here.name] = Buffer.from(here.write ? here.write(bytes) : bytes).toString('base64');
    }
    return written;
  }

  async close(): Promise<void> {
    clearTimeout(this.#timer);
    this.#timer = undefined;
    this.#host.stdin.end();
    await this.ended;
  }
}
