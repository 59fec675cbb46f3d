import type { TemplateResult } from 'lit';
import { type Content, DrawerError, type Media, type PasteStyle } from '../../content/index.ts';
import type { KeepResult, Listed } from '../../drawer/index.ts';
import type { Hints, PhraseName, Words } from '../../messages/index.ts';
import type { PanelModel } from './model.ts';
import type { SourceMarks } from './sources.ts';

/** The keys of commands, such as `Alt+Shift+P`; the empty string for none. */
export interface KeyNames {
  words(id: string): string;
}

/** The services of the panel for its commands and sheets. */
export interface PanelHost {
  readonly model: PanelModel;
  readonly words: Words;
  readonly keymap: KeyNames;
  /** The files that snippets can be renewed from, if there are any. */
  readonly sources: SourceMarks | undefined;
  /** The language of word breaks and dates, a BCP 47 tag. */
  readonly language: string;
  /** Inserts content where the caret last was; returns the name of that target. */
  land(content: Content, media: Media, style?: PasteStyle): Promise<string>;
  /** Puts content on the clipboard. @param isSecret - whether clipboard managers are asked not to keep it */
  copyHandler(content: Content, media: Media, isSecret: boolean): Promise<void>;
  /** Asks the page to preview content at its target; returns whether the page can. */
  preview(content: Content, media: Media, style: PasteStyle): boolean;
  /** Shows and announces a short message. */
  say(fact: string): void;
  /** Runs what the user asked for, and reports errors. */
  attempt(work: () => Promise<unknown>): Promise<void>;
  /** Opens a sheet over the tray, or closes it. */
  open(sheet: Sheet | undefined): void;
  redraw(): void;
}

/** A form with a title, shown over the tray. */
export interface Sheet {
  readonly title: string;
  render(): TemplateResult;
  /** Called when it is closed or replaced. */
  closed?(): void;
}

/** The events of the panel; they bubble and cross shadow roots. */
export interface PanelEvents {
  /** A snippet was gathered and reported to the panel; with the result of keeping it. */
  'drawer-keep': CustomEvent<KeepResult>;
  /** Content is about to be pasted. If the page cancels it, nothing is pasted or announced, and the sequence does not move. */
  'drawer-paste': CustomEvent<{ readonly content: Content; readonly media: Media; readonly style: PasteStyle }>;
  /** The selection has changed; with the ids in the order of choosing. */
  'drawer-selectionchange': CustomEvent<readonly string[]>;
  /** An error occurred and is shown. */
  'drawer-error': CustomEvent<unknown>;
  /** A message is shown; with its words. */
  'drawer-say': CustomEvent<string>;
}

/** Thrown when the page cancels an action. */
export class Cancelled extends Error {}

/** A refusal of the panel itself, by the name of its phrase. */
export class Refusal extends Error {
  readonly phrase: PhraseName;

  constructor(phrase: PhraseName) {
    super(phrase);
    this.phrase = phrase;
  }
}

/** The chosen slips, or the active one. @throws Refusal if there is none */
export async function subjectOf({ model }: PanelHost): Promise<readonly Listed[]> {
  const slips = await model.subject();
  if (slips.length === 0) throw new Refusal('problem.needOne');
  return slips;
}

/** The message after pasting, with the target if it has a name. */
export const pastedInWords = (words: Words, count: number, place: string): string =>
  place === '' ? words.say('pasted', { count }) : words.say('pastedInto', { count, place });

/** The message for an error, with what to do next in the panel. */
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
