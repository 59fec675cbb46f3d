import {
  asBlocks,
  type Block,
  type Content,
  cellText,
  type Inline,
  joinText,
  measure,
  text,
  textWithBreaks,
} from '../content/index.ts';
import { type ComposeOptions, type Piece, plainWords } from './options.ts';

const field = /\{(content|number|label|origin|file|place|date|words|characters|count)\}/g;

/** The piece with its pattern filled in around it: on its line where it is words, else in paragraphs above and below. */
export function surround(piece: Piece, count: number, options: ComposeOptions): Piece {
  const { around } = options;
  if (around === undefined || around === '') return piece;
  const filled = (pattern: string): string =>
    pattern.replace(field, (_, name: string) => fill(name, piece, count, options));
  const at = around.indexOf('{content}');
  const before = filled(at < 0 ? around : around.slice(0, at));
  const after = at < 0 ? '' : filled(around.slice(at + '{content}'.length));
  return { ...piece, content: wrapped(piece.content, before, after) };
}

function fill(
  name: string,
  { content, number, label, origin = {}, takenAt }: Piece,
  count: number,
  options: ComposeOptions,
): string {
  const { language = 'en-GB', timeZone = 'UTC', words = plainWords } = options;
  switch (name) {
    case 'number':
      return String(number);
    case 'count':
      return String(count);
    case 'label':
      return label ?? '';
    case 'origin':
      return words.source(origin);
    case 'file':
      return origin.file ?? origin.title ?? '';
    case 'place':
      return origin.place === undefined ? '' : words.place(origin.place);
    case 'date':
      return takenAt === undefined
        ? ''
        : new Intl.DateTimeFormat(language, { dateStyle: 'medium', timeZone }).format(new Date(takenAt));
    case 'words':
    case 'characters':
      return String(measure(content, language)[name]);
    default:
      return '';
  }
}

function wrapped(content: Content, before: string, after: string): Content {
  const words = findWords(content);
  if (words) {
    const inlines = joinText([text(before), ...words, text(after)]);
    if (content.shape !== 'blocks') return { shape: 'run', inlines };
    return { shape: 'blocks', blocks: content.blocks.map((block) => ({ ...block, inlines }) as Block) };
  }
  return { shape: 'blocks', blocks: [...line(before.trim()), ...asBlocks(content), ...line(after.trim())] };
}

const line = (words: string): Block[] =>
  words === '' ? [] : [{ type: 'paragraph', inlines: [text(words)] satisfies Inline[] }];

/** The words of content that is part of a line: a run, one paragraph, or one cell; `undefined` for anything longer. */
export function findWords(content: Content): readonly Inline[] | undefined {
  if (content.shape === 'run') return content.inlines;
  if (content.shape === 'cells') {
    const [only] = content.rows[0] ?? [];
    return content.rows.length === 1 && content.rows[0]?.length === 1 && only
      ? textWithBreaks(cellText(only), only.marks)
      : undefined;
  }
  if (content.shape === 'picture') return undefined;
  const [only] = content.blocks;
  return content.blocks.length === 1 && only?.type === 'paragraph' ? only.inlines : undefined;
}
