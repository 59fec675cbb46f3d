/** What may run, load or lead on when an SVG is opened by itself, in words that a script cannot do without (SVG 2, section 2). */
const acting =
  /[<:]script|\son\w+\s*=|foreignobject|javascript|xml-stylesheet|<!(?:entity|attlist|doctype[^>]*\[)|w3\.org\/1999\/xhtml|attributename\s*=\s*["'][^"']*href|=\s*(?:"[^"]*&#|'[^']*&#)/i;

/** Where a still picture may point: within itself, to a page, or to pixels that it holds. */
const stillAddress = /^(?:#|https?:\/\/|data:image\/(?:png|jpe?g|gif|webp)[;,])/i;

/**
 * Whether an SVG is nothing but a picture, even when it is opened by itself. As the picture of a page none ever runs a
 * script (SVG 2, section 2.2.6). When in doubt it is not.
 */
export function isStill(svg: Uint8Array): boolean {
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(svg);
  } catch {
    return false;
  }
  const [, encoding = 'utf-8'] = /^\s*<\?xml[^>]*encoding\s*=\s*["']([^"']*)/.exec(text) ?? [];
  if (!/^(?:utf-8|us-ascii)$/i.test(encoding) || acting.test(text)) return false;
  return [...text.matchAll(/\bhref\s*=\s*["']\s*([^"']*)/gi)].every(([, address = '']) => stillAddress.test(address));
}
