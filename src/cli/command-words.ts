import type { DrawerError, Message, NoteKind, Params } from '../content/index.ts';
import {
  type Catalogue,
  type CommandName,
  type CommandPhrases,
  catalogueFor,
  english,
  englishCommand,
  type NoteHints,
  type Phrase,
  Words,
} from '../messages/index.ts';

/** What the command says, in the language of its terminal. */
export class CommandWords extends Words {
  readonly #phrases: CommandPhrases;

  constructor(catalogue: Catalogue, phrases: CommandPhrases) {
    super(catalogue, phrases);
    this.#phrases = phrases;
  }

  /** A phrase of the command's own with its values filled in; `count` decides the form. */
  tell(name: CommandName, values: Params = {}): string {
    return this.fill(this.#phrases[name], values);
  }

  /** An error in full, with what to do next in a terminal. */
  override error(error: DrawerError): string {
    const key = alike[error.reason] ?? error.reason;
    const all: { readonly [name: string]: Phrase } = this.#phrases;
    const hints = [all[`hint.${key}`], all[`hint.${key}.none`]].filter((each) => each !== undefined);
    return super.error(error, hints.length > 0 ? { [error.reason]: hints } : {});
  }

  /** What a terminal adds to notes. */
  get noteHints(): NoteHints {
    const own = Object.entries(this.#phrases).flatMap(([name, phrase]) =>
      name.startsWith('noteHint.') ? [[name.slice('noteHint.'.length) as NoteKind, String(phrase)] as const] : [],
    );
    return Object.fromEntries(own);
  }
}

/** `3 snippets`, as a part of a sentence. */
export const snippetCount = (count: number): Message => ({ kind: 'slipCount', params: { count } });

/** Reasons that are met in the same way as others. */
const alike: { readonly [reason: string]: string } = {
  'last-gather-gone': 'reference-fits-none',
  'drawer-nearly-full': 'drawer-full',
  'drawer-bytes-full': 'drawer-full',
  'undo-file-gone': 'undo-file-changed',
  'undo-bytes-damaged': 'undo-bytes-missing',
  'command-from-and-place': 'command-to-without-from',
};

/**
 * The words of the language that the terminal is set to (POSIX, section 8.2: `LC_ALL`, `LC_MESSAGES`, `LANG`), or that the
 * variable `DRAWER_LANGUAGE` names; English where there is none of it.
 */
export async function commandWords(environment: Readonly<Record<string, string | undefined>>): Promise<CommandWords> {
  const { DRAWER_LANGUAGE, LC_ALL, LC_MESSAGES, LANG } = environment;
  const [locale = ''] = (DRAWER_LANGUAGE || LC_ALL || LC_MESSAGES || LANG || '').split(/[.@]/);
  if (/^(?:en\b.*|C|POSIX|)$/.test(locale.replace('_', '-'))) return new CommandWords(english, englishCommand);
  const catalogue = await catalogueFor(locale.replaceAll('_', '-'));
  return new CommandWords(catalogue, (await catalogue.command?.()) ?? englishCommand);
}
