import { byName } from './element.ts';

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
