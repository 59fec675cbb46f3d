import { asBlocks, type Block, type Content, type Inline, joinText, text } from '../content/index.ts';
import { type Origin, originInWords } from '../drawer/index.ts';
import type { ComposeOptions, Piece } from './options.ts';
import { findWords } from './pattern.ts';

/** The piece with where it is from, in brackets or in a footnote behind its last words. */
export function attribute(piece: Piece, { attribution = 'none' }: ComposeOptions): Piece {
  const sources = sourcesOf(piece);
  if (sources.length === 0 || attribution === 'none' || attribution === 'list') return piece;
  const source = sources.flatMap((each, at) => (at === 0 ? sourceInlines(each) : [text('; '), ...sourceInlines(each)]));
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
export function sourceList(pieces: readonly Piece[]): Block[] {
  const sources = new Map<string, Inline[]>();
  for (const origin of pieces.flatMap(sourcesOf)) {
    const words = originInWords(origin);
    if (!sources.has(words)) sources.set(words, sourceInlines(origin));
  }
  if (sources.size === 0) return [];
  return [
    { type: 'paragraph', inlines: [text('Sources', { bold: true })] },
    {
      type: 'list',
      ordered: true,
      items: [...sources.values()].map((inlines) => ({ blocks: [{ type: 'paragraph', inlines }] })),
    },
  ];
}

/** Where a piece is from, each source once: that of each of its parts, where it is built up of several. */
function sourcesOf({ origin = {}, parts }: Piece): Origin[] {
  const origins = parts && parts.length > 0 ? parts.map((part) => part.origin) : [origin];
  const byWords = new Map(origins.map((each) => [originInWords(each), each]));
  byWords.delete('');
  return [...byWords.values()];
}

/** A page is linked to. */
const sourceInlines = (origin: Origin): Inline[] => [
  text(
    originInWords(origin),
    origin.url !== undefined && /^https?:/.test(origin.url) ? { link: { href: origin.url } } : {},
  ),
];
