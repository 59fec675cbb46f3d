/**
 * What a node is, whichever window it belongs to: each frame has constructors of its own, and `instanceof` knows only the
 * elements of one (HTML, section 2.1.1; Web IDL, section 3.8).
 */

const html = 'http://www.w3.org/1999/xhtml';

export const isNode = (value: unknown): value is Node =>
  typeof value === 'object' && value !== null && 'nodeType' in value && 'ownerDocument' in value;

export const isElement = (value: unknown): value is Element => isNode(value) && value.nodeType === 1;
export const isHtmlElement = (value: unknown): value is HTMLElement => isElement(value) && value.namespaceURI === html;
export const isText = (value: unknown): value is Text => isNode(value) && value.nodeType === 3;
export const isDocument = (value: unknown): value is Document => isNode(value) && value.nodeType === 9;
export const isShadowRoot = (value: unknown): value is ShadowRoot =>
  isNode(value) && value.nodeType === 11 && 'host' in value;

/** Whether it is an HTML element of a tag. */
export const isTag = <T extends keyof HTMLElementTagNameMap>(
  value: unknown,
  tag: T,
): value is HTMLElementTagNameMap[T] => isHtmlElement(value) && value.localName === tag;

/** The window that a node is shown in, whose constructors its page knows. */
export const windowOf = (node: Node): Window & typeof globalThis =>
  (isDocument(node) ? node : node.ownerDocument)?.defaultView ?? window;

/** The frame element that holds a node's page; `undefined` for the outermost page that can be reached. */
export const frameAround = (node: Node): HTMLElement | undefined =>
  (windowOf(node).frameElement as HTMLElement | null) ?? undefined;

/** The page in a frame; `undefined` where it is another site's, which browsers keep apart (HTML, section 7.1.1). */
export const pageInFrame = (frame: Element): Document | undefined =>
  (isTag(frame, 'iframe') && frame.contentDocument) || undefined;

/** Whether it is a frame with another site's page. */
export const isForeignFrame = (element: Element): boolean =>
  isTag(element, 'iframe') && pageInFrame(element) === undefined;

/** What has the focus in a page, also within shadow roots and frames that can be reached. */
export function activeElement(page: Document = document): Element | undefined {
  const active = deepest(page);
  const inner = active && pageInFrame(active);
  return (inner && activeElement(inner)) ?? active;
}

/** What has the focus in a page, also within shadow roots. */
function deepest(page: Document): Element | undefined {
  let active = page.activeElement;
  while (active?.shadowRoot?.activeElement) active = active.shadowRoot.activeElement;
  return active ?? undefined;
}

/** Whether a node, or a frame that it lies in, is within an element that matches. */
export function isWithinAny(node: Node, selector: string): boolean {
  const element = isElement(node) ? node : node.parentElement;
  if (element?.closest(selector)) return true;
  const root = node.getRootNode();
  const around = isShadowRoot(root) ? root.host : frameAround(node);
  return around !== undefined && isWithinAny(around, selector);
}

/**
 * Calls `enter` for a page or a part of one, and for each page in a frame within that can be reached: now and whenever one
 * is loaded, frames within frames too.
 * @param enter listens there until its signal; a frame that is gone may belong to another site by then, so that nothing but
 *   a signal reaches its listeners.
 */
export function inEachFrame(
  root: Document | Element | ShadowRoot,
  enter: (part: Document | Element | ShadowRoot, signal: AbortSignal) => void,
  signal: AbortSignal,
): void {
  const entered = new Map<Element, AbortController>();
  const look = (frame: Element): void => {
    for (const [gone, ending] of entered)
      if (gone === frame || !gone.isConnected) {
        ending.abort();
        entered.delete(gone);
      }
    const page = pageInFrame(frame);
    if (!page || signal.aborted) return;
    // Anew each time: a page that is opened for writing loses its listeners and stays the same object (HTML, 8.4.1).
    const ending = new AbortController();
    entered.set(frame, ending);
    inEachFrame(page, enter, ending.signal);
  };
  const onLoad = ({ target }: Event): void => {
    if (isElement(target)) look(target);
  };
  // The focus goes into a frame without an event of the frame's own: the window hears that it has lost it. This finds frames
  // in shadow roots too, whose loading is not heard outside.
  const onBlur = (): void => {
    const active = deepest(isDocument(root) ? root : (root.ownerDocument ?? document));
    if (active && isInside(active, root)) look(active);
  };
  enter(root, signal);
  root.addEventListener('load', onLoad, { capture: true, signal });
  windowOf(root).addEventListener('blur', onBlur, { signal });
  signal.addEventListener('abort', () => {
    for (const ending of entered.values()) ending.abort();
  });
  for (const frame of root.querySelectorAll('iframe')) look(frame);
}

/** Whether a node lies inside another, through shadow roots and frames. */
export function isInside(node: Node, within: Node): boolean {
  for (let each: Node | null | undefined = node; each; each = above(each)) if (each === within) return true;
  return false;
}

const above = (node: Node): Node | null | undefined =>
  node.parentNode ?? (isShadowRoot(node) ? node.host : isDocument(node) ? frameAround(node) : null);
