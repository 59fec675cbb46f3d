import { isSafeHref } from '../../content/index.ts';

/** An address made whole from where its page is; `undefined` for those that lead nowhere safe. */
export function absolute(href: string | undefined, base: string | undefined, also?: RegExp): string | undefined {
  if (href === undefined) return undefined;
  const trimmed = href.trim();
  if (isSafeHref(trimmed) || also?.test(trimmed)) return trimmed;
  try {
    const { href: whole } = new URL(trimmed, base);
    return isSafeHref(whole) ? whole : undefined;
  } catch {
    return undefined; // relative, and the page's own address is not known
  }
}
