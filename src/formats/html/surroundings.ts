import { findLanguage, type Marks, type ParagraphProperties } from '../../content/index.ts';
import type { SourceNode } from '../trace.ts';
import { nullPrototype } from '../xml/element.ts';
import { keepsSpaces, markChanges, paragraphProperties } from './css.ts';
import { attribute, type Element } from './dom.ts';

/** The marks that an element means by itself; its own style may say otherwise. */
export const marksOf: Readonly<Record<string, Marks>> = nullPrototype({
  ...Object.fromEntries(['b', 'strong'].map((tag) => [tag, { bold: true }])),
  ...Object.fromEntries(['i', 'em', 'cite', 'dfn', 'var'].map((tag) => [tag, { italic: true }])),
  ...Object.fromEntries(['u', 'ins'].map((tag) => [tag, { underline: true }])),
  ...Object.fromEntries(['s', 'strike', 'del'].map((tag) => [tag, { strike: true }])),
  ...Object.fromEntries(['code', 'kbd', 'samp', 'tt'].map((tag) => [tag, { code: true }])),
  sup: { position: 'superscript' },
  sub: { position: 'subscript' },
  mark: { background: '#ffff00' },
});

/** What the elements around a node say about it. */
export interface Surroundings {
  readonly marks: Marks;
  readonly properties: ParagraphProperties;
  readonly keepsSpaces: boolean;
  readonly language: string | undefined;
  readonly depth: number;
  /** The element around, where a trace is kept, and the elements inside its paragraph. */
  readonly group?: SourceNode | undefined;
  readonly inside?: readonly Element[];
}

export const outermost = (language: string | undefined, group?: SourceNode): Surroundings => ({
  group,
  marks: {},
  properties: {},
  keepsSpaces: false,
  language,
  depth: 0,
});

export const plainSurroundings = ({ language, depth }: Surroundings): Surroundings => ({
  ...outermost(language),
  depth,
});

/** What an element's own attributes add to its surroundings. The ground of a block is the paper its words are on, and none of theirs. */
export function within(element: Element, css: ReadonlyMap<string, string>, around: Surroundings): Surroundings {
  const isBlock = !inlineTags.has(element.tagName);
  const language = findLanguage(attribute(element, 'lang')) ?? around.language;
  const direction = attribute(element, 'dir');
  const style = attribute(element, 'data-style');
  const differs = language !== around.language;
  const own = element.tagName === 'font' ? fontMarks(element) : marksOf[element.tagName];
  const { background, ...looks } = markChanges(css);
  const changes =
    own || css.size > 0 || differs
      ? { ...own, ...looks, ...(!isBlock && background && { background }), ...(differs && { language }) }
      : undefined;
  return {
    marks: changes ? withoutAbsent({ ...around.marks, ...changes }) : around.marks,
    properties: isBlock
      ? {
          ...around.properties,
          ...paragraphProperties(css),
          ...alignAttribute(element),
          ...((direction === 'rtl' || direction === 'ltr') && { direction }),
          ...(style && { style: style.slice(0, 255) }),
        }
      : around.properties,
    keepsSpaces: keepsSpaces(css) ?? around.keepsSpaces,
    language,
    depth: around.depth + 1,
    group: around.group,
    ...(around.group && { inside: isBlock ? [] : [...(around.inside ?? []), element] }),
  };
}

export const inlineTags: ReadonlySet<string> = new Set([
  'a',
  'span',
  'b',
  'strong',
  'i',
  'em',
  'u',
  's',
  'del',
  'ins',
  'sup',
  'sub',
  'code',
  'font',
  'mark',
  'small',
  'big',
  'q',
  'cite',
  'label',
  'img',
  'abbr',
  'time',
  'data',
  'kbd',
  'samp',
  'tt',
  'var',
  'dfn',
  'strike',
  'bdi',
  'bdo',
]);

const withoutAbsent = (marks: { readonly [K in keyof Marks]?: Marks[K] | undefined }): Marks =>
  Object.fromEntries(Object.entries(marks).filter(([, value]) => value !== undefined));

export const alignAttribute = (element: Element): ParagraphProperties => {
  const { align } = paragraphProperties(new Map([['text-align', attribute(element, 'align') ?? '']]));
  return align ? { align } : {};
};

/** What the older element says of letters (HTML, 15.3.4); its style may say otherwise. */
function fontMarks(element: Element): Marks | undefined {
  const declared = new Map<string, string>();
  const [colour, face] = [attribute(element, 'color'), attribute(element, 'face')];
  if (colour) declared.set('color', /^[0-9a-f]{6}$/i.test(colour) ? `#${colour}` : colour);
  if (face) declared.set('font-family', face);
  return declared.size === 0 ? undefined : withoutAbsent(markChanges(declared));
}
