import type { Element } from 'xast';
import type { Inline, Marks, Picture, Text } from '../../../content/index.ts';
import { x } from '../../xml/element.ts';
import { xmlText } from '../../xml/write-xml.ts';
import { emuSize, pictureBody } from '../write-picture.ts';
import { textWidth } from './page.ts';
import type { StoryWriter } from './write-blocks.ts';

/** Inlines as runs (ISO/IEC 29500-1, 17.3.2) and hyperlinks. */
export const writeInlines = (story: StoryWriter, inlines: readonly Inline[]): Element[] =>
  inlines.map((inline) => writeInline(story, inline));

function writeInline(story: StoryWriter, inline: Inline): Element {
  switch (inline.type) {
    case 'text':
      return inline.marks?.link ? writeLink(story, inline, inline.marks) : writeRun(inline.text, inline.marks);
    case 'break':
      return x('w:r', {}, x('w:br'));
    case 'picture':
      return x('w:r', {}, writeDrawing(story, inline));
    case 'footnote':
      return story.writeFootnote(inline);
  }
}

/** Words between tabs; every space counts. */
function writeRun(words: string, marks: Marks = {}): Element {
  const pieces = xmlText(words)
    .split(/(\t)/)
    .filter((piece) => piece !== '')
    .map((piece) => (piece === '\t' ? x('w:tab') : x('w:t', { 'xml:space': 'preserve' }, piece)));
  return x('w:r', {}, runProperties(marks), pieces);
}

function writeLink(story: StoryWriter, { text }: Text, marks: Marks): Element {
  const { href = '', title } = marks.link ?? {};
  const target = href.startsWith('#')
    ? { 'w:anchor': decodeName(href.slice(1)) }
    : { 'r:id': story.relationships.add('hyperlink', xmlText(href), true) };
  return x('w:hyperlink', { ...target, 'w:tooltip': title && xmlText(title), 'w:history': '1' }, writeRun(text, marks));
}

function decodeName(name: string): string {
  try {
    return xmlText(decodeURIComponent(name));
  } catch {
    return xmlText(name);
  }
}

/** In the order that the schema asks for (CT_RPr). */
export function runProperties(marks: Marks): Element | undefined {
  const style = marks.code ? 'HTMLCode' : marks.link ? 'Hyperlink' : undefined;
  const font = marks.font && xmlText(marks.font);
  const halfPoints = marks.size === undefined ? undefined : String(Math.max(2, Math.round(marks.size * 2)));
  const properties = [
    style && x('w:rStyle', { 'w:val': style }),
    font && x('w:rFonts', { 'w:ascii': font, 'w:hAnsi': font, 'w:cs': font }),
    marks.bold && x('w:b'),
    marks.italic && x('w:i'),
    marks.strike && x('w:strike'),
    marks.colour && x('w:color', { 'w:val': marks.colour.slice(1).toUpperCase() }),
    halfPoints && x('w:sz', { 'w:val': halfPoints }),
    halfPoints && x('w:szCs', { 'w:val': halfPoints }),
    marks.underline && x('w:u', { 'w:val': 'single' }),
    marks.background &&
      x('w:shd', { 'w:val': 'clear', 'w:color': 'auto', 'w:fill': marks.background.slice(1).toUpperCase() }),
    marks.position && x('w:vertAlign', { 'w:val': marks.position }),
    marks.language && x('w:lang', { 'w:val': marks.language }),
  ].filter((property) => typeof property === 'object');
  return properties.length > 0 ? x('w:rPr', {}, properties) : undefined;
}

/** An inline drawing (20.4.2.8), no wider than the text. A picture whose bytes are missing leaves its description. */
function writeDrawing(story: StoryWriter, picture: Picture): Element {
  const part = story.state.addPicture(picture);
  if (part === undefined) return x('w:t', {}, xmlText(picture.alt ?? ''));
  const id = story.relationships.add('image', part);
  const { width = 72, height = 72 } = picture;
  const scale = Math.min(1, textWidth(story.page) / width);
  const extent = emuSize(width * scale, height * scale);
  const number = String(story.state.nextDrawing());
  const description = { id: number, name: `Picture ${number}`, descr: picture.alt && xmlText(picture.alt) };
  return x('w:drawing', {}, [
    x('wp:inline', { distT: '0', distB: '0', distL: '0', distR: '0' }, [
      x('wp:extent', { ...extent }),
      x('wp:docPr', description),
      x('a:graphic', {}, [
        x('a:graphicData', { uri: story.state.pictureNamespace }, [
          x('pic:pic', {}, [
            x('pic:nvPicPr', {}, [x('pic:cNvPr', description), x('pic:cNvPicPr')]),
            ...pictureBody('pic', id, picture.mediaType, extent),
          ]),
        ]),
      ]),
    ]),
  ]);
}
