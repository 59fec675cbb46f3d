import { isElement, isShadowRoot, isTag, isText, isWithinAny } from '../dom.ts';

/** Elements without content to keep. */
const unseen = new Set(
  'SCRIPT STYLE NOSCRIPT TEMPLATE IFRAME OBJECT EMBED AUDIO VIDEO HEAD LINK META TITLE SELECT TEXTAREA BUTTON'.split(
    ' ',
  ),
);
/** Attributes that describe an element rather than its behaviour. */
const kept =
  /^(?:alt|title|colspan|rowspan|start|type|value|dir|lang|role|id|checked|align|reversed|headers|scope|data-.+)$/;

const isBlockLike = /^(?:block|flex|grid|flow-root|list-item|table-caption)$/;
const paragraphs = 'p, h1, h2, h3, h4, h5, h6, li, td, th, dt, dd, pre, blockquote, figcaption, caption';

/** Parts of a page that are never gathered: `<section data-drawer="private">`. */
export const privateParts = '[data-drawer="private"]';

/** Parts of a page that are kept as secrets: `<p data-drawer="secret">`. */
export const secretParts = '[data-drawer="secret"]';

/** The visible content of a range as inert markup, with the pictures it refers to. */
export interface Snapshot {
  readonly root: Element;
  /** Whether the range is within one paragraph: then it is words rather than a paragraph. */
  readonly isWithinParagraph: boolean;
}

/** The start and end of a range in the visible tree. */
type Ends = Pick<Range, 'startContainer' | 'startOffset' | 'endContainer' | 'endOffset'>;

/**
 * Copies the visible content of a range, independent of later changes to the page: elements with their computed styles, inside
 * the lists and tables that the range crosses, without hidden or private parts. Nothing in it runs or loads, because it belongs
 * to a document that is never shown.
 */
export function snapshot(
  range: Ends & Pick<Range, 'commonAncestorContainer'>,
  isPrivate: string = privateParts,
): Snapshot {
  const inert = document.implementation.createHTMLDocument('');
  const common = elementOf(range.commonAncestorContainer);
  const copier = new Copier(inert, range, isPrivate);
  let holder: Element = inert.createElement('div');
  const isShown = common !== undefined && !isWithinAny(common, isPrivate);
  if (isShown) copier.copyInside(range.commonAncestorContainer, holder);
  for (
    let around = isShown ? common : undefined;
    around && around !== around.ownerDocument.body;
    around = parentOf(around)
  ) {
    const wrap = isWithin(around, common) ? copier.shell(around) : copier.shell(around, 'SPAN');
    wrap.append(...holder.childNodes);
    holder = inert.createElement('div');
    holder.append(wrap);
  }
  return { root: holder, isWithinParagraph: isWithinParagraph(range) };
}

/** Whether to include a list or table around the range: not if the range is within one of its items or cells. */
function isWithin(around: Element, common: Element | undefined): boolean {
  if (/^(?:B|STRONG|I|EM|U|S|DEL|INS|CODE|SUP|SUB|A|MARK|PRE)$/.test(around.tagName)) return true;
  if (!/^(?:UL|OL|MENU|TABLE|THEAD|TBODY|TFOOT|TR)$/.test(around.tagName)) return false;
  for (let each = common; each && each !== around; each = parentOf(each))
    if (/^(?:LI|TD|TH|CAPTION)$/.test(each.tagName)) return false;
  return true;
}

export const elementOf = (node: Node): Element | undefined =>
  isElement(node) ? node : isShadowRoot(node) ? node.host : (parentOf(node) ?? undefined);

function isWithinParagraph({
  startContainer,
  endContainer,
  commonAncestorContainer,
}: Ends & Pick<Range, 'commonAncestorContainer'>): boolean {
  const common = elementOf(commonAncestorContainer);
  const around = common?.closest(paragraphs);
  if (around)
    return (
      elementOf(startContainer)?.closest(paragraphs) === around &&
      elementOf(endContainer)?.closest(paragraphs) === around
    );
  // A paragraph of no such name: words and what stands among words, right in one block.
  return startContainer === endContainer && startContainer.nodeType === Node.TEXT_NODE;
}

class Copier {
  readonly #inert: Document;
  readonly #ends: Ends;
  readonly #private: string;

  constructor(inert: Document, ends: Ends, isPrivate: string) {
    this.#inert = inert;
    this.#ends = ends;
    this.#private = isPrivate;
  }

  /** Copies the children of a node within the range. */
  copyInside(node: Node, into: Element): void {
    if (isText(node)) this.#copyText(node, into);
    else for (const child of this.#childrenOf(node)) this.#copy(child, into);
  }

  /** Copies an element's tag and look without its children. */
  shell(element: Element, tag?: 'SPAN'): HTMLElement {
    const style = getComputedStyle(element);
    const isKnown = /^[A-Z][A-Z0-9]*$/.test(element.tagName) && !element.tagName.includes('-');
    const name = tag ?? (isKnown ? element.tagName : isBlockLike.test(style.display) ? 'DIV' : 'SPAN');
    const shell = this.#inert.createElement(name === 'SPAN' && isBlockLike.test(style.display) && !tag ? 'DIV' : name);
    if (!tag) for (const { name, value } of element.attributes) if (kept.test(name)) shell.setAttribute(name, value);
    const look = lookOf(element);
    // Set through the object model, because a strict policy forbids style attributes even here (CSP 3, section 6.1.13).
    if (look !== '') shell.style.cssText = look;
    if (isTag(element, 'a') && !tag && element.href) shell.setAttribute('href', linkOf(element));
    if (element.tagName === 'CODE' || element.tagName === 'PRE')
      shell.className = [...element.classList].filter((each) => each.startsWith('language-')).join(' ');
    return shell;
  }

  #copy(node: Node, into: Element): void {
    if (!this.#touches(node)) return;
    if (isText(node)) return this.#copyText(node, into);
    if (!isElement(node) || !this.#isSeen(node)) return;
    const picture = this.#picture(node);
    if (picture) return into.append(picture);
    if (isTag(node, 'input') && node.type !== 'checkbox') return;
    const shell = this.shell(node);
    if (isTag(node, 'input')) shell.toggleAttribute('checked', node.checked);
    for (const child of this.#childrenOf(node)) this.#copy(child, shell);
    into.append(shell);
  }

  #copyText(node: Text, into: Element): void {
    const { startContainer, startOffset, endContainer, endOffset } = this.#ends;
    const from = node === startContainer ? startOffset : 0;
    const words = node.data.slice(from, node === endContainer ? endOffset : undefined);
    if (words !== '') into.append(words);
  }

  #isSeen(element: Element): boolean {
    if (unseen.has(element.tagName) || element.matches(this.#private)) return false;
    const { display, visibility, userSelect } = getComputedStyle(element);
    if (display === 'none' || visibility === 'hidden') return false;
    // In editable content the value says nothing: browsers compute `none` for everything draggable, such as an editor's pictures.
    const isEdited = element.closest('[contenteditable]:not([contenteditable="false"])') !== null;
    return userSelect !== 'none' || isEdited || isTag(element, 'input');
  }

  /** Copies a picture with its displayed size; a canvas becomes a picture. */
  #picture(element: Element): Element | undefined {
    const address = pictureAddress(element);
    if (address === undefined) return undefined;
    const picture = this.#inert.createElement('img');
    picture.setAttribute('src', address);
    const words =
      element.getAttribute('alt') ?? element.getAttribute('aria-label') ?? element.querySelector('title')?.textContent;
    if (words) picture.setAttribute('alt', words);
    const { width, height } = element.getBoundingClientRect();
    if (width > 0 && height > 0) {
      picture.setAttribute('width', String(Math.round(width)));
      picture.setAttribute('height', String(Math.round(height)));
    }
    return picture;
  }

  /** The visible children: a host's shadow tree, a slot's assigned nodes. */
  #childrenOf(node: Node): Node[] {
    if (isElement(node) && node.shadowRoot) return [...node.shadowRoot.childNodes];
    if (isTag(node, 'slot') && node.assignedNodes().length > 0) return node.assignedNodes();
    return [...node.childNodes];
  }

  /** Whether any part of it is within the range. */
  #touches(node: Node): boolean {
    const { startContainer, startOffset, endContainer, endOffset } = this.#ends;
    if (node.contains(startContainer) || node.contains(endContainer)) return true;
    const range = node.ownerDocument?.createRange();
    if (!range || node.getRootNode() !== startContainer.getRootNode()) return true;
    range.setStart(startContainer, startOffset);
    range.setEnd(endContainer, endOffset);
    return range.intersectsNode(node);
  }
}

/** A link within the page stays relative. */
const linkOf = (link: HTMLAnchorElement): string => {
  const written = link.getAttribute('href') ?? '';
  return written.startsWith('#') ? written : link.href;
};

function pictureAddress(element: Element): string | undefined {
  if (isTag(element, 'img')) return element.currentSrc || element.src || undefined;
  if (isTag(element, 'canvas')) return drawn(element);
  if (element.localName !== 'svg' || element.namespaceURI !== 'http://www.w3.org/2000/svg') return undefined;
  const words = new XMLSerializer().serializeToString(element);
  return `data:image/svg+xml,${encodeURIComponent(words)}`;
}

/** The canvas as a picture; `undefined` if it contains another site's picture and may not be read. */
function drawn(canvas: HTMLCanvasElement): string | undefined {
  try {
    return canvas.toDataURL('image/png');
  } catch {
    return undefined;
  }
}

/** Styles that a tag implies by itself. */
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

/** Inherited properties; they matter only where an element changes them. */
const inherited = ['font-weight', 'font-style', 'font-family', 'font-size', 'color', 'text-align', 'white-space'];

/** Properties of the element itself, not inherited: decorations and backgrounds. */
const own: Readonly<Record<string, readonly string[]>> = {
  'text-decoration-line': ['none', ''],
  'background-color': ['rgba(0, 0, 0, 0)', 'transparent', ''],
  'vertical-align': ['baseline', ''],
};

/**
 * The change of look that an element makes, as a `style` attribute: its computed style, minus what its tag implies and what it
 * inherits.
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

/** Whether a value belongs to the words: superscript and subscript, and backgrounds of inline elements and cells. */
function isItsOwn(name: string, value: string, display: string): boolean {
  if (name === 'vertical-align') return /^su[bp]/.test(value);
  return name !== 'background-color' || /^(?:inline|table-cell)/.test(display);
}

/** Whether the tag emphasises: then a plain style on it is significant. */
const isEmphasis = ({ tagName }: Element): boolean => /^(?:B|STRONG|I|EM|CITE|DFN|VAR|ADDRESS)$/.test(tagName);

/** The parent in the visible tree: the slot of an assigned node, the host of a shadow tree. */
export function parentOf(node: Node): Element | undefined {
  if (isElement(node) && node.assignedSlot) return node.assignedSlot;
  const parent = node.parentNode;
  if (isShadowRoot(parent)) return parent.host;
  return isElement(parent) ? parent : undefined;
}
