import type { TemplateResult } from 'lit';
import type { Content, LandingStyle, Media } from '../../content/index.ts';
import type { Listed } from '../../drawer/index.ts';
import type { PhraseName, Words } from '../../messages/index.ts';
import type { PanelModel } from './model.ts';

/** What deeds and sheets are handed by the panel. */
export interface PanelHost {
  readonly model: PanelModel;
  readonly words: Words;
  /** How words end and dates are written, a BCP 47 tag. */
  readonly language: string;
  /** Puts content where the caret last was; gives the name of that place. */
  land(content: Content, media: Media, style?: LandingStyle): Promise<string>;
  /** Says one short fact, for eyes and for screen readers. */
  say(fact: string): void;
  /** Runs what somebody asked for; what goes wrong is said. */
  attempt(work: () => Promise<unknown>): Promise<void>;
  /** Pulls a sheet over the tray, or puts it away. */
  open(sheet: Sheet | undefined): void;
  redraw(): void;
}

/** Something laid over the tray: a form with its own title. */
export interface Sheet {
  readonly title: string;
  render(): TemplateResult;
}

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
