import { DrawerError } from '../content/index.ts';
import type { PassphraseOf } from '../node/index.ts';
import type { CommandWords } from './command-words.ts';

/** The environment of a command: its output, its input and its drawer. */
export interface Context {
  /** Prints a result to standard output. */
  print(text: string): void;
  /** Prints a remark to standard error. */
  remark(text: string): void;
  /** Shows progress on one line, which the next call replaces; the empty string clears it. */
  progress(text: string): void;
  /** Reads all of standard input. */
  readInput(): Promise<Uint8Array>;
  /** Asks a yes-or-no question; `undefined` if nobody can be asked. */
  readonly ask: ((question: string) => Promise<boolean>) | undefined;
  /** Asks for input that is not echoed; `undefined` if nobody can be asked. */
  readonly askSecret: ((question: string) => Promise<string>) | undefined;
  /** Returns the passphrase of a locked drawer; '' is the command's own drawer. */
  readonly passphraseOf: PassphraseOf;
  /** The terminal's screen; `undefined` if there is none. */
  readonly terminal: Terminal | undefined;
  /** The width of lines, in columns. */
  readonly width: number;
  /** Whether results go to a terminal with 24-bit colours, and colours are not switched off (NO_COLOR). */
  readonly colourful: boolean;
  /** Whether standard error is a terminal. */
  readonly interactive: boolean;
  readonly now: Date;
  /** The words of the command's language. */
  readonly words: CommandWords;
  readonly environment: Readonly<Record<string, string | undefined>>;
  /** The drawer's file; `undefined` for the user's own. */
  readonly drawerPath: string | undefined;
  /** Whether `--drawer` names the drawer; then it must exist, unless something is gathered into it. */
  readonly namesDrawer: boolean;
}

/** An interactive terminal. It is drawn through standard error, so that results stay separate. */
export interface Terminal {
  readonly input: NodeJS.ReadStream;
  write(text: string): void;
  size(): { readonly columns: number; readonly rows: number };
}

export interface ProcessLike {
  readonly stdin: NodeJS.ReadStream;
  readonly stdout: { write(text: string): unknown; readonly columns?: number; readonly isTTY?: boolean };
  readonly stderr: {
    write(text: string): unknown;
    readonly isTTY?: boolean;
    readonly columns?: number;
    readonly rows?: number;
  };
  readonly env: Readonly<Record<string, string | undefined>>;
}

/**
 * Creates a context. Properties of the terminal are read when they are needed, because Node loads its streams only then.
 * @param drawerOption - the value of `--drawer`; without it, the variable `DRAWER` counts
 */
export function createContext(process: ProcessLike, drawerOption: string | undefined, words: CommandWords): Context {
  const isAttended = (): boolean => process.stderr.isTTY === true && process.stdin.isTTY;
  let isAsking = false;
  const asking = async <T>(answer: Promise<T>): Promise<T> => {
    isAsking = true;
    try {
      return await answer;
    } finally {
      isAsking = false;
    }
  };
  let passphraseOf: PassphraseOf | undefined;
  return {
    print: (text) => void process.stdout.write(`${visible(text, process.stdout.isTTY === true)}\n`),
    remark: (text) => void process.stderr.write(`${visible(text, true)}\n`),
    progress: (text) => {
      if (!isAsking) process.stderr.write(`\r\u001b[K${visible(text, true)}`);
    },
    readInput: () => readAll(process.stdin),
    get ask() {
      return isAttended() ? (question: string) => asking(ask(process, question, words)) : undefined;
    },
    get askSecret() {
      return isAttended() ? (question: string) => asking(askSecret(process, question)) : undefined;
    },
    get passphraseOf() {
      passphraseOf ??= passphrasesFrom(this);
      return passphraseOf;
    },
    get terminal() {
      return isAttended() ? terminalOf(process) : undefined;
    },
    get width() {
      return process.stdout.columns || Number(process.env.COLUMNS) || 100; // an unknown width is 0
    },
    get colourful() {
      return (
        process.stdout.isTTY === true &&
        !process.env.NO_COLOR &&
        /^(?:truecolor|24bit)$/.test(process.env.COLORTERM ?? '')
      );
    },
    get interactive() {
      return process.stderr.isTTY === true;
    },
    now: new Date(),
    words,
    environment: process.env,
    namesDrawer: Boolean(drawerOption),
    drawerPath: drawerOption || process.env.DRAWER || undefined,
  };
}

const terminalOf = ({ stdin, stderr }: ProcessLike): Terminal => ({
  input: stdin,
  write: (text) => void stderr.write(text),
  size: () => ({ columns: stderr.columns ?? 80, rows: stderr.rows ?? 24 }),
});

async function readAll(input: NodeJS.ReadStream): Promise<Uint8Array> {
  const chunks: Uint8Array[] = [];
  for await (const chunk of input) chunks.push(chunk as Uint8Array);
  return new Uint8Array(Buffer.concat(chunks));
}

/** Asks a question; anything but a yes is a no. */
async function ask({ stdin, stderr }: ProcessLike, question: string, words: CommandWords): Promise<boolean> {
  const { createInterface } = await import('node:readline/promises');
  const reader = createInterface({ input: stdin, output: stderr as NodeJS.WritableStream });
  try {
    const answer = await reader.question(`${visible(question, true)} ${words.tell('yesOrNo')} `);
    return /^(?:y|yes|j|ja|نعم)$/i.test(answer.trim());
  } finally {
    reader.close();
  }
}

/** Reads a line without echoing it. */
async function askSecret({ stdin, stderr }: ProcessLike, question: string): Promise<string> {
  const { createInterface } = await import('node:readline/promises');
  const { Writable } = await import('node:stream');
  const silent = new Writable({ write: (_, __, done) => done() });
  const reader = createInterface({ input: stdin, output: silent, terminal: true });
  try {
    stderr.write(`${visible(question, true)}: `);
    return await reader.question('');
  } finally {
    reader.close();
    stderr.write('\n');
  }
}

/** Asks for a new passphrase twice. @throws DrawerError `command-passphrases-differ` */
export async function askNewPassphrase(
  ask: NonNullable<Context['askSecret']>,
  words: Context['words'],
): Promise<string> {
  const passphrase = await ask(words.tell('newPassphrase'));
  if ((await ask(words.tell('sameAgain'))) !== passphrase) throw new DrawerError('usage/command-passphrases-differ');
  return passphrase;
}

/** The variable that holds the passphrase of a locked drawer. */
export const passphraseVariable = 'DRAWER_PASSPHRASE';

/** Returns passphrases from the variable or from the terminal, asking once per drawer; '' is the command's own. */
export function passphrasesFrom({
  environment,
  askSecret,
  words,
}: Pick<Context, 'environment' | 'askSecret' | 'words'>): PassphraseOf {
  const given = new Map<string, string>();
  return async (file, problem, tried) => {
    const known = given.get(file) ?? environment[passphraseVariable];
    if (known !== undefined && tried === undefined) return known;
    if (given.has(file)) throw problem;
    if (!askSecret) throw problem;
    const passphrase = await askSecret(file === '' ? words.tell('passphrase') : words.tell('passphraseOf', { file }));
    given.set(file, passphrase);
    return passphrase;
  };
}

/** Control characters but tab and line end: C0, delete and C1 (ISO/IEC 6429), with which text steers a terminal. */
const controls = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/g;
/** Characters that turn the direction of what follows them, so that names can look like others (Unicode, UAX #9, 2.1 to 2.4). */
const turning = /[\u202a-\u202e\u2066-\u2069]/g;

/** A line of a picture as `drawPicture` makes it: half blocks in colours, and nothing else. */
const drawnLine = /^ *(?:(?:\u001b\[38;2;\d+;\d+;\d+;(?:49|48;2;\d+;\d+;\d+)m)?▀)+\u001b\[0m$/;

/**
 * Text as a terminal may be handed it: whatever would steer it stands there as an escape such as `\u001b`, which JSON reads as
 * the same character.
 * @param isForPeople - whether characters that turn its direction are shown so too; documents may need them
 */
export function visible(text: string, isForPeople: boolean): string {
  const plain = text.split('\n').map(plainLine).join('\n');
  return isForPeople ? plain.replace(turning, escaped) : plain;
}

const plainLine = (line: string): string => (drawnLine.test(line) ? line : line.replace(controls, escaped));

const escaped = (sign: string): string => `\\u${(sign.codePointAt(0) ?? 0).toString(16).padStart(4, '0')}`;
