#!/usr/bin/env node
import { CommanderError } from 'commander';
import { DrawerError } from '../content/index.ts';
import { type CommandWords, commandWords } from './command-words.ts';
import { visible } from './context.ts';
import { createProgram, usageProblem } from './program.ts';

const exitCodes = { done: 0, failed: 1, usage: 2, nothingMatched: 3 } as const;

/** `-3` is a reference, and `-#row=2` a place of standard input, where others would see options; and `help copy` is another way to say `copy --help`. */
function commandLine(): string[] {
  const [node = '', script = '', ...words] = process.argv;
  const [first, second] = words;
  if (first === 'help') return [node, script, ...(second === undefined ? [] : [second]), '--help'];
  return [node, script, ...words.map(notAnOption)];
}

const notAnOption = (word: string): string =>
  /^-\d{1,9}$/.test(word) ? `1${word}` : word.startsWith('-#') ? `%2D${word.slice(1)}` : word;

async function run(): Promise<number> {
  const line = commandLine();
  const words = await commandWords(process.env);
  try {
    if (line[2] === '--version') {
      process.stdout.write(`drawer ${process.env.DRAWER_VERSION}\n`);
      return exitCodes.done;
    }
    await createProgram(line[2], words).parseAsync(line);
    return exitCodes.done;
  } catch (error) {
    if (!(error instanceof CommanderError)) return report(error, words);
    if (error.exitCode === 0) return exitCodes.done;
    process.stderr.write(visible(`${usageProblem(error, words)}\n${words.tell('seeHelp')}\n`, true));
    return exitCodes.usage;
  }
}

async function report(error: unknown, words: CommandWords): Promise<number> {
  if (DrawerError.is(error)) {
    process.stderr.write(visible(`drawer: ${(await words.load()).error(error)}\n`, true));
    if (error.code === 'usage' || error.code === 'invalid') return exitCodes.usage;
    return error.code === 'not-found' || error.code === 'ambiguous' ? exitCodes.nothingMatched : exitCodes.failed;
  }
  const detail =
    process.env.DRAWER_DEBUG && error instanceof Error
      ? error.stack
      : error instanceof Error
        ? error.message
        : String(error);
  const what = `drawer: ${words.tell('wentWrong', { detail: detail ?? '' })}\n`;
  process.stderr.write(visible(what, true));
  return exitCodes.failed;
}

// The database package has Node report on the whole process to tell one C library from another: without the network's
// interfaces that takes a fraction of the time.
Object.assign(process.report ?? {}, { excludeNetwork: true });

// Where files may not grow past a size, the system would end the program at once; heard, it is an error like any other.
process.on('SIGXFSZ', () => {});

// A reader that closes the pipe early (as head does) has what it wants.
process.stdout.on('error', (error: NodeJS.ErrnoException) =>
  process.exit(error.code === 'EPIPE' ? exitCodes.done : exitCodes.failed),
);
void run().then((code) => {
  process.exitCode = code;
});
