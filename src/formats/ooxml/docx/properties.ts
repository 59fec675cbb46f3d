import type { Element, ElementContent } from 'xast';

/**
 * The order in which the schema wants the children of paragraph and run properties (ISO/IEC 29500-1, CT_PPr and CT_RPr);
 * those that Drawer neither writes nor takes over are left out.
 */
const paragraphOrder =
  'pStyle keepNext keepLines pageBreakBefore framePr widowControl numPr suppressLineNumbers pBdr shd tabs suppressAutoHyphens kinsoku wordWrap overflowPunct topLinePunct autoSpaceDE autoSpaceDN bidi adjustRightInd snapToGrid spacing ind contextualSpacing mirrorIndents suppressOverlap jc textDirection textAlignment textboxTightWrap outlineLvl divId cnfStyle rPr sectPr pPrChange'.split(
    ' ',
  );
const runOrder =
  'ins del rStyle rFonts b bCs i iCs caps smallCaps strike dstrike outline shadow emboss imprint noProof snapToGrid vanish webHidden color spacing w kern position sz szCs highlight u effect bdr shd fitText vertAlign rtl cs em lang eastAsianLayout specVanish oMath rPrChange'.split(
    ' ',
  );

/** One property as it stands in a source: its name without a prefix, and the source itself. */
export interface SourceProperty {
  readonly name: string;
  readonly source: string;
}

/** The properties in the source of a `pPr` or `rPr`, each whole. */
export function propertiesIn(source: string): SourceProperty[] {
  const inner = /^<[\w.:-]+(?:\s[^<>]*)?>([\s\S]*)<\/[\w.:-]+>$/.exec(source)?.[1] ?? '';
  const found: SourceProperty[] = [];
  let depth = 0;
  let start = 0;
  for (const match of inner.matchAll(/<(\/?)([\w.:-]+)([^<>]*)>/g)) {
    const [whole, slash = '', qualified = '', rest = ''] = match;
    if (slash === '' && depth++ === 0) start = match.index;
    if (slash === '/' || rest.endsWith('/')) depth--;
    if (depth === 0)
      found.push({ name: qualified.replace(/^.*:/, ''), source: inner.slice(start, match.index + whole.length) });
  }
  return found;
}

/** The source of the properties element right at the start of an element's content; the empty string when it has none. */
export function propertiesSource(source: string, at: number, name: 'pPr' | 'rPr'): string {
  const [open, qualified = '', rest = ''] =
    /^<((?:[\w.-]+:)?[pr]Pr)(\s[^<>]*?)?\/?>/.exec(source.slice(at, at + 2000)) ?? [];
  if (open === undefined || !qualified.endsWith(name)) return '';
  if (open.endsWith('/>') || rest.endsWith('/')) return '';
  const end = source.indexOf(`</${qualified}>`, at);
  return end < 0 ? '' : source.slice(at, end + qualified.length + 3);
}

/** Properties of our own over those of a source, in the order of the schema. */
export function mergeProperties(
  kind: 'paragraph' | 'run',
  own: readonly ElementContent[],
  base: readonly SourceProperty[],
): ElementContent[] {
  const order = kind === 'paragraph' ? paragraphOrder : runOrder;
  const named = own.map((node) => ({ name: node.type === 'element' ? node.name.replace(/^.*:/, '') : '', node }));
  const kept = base
    .filter(({ name }) => !named.some((each) => each.name === name))
    .map(({ name, source }) => ({ name, node: raw(source) }));
  const rank = (name: string): number => (order.indexOf(name) < 0 ? order.length : order.indexOf(name));
  return [...named, ...kept].sort((one, other) => rank(one.name) - rank(other.name)).map(({ node }) => node);
}

/** Source that is passed on as it stands. */
export const raw = (value: string): ElementContent => ({ type: 'raw', value }) as unknown as Element;
