import { asBlocks, type Block, type Content, type Inline, joinText, text } from '../content/index.ts';
import { originInWords } from '../drawer/index.ts';
import type { ComposeOptions, Piece } from './options.ts';

/** The piece with where it is from, in brackets or in a footnote behind its last words. */
export function attribute(piece: Piece, { attribution = 'none' }: ComposeOptions): Piece {
  const words = originInWords(piece.origin ?? {});
  if (words === '' || attribution === 'none' || attribution === 'list') return piece;
  const source = sourceInlines(piece, words);
  const added: readonly Inline[] =
    attribution === 'inline'
      ? [text(' ('), ...source, text(')')]
      : [{ type: 'footnote', blocks: [{ type: 'paragraph', inlines: source }] }];
  return { ...piece, content: behind(piece.content, added) };
}

function behind(content: Content, added: readonly Inline[]): Content {
  if (content.shape === 'run') return { shape: 'run', inlines: joinText([...content.inlines, ...added]) };
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
  for (const piece of pieces) {
    const words = originInWords(piece.origin ?? {});
    if (words !== '' && !sources.has(words)) sources.set(words, sourceInlines(piece, words));
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

/** A page is linked to. */
const sourceInlines = ({ origin }: Piece, words: string): Inline[] => [
  text(words, origin?.url !== undefined && /^https?:/.test(origin.url) ? { link: { href: origin.url } } : {}),
];
