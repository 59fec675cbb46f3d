import {
  asBlocks,
  type Content,
  clipped,
  countOf,
  type Media,
  type Message,
  type NoteKind,
  type Param,
  type PasteStyle,
  parseEnum,
  pasteStyles,
  picturesIn,
} from '../content/index.ts';
import type { Drawer, Settings, Snippet } from '../drawer/index.ts';
import { type Insertion, type Side, type Spread, sides, spreads } from '../formats/index.ts';
import { type LinkedInsertion, linkedRequests, type PasteRequest, type PasteResult } from '../node/index.ts';
import type { Context } from './context.ts';
import { findPlace } from './gather.ts';
import { remarkNotes } from './notes.ts';

/** What the commands that put something into files can be told. */
export interface InsertOptions {
  readonly into?: readonly string[];
  readonly side?: string;
  readonly style?: string;
  readonly spread?: string;
  readonly over?: boolean;
  readonly asWords?: boolean;
  readonly author?: string;
  /** Whether each snippet lands in a bookmark of its own, to be renewed there later. */
  readonly linked?: boolean;
  readonly preview?: boolean;
  readonly quiet?: boolean;
  readonly json?: boolean;
}

export interface InsertContent {
  readonly content: Content;
  readonly pieces: readonly Content[];
  readonly media: Media;
  /** How numbers and dates are written in each piece. */
  readonly languages: readonly (string | undefined)[];
}

/** Checks the choices before anything is read. @throws DrawerError `usage` */
export function checkInsertOptions({ side, style, spread }: InsertOptions): void {
  if (side !== undefined) parseEnum('side', side, sides);
  if (style !== undefined) parseEnum('style', style, pasteStyles);
  if (spread !== undefined) parseEnum('spread', spread, spreads);
}

/** How content lands, in whatever pieces. */
const landingOf = (
  { side, style, author, over }: InsertOptions,
  settings: Settings,
  { now }: Context,
): LinkedInsertion => ({
  style: (style as PasteStyle | undefined) ?? settings.style,
  ...(side !== undefined && { side: side as Side }),
  ...(author !== undefined && { author, date: now.toISOString() }),
  ...(over && { over }),
});

/** What is to land in each of the places. */
export async function insertRequests(
  places: readonly string[],
  { content, pieces, media, languages }: InsertContent,
  options: InsertOptions,
  settings: Settings,
  context: Context,
): Promise<PasteRequest[]> {
  const { spread, asWords } = options;
  return Promise.all(
    places.map(async (words) => {
      const place = await findPlace(words);
      const insertion: Insertion = {
        content,
        media,
        pieces,
        languages,
        ...landingOf(options, settings, context),
        ...(spread !== undefined && { spread: spread as Spread }),
        ...(asWords && { asWords }),
      };
      return { place, insertion };
    }),
  );
}

/** The same for snippets that land one by one, each in a bookmark of its own. */
export async function linkedRequestsOf(
  drawer: Drawer,
  places: readonly string[],
  snippets: readonly Snippet[],
  options: InsertOptions,
  settings: Settings,
  context: Context,
): Promise<PasteRequest[]> {
  const insertion = landingOf(options, settings, context);
  const requests: PasteRequest[] = [];
  for (const words of places)
    requests.push(...(await linkedRequests(drawer, snippets, await findPlace(words), insertion)));
  return requests;
}

/** `Pasted 3 snippets into application.docx, after Background: 212 words, 1 table`, and what else there is to know. */
export async function reportInserted(
  landed: readonly PasteResult[],
  what: Param,
  pasted: Pasted,
  { preview, quiet, json }: InsertOptions,
  context: Context,
): Promise<void> {
  const { print, remark } = context;
  const words = await context.words.load();
  const told = landed.map((each) => ({
    ...each,
    where: words.part(each.where),
    replaced: each.replaced === undefined ? undefined : words.value(each.replaced),
  }));
  if (json) return print(JSON.stringify({ ...(preview && { preview: true }), landed: told }, null, 2));
  if (quiet && !preview) return;
  for (const [index, each] of landed.entries()) {
    const { file, isNew } = each;
    const { where, replaced } = told[index] ?? {};
    // Cells of a sheet are quoted one by one already.
    const gone = replaced === undefined || each.where.kind === 'landed.cells' ? replaced : quoted(replaced);
    print(
      words.tell('pastedFile', {
        done: words.tell(preview ? 'verb.wouldPaste' : 'verb.pasted'),
        what,
        file,
        new: isNew ? words.tell('isNew') : '',
        place: each.where.kind === 'landed.newFile' ? '' : words.tell('atPlace', { place: where ?? '' }),
        size: words.list(sizeOf(pasted, each).map((size) => words.part(size))),
        gone: gone === undefined ? '' : words.tell(preview ? 'wouldReplace' : 'replaced', { replaced: gone }),
      }),
    );
  }
  for (const { file, pictures } of landed)
    if (pictures !== undefined)
      remark(words.tell(preview ? 'picturesWouldBe' : 'picturesAre', { file, folder: pictures }));
  await remarkNotes(
    landed.flatMap(({ notes }) => notes),
    'noted',
    context,
  );
}

interface Pasted {
  readonly content: Content;
  readonly snippets: readonly Snippet[];
}

/** `231 words, 2 tables, 1 picture`: what there is of it where it landed. */
export function sizeOf(
  { content, snippets }: Pasted,
  { cells, notes }: Pick<PasteResult, 'cells' | 'notes'> = { notes: [] },
): readonly Message[] {
  const words = snippets.reduce((sum, { facts }) => sum + facts.words, 0);
  const left = notes.reduce((sum, { kind, count }) => sum + (isPictureLeft(kind) ? count : 0), 0);
  const pictures = [...picturesIn(content)].length - left;
  const tables = cells === undefined ? asBlocks(content).filter(({ type }) => type === 'table').length : 0;
  const amounts = [
    [words, 'words'],
    [tables, 'tables'],
    [pictures, 'pictures'],
  ] as const;
  const some = amounts.filter(([count]) => count > 0);
  return (some.length > 0 ? some : amounts.slice(0, 1)).map(([count, unit]) => countOf(unit, count));
}

const isPictureLeft = (kind: NoteKind): boolean => kind === 'picture-without-cell' || kind === 'picture-not-in-cells';

const quoted = (words: string): string => `“${clipped(words.replace(/\s+/g, ' ').trim(), 60)}”`;
