import type { Grammar } from '../../removal.ts';
import type { TextEdit } from '../../text-edits.ts';
import { unpairedMarkers, xmlGrammar } from '../../xml/text-of.ts';

/** Range markers (ISO/IEC 29500-1, 17.13): whichever of a pair is left stays, so that the other is not alone. */
const pairs = [
  'bookmark',
  'commentRange',
  'perm',
  'moveFromRange',
  'moveToRange',
  'customXmlInsRange',
  'customXmlDelRange',
].map((name) => ({ start: `${name}Start`, end: `${name}End`, key: 'id' }));

export const docxGrammar: Grammar = {
  ...xmlGrammar,
  remains: (source) => unpairedMarkers(source, pairs),
  remainsInside: false,
  emptyParagraph,
  mustStay: (source) => /<[\w.-]*:?sectPr[\s>/]/.test(source) || openFields(source) !== '',
  keepSpaces,
};

/** The paragraph with its properties, but no number or bullet, and with what has to stay of it. */
function emptyParagraph(source: string): string {
  const [open = '<w:p>', name = 'w:p'] = /^<([\w.:-]+)[^<>]*>/.exec(source) ?? [];
  if (open.endsWith('/>')) return open;
  const prefix = name.slice(0, -1);
  const start = source.indexOf(`<${prefix}pPr`);
  const end = source.indexOf(`</${prefix}pPr>`);
  const properties = start === open.length && end > start ? source.slice(start, end + `</${prefix}pPr>`.length) : '';
  const unnumbered = properties.replace(
    new RegExp(`<${prefix}numPr(?:\\s[^<>]*)?(?:/>|>.*?</${prefix}numPr>)`, 's'),
    '',
  );
  const plain = withoutStyleNumber(unnumbered, prefix);
  return `${open}${plain}${unpairedMarkers(source.slice(open.length), pairs)}${openFields(source)}</${name}>`;
}

/** A style may number its paragraphs: this one says that it has no number (ISO/IEC 29500-1, 17.9.18). */
function withoutStyleNumber(properties: string, prefix: string): string {
  const leading = '(?:pStyle|keepNext|keepLines|pageBreakBefore|widowControl)';
  const styled = new RegExp(
    `^<${prefix}pPr[^<>]*>(?:<${prefix}${leading}(?:\\s[^<>]*)?/>)*<${prefix}pStyle\\s[^<>]*/>(?:<${prefix}${leading}(?:\\s[^<>]*)?/>)*`,
  );
  return properties.replace(styled, `$&<${prefix}numPr><${prefix}numId ${prefix}val="0"/></${prefix}numPr>`);
}

/** The runs that hold starts and ends of fields (17.16.18), where the source has not as many of each. */
function openFields(source: string): string {
  const count = (type: string): number => source.split(`fldCharType="${type}"`).length - 1;
  if (count('begin') === count('end')) return '';
  return [...source.matchAll(/<([\w.-]*:?)r(?:\s[^<>]*)?>(?:(?!<\/\1r>)[\s\S]){0,20000}<\/\1r>/g)]
    .map(([run]) => run)
    .filter((run) => /(?:fldChar|instrText)[\s>]/.test(run))
    .map((run) => run.replace(/<([\w.-]*:?)(?:t|tab|br)(?:\s[^<>]*)?(?:\/>|>[^<]*<\/\1t>)/g, '')) // but not its words
    .join('');
}

/** A text that now begins or ends with a space has to say that it counts (XML 1.0, section 2.10). */
function keepSpaces(source: string, { start }: { readonly start: number }): readonly TextEdit[] {
  const tag = source.lastIndexOf('<', start - 1);
  const end = source.indexOf('>', tag);
  if (source.slice(tag, end).includes('xml:space')) return [];
  return [{ start: end, end, replacement: ' xml:space="preserve"' }];
}
