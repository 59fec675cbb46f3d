import {
  asBlocks,
  type Content,
  checkedCall,
  DrawerError,
  type Note,
  shiftHeadings,
  typedContent,
} from '../content/index.ts';
import { attribute, sourceList } from './attribution.ts';
import { joinPieces } from './join.ts';
import type { Composable, Composed, ComposeOptions, Piece } from './options.ts';
import { ordered } from './order.ts';
import { surround } from './pattern.ts';
import { tidied } from './tidy.ts';
import { withTotals } from './totals.ts';

/**
 * Many snippets as one content, in named steps: order, tidy, what stands around each, where each is from, joining, totals,
 * sources, headings. One snippet with nothing asked is its own content, the same object. Composing is associative for the
 * joins `nothing`, `space`, `line` and any text on words, and for `paragraph` on anything but tables that stack with columns
 * to be matched; `sentence`, `bullets`, `numbers`, `checks` and `rows` make something new of all at once, so that composing
 * what was composed nests.
 * @throws DrawerError `usage` where a join cannot be made of what there is; `invalid` for content or options that are none.
 */
export const compose = (snippets: readonly Composable[], options: ComposeOptions = {}): Composed =>
  checkedCall(() => composed(snippets, options));

function composed(snippets: readonly Composable[], options: ComposeOptions): Composed {
  const notes: Note[] = [];
  const pieces = readAlike(tidied(ordered(snippets, options), options.tidy ?? [], options.language), options, notes)
    .map((piece, index): Piece => ({ ...piece, number: index + 1 }))
    .map((piece, _, all) => surround(piece, all.length, options))
    .map((piece) => attribute(piece, options));
  const joined = joinPieces(pieces, options, notes);
  const parts = withTotals(joined, pieces, options, notes);
  const [only] = parts;
  const whole: Content =
    parts.length === 1 && only ? only : { shape: 'blocks', blocks: parts.flatMap((part) => asBlocks(part)) };
  const content = followedBy(whole, options.attribution === 'list' ? sourceList(pieces) : []);
  const isAsked = options.join !== undefined || options.totals !== undefined;
  const landing = isAsked ? (content === whole ? parts : [content]) : pieces.map((piece) => piece.content);
  const languages = pieces.map((piece) => languageOf(piece, options));
  const [common] = new Set(languages).size === 1 ? languages : [];
  return {
    content: options.headingLevel === undefined ? content : shiftHeadings(content, options.headingLevel),
    pieces: pieces.map((piece) => piece.content),
    parts: landing,
    languages: isAsked ? landing.map(() => common) : languages,
    notes,
  };
}

/** The language in which a piece's numbers and dates are read. */
const languageOf = ({ language }: Composable, options: ComposeOptions): string | undefined =>
  options.readAs ?? language ?? options.language;

/** Values are read where they are added up, and where ranges with typed cells and without meet: by each piece's language. */
function readAlike<S extends Composable>(pieces: readonly S[], options: ComposeOptions, notes: Note[]): readonly S[] {
  const kinds = new Set(pieces.flatMap(({ content }) => (content.shape === 'cells' ? [content.untyped === true] : [])));
  const languages = new Set(pieces.map((piece) => languageOf(piece, options)));
  if ((options.totals ?? []).length === 0 && kinds.size < 2 && languages.size < 2) return pieces;
  return pieces.map((piece) => {
    const needsValues = (options.totals ?? []).length > 0 || piece.content.shape === 'cells';
    return needsValues ? { ...piece, content: typedContent(piece.content, languageOf(piece, options), notes) } : piece;
  });
}

const followedBy = (content: Content, blocks: ReturnType<typeof sourceList>): Content =>
  blocks.length === 0 ? content : { shape: 'blocks', blocks: [...asBlocks(content), ...blocks] };

/** A choice by its name; `kind` is what is chosen, such as `order`. @throws DrawerError `choice-unknown`, `join-unknown` */
export function choose<T extends string>(kind: string, name: string, choices: readonly T[]): T {
  const found = choices.find((choice) => choice === name);
  if (found !== undefined) return found;
  const params = { name, kind: { kind: `choice.${kind}` }, choices };
  throw new DrawerError(kind === 'join' ? 'usage/join-unknown' : 'usage/choice-unknown', params);
}
