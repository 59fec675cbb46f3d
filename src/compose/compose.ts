import {
  asBlocks,
  type Block,
  type Content,
  checkedCall,
  type Inline,
  joinText,
  type Marks,
  type Note,
  shiftHeadings,
  type Text,
  text,
  typedContent,
} from '../content/index.ts';
import type { Origin } from '../drawer/index.ts';
import { joinPieces } from './join.ts';
import {
  type Composable,
  type Composed,
  type ComposeOptions,
  type ComposeWords,
  type Piece,
  plainWords,
} from './options.ts';
import { ordered } from './order.ts';
import { findWords, surround } from './pattern.ts';
import { tidied } from './tidy.ts';
import { withTotals } from './totals.ts';

/**
 * Composes snippets to one content in this order: order, tidying, templates, attribution, join, totals, sources, headings. A
 * single snippet without options is returned as its own content, the same object. Composing is associative for the joins
 * `nothing`, `space`, `line` and any text on words, and for `paragraph` except on tables whose columns have to be matched;
 * `sentence`, `bullets`, `numbers`, `checks` and `rows` make something new of all pieces, so composing a result again nests.
 * @param snippets - in the order given, if `options.order` does not say otherwise
 * @throws DrawerError `usage` if the join cannot be made of the snippets; `invalid` for content or options that are not valid
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
  const content = followedBy(whole, options.attribution === 'list' ? sourceList(pieces, options) : []);
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

/** The piece with where it is from, in brackets or in a footnote behind its last words. */
export function attribute(piece: Piece, { attribution = 'none', words = plainWords }: ComposeOptions): Piece {
  const sources = sourcesOf(piece, words);
  if (sources.length === 0 || attribution === 'none' || attribution === 'list') return piece;
  const source = sources.flatMap((each, at) => (at === 0 ? [each] : [text('; '), each]));
  const added: readonly Inline[] =
    attribution === 'inline'
      ? [text(' ('), ...source, text(')')]
      : [{ type: 'footnote', blocks: [{ type: 'paragraph', inlines: source }] }];
  return { ...piece, content: behind(piece.content, added) };
}

function behind(content: Content, added: readonly Inline[]): Content {
  // Words, and a cell alone: one paragraph keeps its own kind below.
  const words = content.shape === 'blocks' ? undefined : findWords(content);
  if (words) return { shape: 'run', inlines: joinText([...words, ...added]) };
  const blocks = asBlocks(content);
  const last = blocks.at(-1);
  if (last?.type === 'paragraph' && last.inlines.length > 0)
    return {
      shape: 'blocks',
      blocks: [...blocks.slice(0, -1), { ...last, inlines: joinText([...last.inlines, ...added]) }],
    };
  const [first, ...rest] = added;
  const own = first?.type === 'text' ? [text(first.text.trimStart()), ...rest] : added;
  return { shape: 'blocks', blocks: [...blocks, { type: 'paragraph', inlines: joinText(own) }] };
}

/** Where the pieces are from, each source once, as a numbered list under a line that says what it is. */
export function sourceList(pieces: readonly Piece[], { words = plainWords }: ComposeOptions): Block[] {
  const sources = eachOnce(pieces.flatMap((piece) => sourcesOf(piece, words)));
  if (sources.length === 0) return [];
  return [
    { type: 'paragraph', inlines: [text(words.sources, { bold: true })] },
    {
      type: 'list',
      ordered: true,
      items: sources.map((source) => ({ blocks: [{ type: 'paragraph', inlines: [source] }] })),
    },
  ];
}

/** Where a piece is from, each source once: that of each of its parts, where it is built up of several. A page is linked to. */
function sourcesOf({ origin = {}, parts }: Piece, words: ComposeWords): Text[] {
  const origins = parts && parts.length > 0 ? parts.map((part) => part.origin) : [origin];
  const sources = origins.map((each) => text(words.source(each), linkOf(each)));
  return eachOnce(sources.filter((each) => each.text !== ''));
}

const eachOnce = (sources: readonly Text[]): Text[] => [...new Map(sources.map((each) => [each.text, each])).values()];

const linkOf = ({ url }: Origin): Marks => (url !== undefined && /^https?:/.test(url) ? { link: { href: url } } : {});
