import { byName } from './element.ts';

/** Declares prefixes of ours on elements that go into a part, where the part does not declare them the same. */
export class Declarations {
  readonly #missing: readonly { readonly prefix: string; readonly use: RegExp; readonly declaration: string }[];

  constructor(part: string, namespaces: Readonly<Record<string, string>>) {
    const root = /<(?![?!])[^<>]*>/.exec(part)?.[0] ?? '';
    this.#missing = Object.entries(namespaces)
      .filter(([name, uri]) => name.startsWith('xmlns:') && !root.includes(`${name}="${uri}"`))
      .map(([name, uri]) => ({
        prefix: name.slice('xmlns:'.length),
        use: new RegExp(`[<\\s/]${name.slice('xmlns:'.length)}:`),
        declaration: ` ${name}="${uri}"`,
      }));
  }

  /** The source of one element, with what it needs. */
  on(source: string): string {
    const missing = this.#missing
      .filter(({ prefix, use }) => source.includes(`${prefix}:`) && use.test(source))
      .map(({ declaration }) => declaration)
      .join('');
    return missing === '' ? source : source.replace(/^<[\w.:-]+/, `$&${missing}`);
  }
}

const named: Readonly<Record<string, string>> = byName({ amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" });

/** Character references (XML 1.0, section 4.1), and line ends as XML reads them (section 2.11). */
export function decodeReferences(text: string): string {
  const lines = text.includes('\r') ? text.replace(/\r\n?/g, '\n') : text;
  return lines.includes('&')
    ? lines.replace(/&(?:#x([0-9a-fA-F]{1,6})|#(\d{1,7})|(amp|lt|gt|quot|apos));/g, (whole, hex, digits, name) => {
        if (name !== undefined) return named[name] ?? whole;
        const point = hex === undefined ? Number(digits) : Number.parseInt(hex, 16);
        return point > 0 && point <= 0x10ffff ? String.fromCodePoint(point) : whole;
      })
    : lines;
}
