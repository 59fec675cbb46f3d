import type { Element, ElementContent } from 'xast';
import type { SourceElement, SourceTree } from '../../xml/source-tree.ts';

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
  /** What was read; absent for one that we write. */
  readonly element?: SourceElement;
}

/** The properties in a `pPr` or `rPr`, each whole; none where there is no such element. */
export const propertiesOf = (tree: SourceTree, properties: SourceElement | undefined): SourceProperty[] =>
  (properties?.children ?? []).map((element) => ({
    name: element.name.replace(/^.*:/, ''),
    source: tree.source(element),
    element,
  }));

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
