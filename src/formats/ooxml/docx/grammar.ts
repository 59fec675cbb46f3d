import type { Grammar } from '../../removal.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import { childOf, insertion, type SourceElement, type SourceTree } from '../../xml/source-tree.ts';
import { type RangeMarkers, unpairedMarkers, xmlGrammar } from '../../xml/xml-grammar.ts';

/** Range markers (ISO/IEC 29500-1, 17.13): whichever of a pair is left stays, so that the other is not alone. */
const pairs = [
  'bookmark',
  'commentRange',
  'perm',
  'moveFromRange',
  'moveToRange',
  'customXmlInsRange',
  'customXmlDelRange',
].map((name) => ({ start: `w:${name}Start`, end: `w:${name}End`, key: 'w:id' }));

/**
 * The rules of a document.
 * @param fragment - makes a tree of the source of one of its elements
 * @param dropped - the id of a bookmark that is not to be kept
 */
export const docxGrammar = (fragment: (source: string) => SourceTree, dropped?: string): Grammar => ({
  ...xmlGrammar,
  remains: (source) =>
    /(?:Start|End)\b/.test(source) ? unpairedMarkers(fragment(source), pairs, droppedPair(dropped)) : '',
  remainsInside: false,
  emptyParagraph: (source) => emptyParagraph(fragment(source), droppedPair(dropped)),
  mustStay: (source) =>
    /sectPr|fldChar/.test(source) &&
    (fragment(source).first('w:sectPr') !== undefined || openFields(fragment(source)) !== ''),
  keepSpaces,
});

const droppedPair = (id: string | undefined): RangeMarkers | undefined =>
  id === undefined ? undefined : { start: 'w:bookmarkStart', end: 'w:bookmarkEnd', key: id };

/** The paragraph with its properties, but no number or bullet, and with what has to stay of it. */
function emptyParagraph(tree: SourceTree, dropped: RangeMarkers | undefined): string {
  const [paragraph] = tree.root.children;
  if (!paragraph || paragraph.innerEnd === paragraph.end) return tree.text;
  const properties = childOf(paragraph, 'w:pPr');
  const kept = properties ? withoutNumber(tree, properties) : '';
  const end = tree.text.slice(paragraph.innerEnd);
  return `${tree.tag(paragraph)}${kept}${unpairedMarkers(tree, pairs, dropped)}${openFields(tree)}${end}`;
}

/** A style may number its paragraphs: this one says that it has no number (ISO/IEC 29500-1, 17.9.18). */
function withoutNumber(tree: SourceTree, properties: SourceElement): string {
  const leading = ['w:pStyle', 'w:keepNext', 'w:keepLines', 'w:pageBreakBefore', 'w:framePr', 'w:widowControl'];
  const number = childOf(properties, 'w:numPr');
  const p = tree.prefix('w', properties);
  const before = properties.children.filter(({ name }) => leading.includes(name)).at(-1);
  const edits = number ? [tree.replace(number, '')] : [];
  if (before && childOf(properties, 'w:pStyle'))
    edits.push(insertion(before.end, `<${p}numPr><${p}numId ${p}val="0"/></${p}numPr>`));
  return applyEdits(tree.text, edits, properties);
}

/** The runs that hold starts and ends of fields (17.16.18), where the source has not as many of each. */
function openFields(tree: SourceTree): string {
  const marks = tree.all('w:fldChar').map(({ attributes }) => attributes['w:fldCharType']);
  const count = (type: string): number => marks.filter((each) => each === type).length;
  if (count('begin') === count('end')) return '';
  return tree
    .all('w:r')
    .filter((run) => tree.all(['w:fldChar', 'w:instrText'], run).length > 0 && !isInRun(run))
    .map((run) => {
      const words = tree.all(['w:t', 'w:tab', 'w:br'], run).map((element) => tree.replace(element, '')); // they go
      return applyEdits(tree.text, words, run);
    })
    .join('');
}

function isInRun({ parent }: SourceElement): boolean {
  for (let around = parent; around; around = around.parent) if (around.name === 'w:r') return true;
  return false;
}

/** A text that now begins or ends with a space has to say that it counts (XML 1.0, section 2.10). */
function keepSpaces(source: string, { start }: { readonly start: number }): readonly TextEdit[] {
  const tag = source.lastIndexOf('<', start - 1);
  const isTag = /^<[\w.-]/.test(source.slice(tag, tag + 2)) && source[start - 1] === '>';
  if (!isTag || source.slice(tag, start).includes('xml:space')) return [];
  return [insertion(start - 1, ' xml:space="preserve"')];
}
