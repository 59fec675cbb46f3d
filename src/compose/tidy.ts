import {
  type Block,
  type Content,
  type Inline,
  joinText,
  lineBreak,
  picturesIn,
  plainText,
  text,
} from '../content/index.ts';
import type { Composable, Tidying } from './options.ts';

/** The snippets tidied, each way on its own; blanks and repeats go. */
export function tidied(
  snippets: readonly Composable[],
  tidy: readonly Tidying[],
  language = 'en-GB',
): readonly Composable[] {
  if (tidy.length === 0) return snippets;
  const does = new Set(tidy);
  const cleaned = snippets.map((snippet) => ({
    ...snippet,
    content: tidyContent(snippet.content, does, quotesOf(language)),
  }));
  const filled = does.has('blanks') ? cleaned.filter(({ content }) => !isBlank(content)) : cleaned;
  return does.has('repeats') ? withoutRepeats(filled) : filled;
}

const isBlank = (content: Content): boolean =>
  plainText(content).trim() === '' && picturesIn(content).next().done === true;

function withoutRepeats(snippets: readonly Composable[]): readonly Composable[] {
  const seen = new Set<string>();
  return snippets.filter(({ content }) => {
    const key = JSON.stringify(content);
    return !seen.has(key) && seen.add(key);
  });
}

function tidyContent(content: Content, does: ReadonlySet<Tidying>, quotes: Quotes): Content {
  if (content.shape === 'cells' || content.shape === 'picture') return content;
  if (content.shape === 'run') return { shape: 'run', inlines: tidyInlines(content.inlines, does, quotes) };
  const blocks = content.blocks.map((block) => tidyBlock(block, does, quotes));
  return { shape: 'blocks', blocks: does.has('blanks') ? withoutDoubledBlanks(blocks) : blocks };
}

/** None at the ends, and never two in a row. */
const withoutDoubledBlanks = (blocks: readonly Block[]): Block[] =>
  blocks.filter(
    (block, at) =>
      !isBlankBlock(block) ||
      (at > 0 && at < blocks.length - 1 && !isBlankBlock(blocks[at - 1]) && !blocks.slice(at).every(isBlankBlock)),
  );

const isBlankBlock = (block: Block | undefined): boolean =>
  block?.type === 'paragraph' && isBlank({ shape: 'run', inlines: block.inlines });

function tidyBlock(block: Block, does: ReadonlySet<Tidying>, quotes: Quotes): Block {
  const inside = (blocks: readonly Block[]): Block[] => blocks.map((each) => tidyBlock(each, does, quotes));
  switch (block.type) {
    case 'paragraph':
    case 'heading':
      return { ...block, inlines: tidyInlines(block.inlines, does, quotes) };
    case 'list':
      return { ...block, items: block.items.map((item) => ({ ...item, blocks: inside(item.blocks) })) };
    case 'quote':
      return { ...block, blocks: inside(block.blocks) };
    case 'table':
      return {
        ...block,
        rows: block.rows.map(({ cells }) => ({
          cells: cells.map((cell) => ({ ...cell, blocks: inside(cell.blocks) })),
        })),
      };
    default:
      return block;
  }
}

function tidyInlines(inlines: readonly Inline[], does: ReadonlySet<Tidying>, quotes: Quotes): readonly Inline[] {
  let kept = inlines;
  if (does.has('lines')) kept = mended(kept);
  if (does.has('spaces')) kept = withoutDoubledSpaces(kept);
  if (does.has('trim')) kept = trimmed(kept);
  if (does.has('straight-quotes')) kept = mapWords(kept, straight);
  if (does.has('curly-quotes')) kept = curled(kept, quotes);
  return kept;
}

/** Program text keeps its signs. */
const mapWords = (inlines: readonly Inline[], map: (words: string) => string): Inline[] =>
  joinText(
    inlines.map((inline) =>
      inline.type === 'text' && !inline.marks?.code ? { ...inline, text: map(inline.text) } : inline,
    ),
  );

// --- Ends and spaces ---------------------------------------------------------------------------------------------------

function trimmed(inlines: readonly Inline[]): Inline[] {
  const kept = [...inlines];
  for (const [at, cut] of [
    [() => 0, (words: string) => words.trimStart()],
    [() => kept.length - 1, (words: string) => words.trimEnd()],
  ] as const) {
    for (let inline = kept[at()]; inline; inline = kept[at()]) {
      if (inline.type !== 'text' && inline.type !== 'break') break;
      const words = inline.type === 'text' ? cut(inline.text) : '';
      if (inline.type === 'text' && words !== '') {
        kept[at()] = { ...inline, text: words };
        break;
      }
      kept.splice(at(), 1);
    }
  }
  return kept;
}

/** Also where one text ends with a space and the next begins with one. */
function withoutDoubledSpaces(inlines: readonly Inline[]): Inline[] {
  let endsWithSpace = false;
  return joinText(
    inlines.map((inline) => {
      if (inline.type !== 'text' || inline.marks?.code) {
        endsWithSpace = inline.type === 'break';
        return inline;
      }
      const single = inline.text.replace(/[ \u00a0]{2,}/g, ' ');
      const words = endsWithSpace ? single.replace(/^ /, '') : single;
      endsWithSpace = words === '' ? endsWithSpace : words.endsWith(' ');
      return { ...inline, text: words };
    }),
  );
}

// --- Lines of fixed width ----------------------------------------------------------------------------------------------

/** Shorter lines are verse, addresses or lists. */
const shortestLine = 30;

/**
 * Lines that were broken at a fixed width run on, words parted at a line's end too. They look it when all but the last are
 * long, and about as long as one another.
 */
function mended(inlines: readonly Inline[]): readonly Inline[] {
  const lengths = lineLengths(inlines);
  const full = lengths.slice(0, -1);
  const longest = Math.max(...lengths);
  if (full.length === 0 || longest < shortestLine || full.some((length) => length < longest * 0.6)) return inlines;
  const result: Inline[] = [];
  inlines.forEach((inline, at) => {
    const [before, next] = [result.at(-1), inlines[at + 1]];
    if (inline.type !== 'break') result.push(inline);
    else if (
      before?.type === 'text' &&
      /\p{L}-$/u.test(before.text) &&
      next?.type === 'text' &&
      /^\p{Ll}/u.test(next.text)
    )
      result[result.length - 1] = { ...before, text: before.text.slice(0, -1) };
    else if (before?.type === 'text') result[result.length - 1] = { ...before, text: `${before.text.trimEnd()} ` };
    else result.push(text(' '));
  });
  return joinText(result);
}

function lineLengths(inlines: readonly Inline[]): number[] {
  const lengths = [0];
  for (const inline of inlines) {
    if (inline.type === lineBreak.type) lengths.push(0);
    else if (inline.type === 'text') lengths[lengths.length - 1] = (lengths.at(-1) ?? 0) + inline.text.length;
  }
  return lengths;
}

// --- Quotation marks ---------------------------------------------------------------------------------------------------

const straight = (words: string): string => words.replace(/[“”„‟«»]/g, '"').replace(/[‘’‚‛]/g, "'");

/** The marks of a language: around words, around words within those, and the apostrophe between letters. */
interface Quotes {
  readonly outer: readonly [open: string, close: string];
  readonly inner: readonly [open: string, close: string];
}

const high: Quotes = { outer: ['“', '”'], inner: ['‘', '’'] };
const low: Quotes = { outer: ['„', '“'], inner: ['‚', '‘'] };
const angled: Quotes = { outer: ['«', '»'], inner: ['“', '”'] };
/** As languages have them (Unicode CLDR, delimiters); where nothing else is said, as English does. */
const quotesByLanguage: Readonly<Record<string, Quotes>> = {
  de: low,
  cs: low,
  sk: low,
  is: low,
  bg: low,
  pl: { outer: ['„', '”'], inner: ['«', '»'] },
  hu: { outer: ['„', '”'], inner: ['»', '«'] },
  ro: { outer: ['„', '”'], inner: ['«', '»'] },
  fr: { outer: ['«\u202f', '\u202f»'], inner: ['“', '”'] },
  es: angled,
  it: angled,
  pt: high,
  ar: { outer: ['”', '“'], inner: ['’', '‘'] },
  ru: { outer: ['«', '»'], inner: ['„', '“'] },
  uk: { outer: ['«', '»'], inner: ['„', '“'] },
  nb: { outer: ['«', '»'], inner: ['‘', '’'] },
  nn: { outer: ['«', '»'], inner: ['‘', '’'] },
  no: { outer: ['«', '»'], inner: ['‘', '’'] },
  da: high,
  sv: { outer: ['”', '”'], inner: ['’', '’'] },
  fi: { outer: ['”', '”'], inner: ['’', '’'] },
  nl: { outer: ['‘', '’'], inner: ['“', '”'] },
};
const quotesOf = (language: string): Quotes =>
  /^de-(?:CH|LI)\b/i.test(language)
    ? { outer: ['«', '»'], inner: ['‹', '›'] }
    : (quotesByLanguage[language.slice(0, 2).toLowerCase()] ?? high);

/** A mark opens at the start, behind a space or an opening sign; else it closes, or is an apostrophe between letters. */
function curled(inlines: readonly Inline[], { outer, inner }: Quotes): Inline[] {
  let before = '';
  let innerOpen = 0;
  return joinText(
    inlines.map((inline) => {
      if (inline.type !== 'text' || inline.marks?.code) {
        before = inline.type === 'text' ? 'x' : '';
        return inline;
      }
      let words = '';
      for (const [at, sign] of [...inline.text].entries()) {
        const opens = before === '' || /[\s([{“‘—–-]/.test(before);
        const isApostrophe = !opens && (innerOpen === 0 || /\p{L}/u.test(inline.text[at + 1] ?? ''));
        if (sign === '"') words += outer[opens ? 0 : 1];
        else if (sign !== "'") words += sign;
        else if (isApostrophe) words += '’';
        else {
          innerOpen += opens ? 1 : -1;
          words += inner[opens ? 0 : 1];
        }
        before = sign;
      }
      return { ...inline, text: words };
    }),
  );
}
