import type { TemplateResult } from 'lit';
import { type Content, DrawerError, type Media, type PasteStyle } from '../../content/index.ts';
import type { KeepResult, Listed } from '../../drawer/index.ts';
import type { Hints, PhraseName, Words } from '../../messages/index.ts';
import type { PanelModel } from './model.ts';
import type { SourceMarks } from './sources.ts';

/** The keys of commands, as people write them; the empty string for none. */
export interface KeyNames {
  words(id: string): string;
}

/** What the panel gives to its commands and sheets. */
export interface PanelHost {
  readonly model: PanelModel;
  readonly words: Words;
  readonly keymap: KeyNames;
  /** Where snippets can be renewed from, if there is such a place. */
  readonly sources: SourceMarks | undefined;
  /** How words end and dates are written, a BCP 47 tag. */
  readonly language: string;
  /** Puts content where the caret last was; gives the name of that place. */
  land(content: Content, media: Media, style?: PasteStyle): Promise<string>;
  /** Puts content on the clipboard; `isSecret` where nobody is to keep it who watches that. */
  copyHandler(content: Content, media: Media, isSecret: boolean): Promise<void>;
  /** Has the page show how content will look where it lands; tells whether the page can. */
  preview(content: Content, media: Media, style: PasteStyle): boolean;
  /** Says one short fact, for eyes and for screen readers. */
  say(fact: string): void;
  /** Runs what the user asked for, and reports errors. */
  attempt(work: () => Promise<unknown>): Promise<void>;
  /** Pulls a sheet over the tray, or puts it away. */
  open(sheet: Sheet | undefined): void;
  redraw(): void;
}

/** Something laid over the tray: a form with its own title. */
export interface Sheet {
  readonly title: string;
  render(): TemplateResult;
  /** Told when it is put away, or gives way to another. */
  closed?(): void;
}

/** What the panel tells its page, by events that bubble and pass shadow roots. */
export interface PanelEvents {
  /** Something was gathered and reported to the panel: the result of keeping it. */
  'drawer-keep': CustomEvent<KeepResult>;
  /** Content is about to be pasted. A page that cancels it has it neither pasted nor said, and the sequence stays where it is. */
  'drawer-paste': CustomEvent<{ readonly content: Content; readonly media: Media; readonly style: PasteStyle }>;
  /** Other snippets are chosen: their ids, in the order they were chosen. */
  'drawer-selectionchange': CustomEvent<readonly string[]>;
  /** Something went wrong, and is said. */
  'drawer-error': CustomEvent<unknown>;
  /** The words of every message. */
  'drawer-say': CustomEvent<string>;
}

/** The page does not want something done. */
export class Cancelled extends Error {}

/** Something the panel itself has to say no to, by its name in the catalogue. */
export class Refusal extends Error {
  readonly phrase: PhraseName;

  constructor(phrase: PhraseName) {
    super(phrase);
    this.phrase = phrase;
  }
}

/** The slips chosen, or the one at hand. @throws Refusal when there is none. */
export async function subjectOf({ model }: PanelHost): Promise<readonly Listed[]> {
  const slips = await model.subject();
  if (slips.length === 0) throw new Refusal('problem.needOne');
  return slips;
}

/** What was pasted, and where; a place without a name is not told. */
export const pastedInWords = (words: Words, count: number, place: string): string =>
  place === '' ? words.say('pasted', { count }) : words.say('pastedInto', { count, place });

/** What went wrong, and what to do next in the panel. */
export async function problemInWords(words: Words, error: unknown): Promise<string> {
  if (error instanceof Refusal) return words.say(error.phrase);
  const problem = isQuota(error) ? new DrawerError('storage/browser-full', {}, { cause: error }) : error;
  if (!DrawerError.is(problem)) return words.say('problem.unknown');
  return (await words.load()).error(problem, hintsIn(words));
}

/** A browser that has no more room says so wherever it is asked to keep something. */
const isQuota = (error: unknown): boolean => error instanceof DOMException && error.name === 'QuotaExceededError';

function hintsIn({ catalogue: { phrases } }: Words): Hints {
  const [full, consent] = [phrases['hint.full'], phrases['hint.consent']];
  return {
    'drawer-full': full,
    'drawer-nearly-full': full,
    'drawer-bytes-full': full,
    'snippets-would-go': consent,
    'snippet-built-up': consent,
    'snippet-changed': phrases['hint.changed'],
    'drawer-newer': phrases['hint.newer'],
  };
}
