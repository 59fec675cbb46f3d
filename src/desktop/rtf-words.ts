import { TextDecoder } from '@exodus/bytes/encoding.js';
import { latin1fromString, latin1toString } from '@exodus/bytes/single-byte.js';

/** Destinations that hold no text of the document, besides those marked with `\*`. */
const skippedDestinations = new Set(
  (
    'fonttbl colortbl stylesheet info pict object listtable listoverridetable revtbl rsidtbl xmlnstbl filetbl ' +
    'header headerl headerr headerf footer footerl footerr footerf fldinst bkmkstart bkmkend xe tc'
  ).split(' '),
);
/** Control words and symbols that stand for characters. */
const characters: Readonly<Record<string, string>> = {
  par: '\n',
  line: '\n',
  sect: '\n',
  page: '\n',
  row: '\n',
  nestrow: '\n',
  '\n': '\n',
  '\r': '\n',
  tab: '\t',
  cell: '\t',
  nestcell: '\t',
  '~': '\u00a0',
  _: '\u2011',
  emdash: '—',
  endash: '–',
  emspace: '\u2003',
  enspace: '\u2002',
  bullet: '•',
  lquote: '‘',
  rquote: '’',
  ldblquote: '“',
  rdblquote: '”',
  '{': '{',
  '}': '}',
  '\\': '\\',
};
/** A control word with its number, a byte in hexadecimal, a control symbol, a brace, or text. */
const token = /\\([a-z]{1,32})(-?\d{1,10})? ?|\\'([\da-f]{2})|\\([^a-z])|([{}])|([^\\{}\r\n\0]+)/gi;

/** What holds within a pair of braces. */
interface Group {
  readonly isSkipped: boolean;
  readonly isHidden: boolean;
  /** How many characters after a Unicode character stand in for it (`\uc`). */
  readonly standIns: number;
}

/**
 * Reads the words of a Rich Text Format document, version 1.9.1: paragraphs end with a line end, cells of a table with a tab.
 * Formatting, pictures, headers and footers are left out; of a field only its result is read.
 * @param bytes - the document, as a program puts it on a clipboard
 */
export function rtfWords(bytes: Uint8Array): string {
  const source = latin1toString(bytes);
  const reader = new RtfReader(decoderOf(/\\ansicpg(\d+)/.exec(source)?.[1]));
  token.lastIndex = 0;
  for (let found = token.exec(source); found; found = token.exec(source)) {
    const [, word, number = '1', byte, symbol, brace, text] = found;
    if (word === 'bin') token.lastIndex += Number(number);
    else if (word !== undefined) reader.control(word, Number(number));
    else if (symbol !== undefined) reader.control(symbol, 1);
    else if (brace !== undefined) reader.group(brace);
    else reader.text(byte === undefined ? (text ?? '') : String.fromCharCode(Number.parseInt(byte, 16)));
  }
  return reader.words();
}

class RtfReader {
  readonly #decoder: TextDecoder;
  readonly #outer: Group[] = [];
  #group: Group = { isSkipped: false, isHidden: false, standIns: 1 };
  /** How many characters still stand in for the last Unicode character. */
  #standIns = 0;
  #words = '';
  /** Bytes of text in the code page, one in each UTF-16 unit. */
  #encoded = '';

  constructor(decoder: TextDecoder) {
    this.#decoder = decoder;
  }

  words(): string {
    this.#decode();
    return this.#words.replace(/\t\n/g, '\n').trimEnd();
  }

  group(brace: string): void {
    this.#standIns = 0;
    if (brace === '{') this.#outer.push(this.#group);
    else this.#group = this.#outer.pop() ?? this.#group;
  }

  text(encoded: string): void {
    if (!this.#isLeftOut()) this.#encoded += encoded.slice(this.#standIns);
    this.#standIns = Math.max(0, this.#standIns - encoded.length);
  }

  control(word: string, number: number): void {
    if (word === 'u') {
      this.#add(String.fromCharCode(number & 0xffff));
      this.#standIns = this.#group.standIns;
    } else if (word === 'uc') this.#group = { ...this.#group, standIns: number };
    else if (word === 'v') this.#group = { ...this.#group, isHidden: number !== 0 };
    else if (word === 'plain') this.#group = { ...this.#group, isHidden: false };
    else if (word === '*' || skippedDestinations.has(word)) this.#group = { ...this.#group, isSkipped: true };
    else if (Object.hasOwn(characters, word)) this.#add(characters[word] ?? '');
  }

  #isLeftOut(): boolean {
    return this.#group.isSkipped || this.#group.isHidden;
  }

  #add(character: string): void {
    if (this.#isLeftOut()) return;
    this.#decode();
    this.#words += character;
  }

  #decode(): void {
    this.#words += this.#decoder.decode(latin1fromString(this.#encoded));
    this.#encoded = '';
  }
}

/** Labels (Encoding Standard, section 4.2) of the code pages that are not named `windows-` and their number. */
const otherLabels: Readonly<Record<string, string>> = {
  932: 'shift_jis',
  936: 'gbk',
  949: 'euc-kr',
  950: 'big5',
  10000: 'macintosh',
  65001: 'utf-8',
};

/** The decoder of a Windows code page; that of 1252 for unknown ones. */
function decoderOf(page = '1252'): TextDecoder {
  try {
    return new TextDecoder(otherLabels[page] ?? `windows-${page}`);
  } catch {
    return new TextDecoder('windows-1252');
  }
}
