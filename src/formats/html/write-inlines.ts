import type { ElementContent } from 'hast';
import type { Footnote, Inline, Marks, Picture } from '../../content/index.ts';
import { encodeDataUri, pointsPerPixel } from '../pictures.ts';
import { element } from './markup.ts';
import type { HtmlWriter } from './write-blocks.ts';

export function writeInlines(writer: HtmlWriter, inlines: readonly Inline[]): ElementContent[] {
  const written = inlines.map((inline, index) => writeInline(writer, inline, needsSpacesKept(inlines, index)));
  // A break at the very end shows nothing by itself, so one that should show needs a second.
  return inlines.length === 0 || inlines.at(-1)?.type === 'break' ? [...written, element('br')] : written;
}

function writeInline(writer: HtmlWriter, inline: Inline, keepSpaces: boolean): ElementContent {
  switch (inline.type) {
    case 'text':
      return writeText(inline.text, inline.marks ?? none, keepSpaces);
    case 'break':
      return element('br');
    case 'picture':
      return writePicture(writer, inline);
    case 'footnote':
      return writeReference(writer, inline);
  }
}

/** Whether a browser would fold spaces of this text away. */
function needsSpacesKept(inlines: readonly Inline[], index: number): boolean {
  const inline = inlines[index];
  if (inline?.type !== 'text' || !/^ | $|\t| {2}/.test(inline.text)) return false;
  const before = inlines[index - 1];
  const after = inlines[index + 1];
  const startsLine =
    before === undefined || before.type === 'break' || (before.type === 'text' && / $/.test(before.text));
  const endsLine = after === undefined || after.type === 'break';
  return /\t| {2}/.test(inline.text) || (startsLine && /^ /.test(inline.text)) || (endsLine && / $/.test(inline.text));
}

const none: Marks = {};

type Wrap = (inside: ElementContent, marks: Marks) => ElementContent;

/** One element a mark, from the innermost out. */
const wrappers: readonly [keyof Marks, Wrap][] = [
  ['code', (inside) => element('code', undefined, [inside])],
  ['position', (inside, { position }) => element(position === 'superscript' ? 'sup' : 'sub', undefined, [inside])],
  ['strike', (inside) => element('s', undefined, [inside])],
  ['underline', (inside) => element('u', undefined, [inside])],
  ['italic', (inside) => element('em', undefined, [inside])],
  ['bold', (inside) => element('strong', undefined, [inside])],
  ['language', (inside, { language }) => element('span', { lang: language }, [inside])],
  ['link', (inside, { link }) => element('a', { href: link?.href, title: link?.title }, [inside])],
];

function writeText(words: string, marks: Marks, keepSpaces: boolean): ElementContent {
  if (marks === none && !keepSpaces) return { type: 'text', value: words }; // most words
  const style = textStyle(marks, keepSpaces);
  let wrapped: ElementContent = style === '' ? { type: 'text', value: words } : element('span', { style }, words);
  for (const [mark, wrap] of wrappers) if (marks[mark] !== undefined) wrapped = wrap(wrapped, marks);
  return wrapped;
}

function textStyle({ font, size, colour, background }: Marks, keepSpaces: boolean): string {
  return [
    font && `font-family: ${cssString(font)}`,
    size !== undefined && `font-size: ${size}pt`,
    colour && `color: ${colour}`,
    background && `background-color: ${background}`,
    keepSpaces && 'white-space: pre-wrap',
  ]
    .filter(Boolean)
    .join('; ');
}

/** CSS Syntax, section 4.3.5: quotes, backslashes and what could end the declaration are escaped. */
const cssString = (words: string): string =>
  `"${words.replace(/["\\\n\r\f;{}<>&]/g, (sign) => `\\${sign.charCodeAt(0).toString(16)} `)}"`;

export function writePicture({ media }: HtmlWriter, picture: Picture): ElementContent {
  const bytes = media.get(picture.media);
  if (!bytes) return { type: 'text', value: picture.alt ?? '' };
  return element('img', {
    src: encodeDataUri(bytes, picture.mediaType),
    alt: picture.alt ?? '',
    style:
      [picture.width && `width: ${picture.width}pt`, picture.height && `height: ${picture.height}pt`]
        .filter(Boolean)
        .join('; ') || undefined,
    width: picture.width && Math.round(picture.width / pointsPerPixel),
    height: picture.height && Math.round(picture.height / pointsPerPixel),
  });
}

/** A footnote as DPUB-ARIA marks it: a reference here, the note's text in a list at the end. */
function writeReference(writer: HtmlWriter, footnote: Footnote): ElementContent {
  const number = writer.footnotes.push(footnote) - 1 + (writer.firstNote ?? 1);
  return element('a', { href: `#note-${number}`, id: `reference-${number}`, role: 'doc-noteref' }, [
    element('sup', undefined, String(number)),
  ]);
}
