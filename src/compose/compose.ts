import { asBlocks, type Content, DrawerError, type Note, shiftHeadings } from '../content/index.ts';
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
 * @throws DrawerError `usage` where a join cannot be made of what there is.
 */
export function compose(snippets: readonly Composable[], options: ComposeOptions = {}): Composed {
  const notes: Note[] = [];
  const pieces = tidied(ordered(snippets, options), options.tidy ?? [])
    .map((piece, index): Piece => ({ ...piece, number: index + 1 }))
    .map((piece, _, all) => surround(piece, all.length, options))
    .map((piece) => attribute(piece, options));
  const joined = joinPieces(pieces, options, notes);
  const totalled = withTotals(joined, pieces, options);
  const content = followedBy(totalled, options.attribution === 'list' ? sourceList(pieces) : []);
  return {
    content: options.headingLevel === undefined ? content : shiftHeadings(content, options.headingLevel),
    pieces: pieces.map((piece) => piece.content),
    notes,
  };
}

const followedBy = (content: Content, blocks: ReturnType<typeof sourceList>): Content =>
  blocks.length === 0 ? content : { shape: 'blocks', blocks: [...asBlocks(content), ...blocks] };

/** A choice by its name. @throws DrawerError `usage` */
export function choose<T extends string>(what: string, name: string, choices: readonly T[]): T {
  const found = choices.find((choice) => choice === name);
  if (found !== undefined) return found;
  throw new DrawerError({ code: 'usage', what: `“${name}” is no ${what}`, next: `Choose ${choices.join(', ')}` });
}
