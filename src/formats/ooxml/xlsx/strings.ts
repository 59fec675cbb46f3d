import type { Zip } from '../../package/zip.ts';
import type { XmlHandler } from '../../xml/read-xml.ts';
import { namespaces } from '../namespaces.ts';
import { readPart } from '../opc.ts';

/** The shared strings (ISO/IEC 29500-1, 18.4.9) up to the last one asked for; the rest of the part is not read. */
export async function readStrings(zip: Zip, part: string | undefined, last: number): Promise<readonly string[]> {
  const strings: string[] = [];
  if (last < 0) return strings;
  const item = new StringItem();
  const handler: XmlHandler = {
    open: (name) => item.open(name),
    text: (words) => item.text(words),
    close(name) {
      item.close(name);
      if (name === 'si') strings.push(item.take());
    },
    done: () => strings.length > last,
  };
  await readPart(zip, part, namespaces, handler);
  return strings;
}

/** The words of one string item (18.4.8), its rich runs joined and its phonetic guides (18.4.6) left out. */
export class StringItem {
  #words = '';
  #inText = false;
  #inPhonetic = false;

  open(name: string): void {
    if (name === 'rPh') this.#inPhonetic = true;
    if (name === 't') this.#inText = !this.#inPhonetic;
  }

  close(name: string): void {
    if (name === 'rPh') this.#inPhonetic = false;
    if (name === 't') this.#inText = false;
  }

  text(words: string): void {
    if (this.#inText) this.#words += words;
  }

  take(): string {
    const words = this.#words;
    this.#words = '';
    return unescapeXstring(words);
  }
}

/** ST_Xstring (22.9.2.19): `_x000D_` stands for the character of that number. */
export const unescapeXstring = (words: string): string =>
  words.includes('_x')
    ? words.replace(/_x([0-9A-Fa-f]{4})_/g, (_, hex) => String.fromCharCode(Number.parseInt(hex, 16)))
    : words;
