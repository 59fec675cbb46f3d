import { isElement, isShadowRoot } from '../dom.ts';

/** What an element's own tag means already, and so needs no style of its own. */
const meantByTag: Readonly<Record<string, readonly string[]>> = {
  ...Object.fromEntries(['B', 'STRONG'].map((tag) => [tag, ['font-weight']])),
  ...Object.fromEntries(['I', 'EM', 'CITE', 'DFN', 'VAR', 'ADDRESS'].map((tag) => [tag, ['font-style']])),
  ...Object.fromEntries(['U', 'INS', 'S', 'STRIKE', 'DEL'].map((tag) => [tag, ['text-decoration-line']])),
  ...Object.fromEntries(['CODE', 'KBD', 'SAMP', 'TT', 'PRE'].map((tag) => [tag, ['font-family', 'font-size']])),
  ...Object.fromEntries(
    ['H1', 'H2', 'H3', 'H4', 'H5', 'H6'].map((tag) => [tag, ['font-weight', 'font-size', 'font-family', 'color']]),
  ),
  ...Object.fromEntries(['SUB', 'SUP'].map((tag) => [tag, ['font-size', 'vertical-align']])),
  A: ['color', 'text-decoration-line'],
  TH: ['font-weight', 'text-align'],
  TABLE: ['font-size', 'font-weight', 'font-style', 'color', 'text-align'],
  MARK: ['color', 'background-color'],
  CAPTION: ['text-align'],
};

/** What words inherit; only where an element changes it does it say something. */
const inherited = ['font-weight', 'font-style', 'font-family', 'font-size', 'color', 'text-align', 'white-space'];

/** Decorations and grounds lie on the element itself. */
const own: Readonly<Record<string, readonly string[]>> = {
  'text-decoration-line': ['none', ''],
  'background-color': ['rgba(0, 0, 0, 0)', 'transparent', ''],
  'vertical-align': ['baseline', ''],
};

/**
 * How an element changes the look of what is in it, as a `style` attribute: what its style sheets make of it, less what its
 * tag means by itself and what it inherits.
 */
export function lookOf(element: Element): string {
  const view = element.ownerDocument.defaultView;
  if (!view) return '';
  const style = view.getComputedStyle(element);
  const around = parentOf(element);
  const outer = around && view.getComputedStyle(around);
  const meant = meantByTag[element.tagName] ?? [];
  const says: string[] = [];
  for (const name of inherited) {
    const value = style.getPropertyValue(name);
    if (!outer || value === outer.getPropertyValue(name) || meant.includes(name)) continue;
    says.push(`${name}:${value}`);
  }
  if (meant.includes('font-weight') && isEmphasis(element) && Number(style.fontWeight) < 600)
    says.push('font-weight:400');
  if (meant.includes('font-style') && isEmphasis(element) && style.fontStyle === 'normal')
    says.push('font-style:normal');
  for (const [name, plain] of Object.entries(own)) {
    const value = style.getPropertyValue(name);
    if (!plain.includes(value) && !meant.includes(name) && isItsOwn(name, value, style.display))
      says.push(`${name}:${value}`);
  }
  return says.join(';');
}

/** A block's ground is the paper that its words are on, but for a cell's. */
function isItsOwn(name: string, value: string, display: string): boolean {
  if (name === 'vertical-align') return /^su[bp]/.test(value);
  return name !== 'background-color' || /^(?:inline|table-cell)/.test(display);
}

/** Whether it is there to stand out: then a page that makes it plain says something. */
const isEmphasis = ({ tagName }: Element): boolean => /^(?:B|STRONG|I|EM|CITE|DFN|VAR|ADDRESS)$/.test(tagName);

/** The element around it as the page shows it: a slot's for what a slot shows, a host's for what its shadow holds. */
export function parentOf(node: Node): Element | undefined {
  if (isElement(node) && node.assignedSlot) return node.assignedSlot;
  const parent = node.parentNode;
  if (isShadowRoot(parent)) return parent.host;
  return isElement(parent) ? parent : undefined;
}
