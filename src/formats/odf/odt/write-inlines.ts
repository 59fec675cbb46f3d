import type { Element, ElementContent } from 'xast';
import type { Footnote, Inline, Marks, Picture } from '../../../content/index.ts';
import { x } from '../../xml/element.ts';
import { xmlText } from '../../xml/write-xml.ts';
import type { OdtStory } from './write-blocks.ts';

/** Inlines as text, spans, links and frames (ISO/IEC 26300-1, section 6). */
export const writeInlines = (story: OdtStory, inlines: readonly Inline[]): ElementContent[] =>
  inlines.flatMap((inline) => writeInline(story, inline));

function writeInline(story: OdtStory, inline: Inline): ElementContent[] {
  switch (inline.type) {
    case 'text':
      return writeText(story, inline.text, inline.marks ?? {});
    case 'break':
      return [x('text:line-break')];
    case 'picture':
      return [writePicture(story, inline)];
    case 'footnote':
      return [writeNote(story, inline)];
  }
}

function writeText(story: OdtStory, words: string, { link, ...marks }: Marks): ElementContent[] {
  const style = story.styles.textStyle(marks);
  const spaced = spacedText(words);
  const inside =
    style === undefined ? spaced : [x('text:span', { 'text:style-name': style }, spaced as Element['children'])];
  if (!link) return inside;
  return [
    x(
      'text:a',
      { 'xlink:type': 'simple', 'xlink:href': xmlText(link.href), 'office:title': link.title && xmlText(link.title) },
      inside as Element['children'],
    ),
  ];
}

/** White space is folded on reading (6.1.2), so that what should be seen is told. */
export function spacedText(words: string): ElementContent[] {
  return xmlText(words)
    .split(/(\t| {2,}|^ | $)/)
    .filter((piece) => piece !== '')
    .map((piece): ElementContent => {
      if (piece === '\t') return x('text:tab');
      if (/^ +$/.test(piece)) return piece.length === 1 ? x('text:s') : x('text:s', { 'text:c': String(piece.length) });
      return { type: 'text', value: piece };
    });
}

/** A picture in its line (10.4.2), no wider than the text; without its bytes its description. */
function writePicture(story: OdtStory, picture: Picture): ElementContent {
  const address = story.addPicture(picture);
  if (address === undefined) return { type: 'text', value: xmlText(picture.alt ?? '') };
  const { width = 72, height = 72, alt } = picture;
  const scale = Math.min(1, story.width / width);
  return pictureFrame(address, {
    name: `Picture ${story.nextNumber()}`,
    width: width * scale,
    height: height * scale,
    alt,
    anchor: 'as-char',
  });
}

interface FrameFacts {
  readonly name: string;
  /** In points. */
  readonly width: number;
  readonly height: number;
  readonly alt: string | undefined;
  /** How it is tied to the text (19.759); a frame in a cell is tied to that. */
  readonly anchor?: 'as-char';
}

/** A picture in its frame (10.4.2 and 10.4.4). */
export const pictureFrame = (address: string, { name, width, height, alt, anchor }: FrameFacts): Element =>
  x(
    'draw:frame',
    {
      'draw:name': name,
      'text:anchor-type': anchor,
      'svg:width': `${round(width)}pt`,
      'svg:height': `${round(height)}pt`,
    },
    [
      x('draw:image', {
        'xlink:href': address,
        'xlink:type': 'simple',
        'xlink:show': 'embed',
        'xlink:actuate': 'onLoad',
      }),
      ...(alt ? [x('svg:desc', {}, xmlText(alt))] : []),
    ],
  );

const round = (points: number): number => Math.round(points * 100) / 100;

/** A note (6.3); its number is worked out by whoever shows it. */
function writeNote(story: OdtStory, { blocks }: Footnote): Element {
  const number = String(story.nextNumber());
  return x('text:note', { 'text:id': `drawer-note-${number}`, 'text:note-class': 'footnote' }, [
    x('text:note-citation', {}, number),
    x('text:note-body', {}, story.writeNoteBlocks(blocks)),
  ]);
}
