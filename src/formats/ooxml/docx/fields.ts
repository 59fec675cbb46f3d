import { isSafeHref, type Link } from '../../../content/index.ts';

interface Field {
  instruction: string;
  inResult: boolean;
  link?: Link | undefined;
}

/** The complex fields (ISO/IEC 29500-1, 17.16.18) open at a point: their codes are passed over, their results read. */
export class Fields {
  readonly #open: Field[] = [];

  change(type: string | undefined): void {
    const field = this.#open.at(-1);
    if (type === 'begin') this.#open.push({ instruction: '', inResult: false });
    else if (type === 'separate' && field) {
      field.inResult = true;
      field.link = linkOf(field.instruction);
    } else if (type === 'end') this.#open.pop();
  }

  instruct(words: string): void {
    const field = this.#open.at(-1);
    if (field && !field.inResult && field.instruction.length < 8192) field.instruction += words;
  }

  /** Whether what is heard belongs to a field's code, which is not shown. */
  get inCode(): boolean {
    return this.#open.some(({ inResult }) => !inResult);
  }

  get link(): Link | undefined {
    return this.#open.findLast(({ link }) => link !== undefined)?.link;
  }
}

/** Where a HYPERLINK field (17.16.5.25) leads; `undefined` for other fields and places outside the web. */
export function linkOf(instruction: string): Link | undefined {
  const [, rest] = /^\s*HYPERLINK\s(.*)$/is.exec(instruction) ?? [];
  if (rest === undefined) return undefined;
  const [, anchor] = /\\l\s+"([^"]*)"/i.exec(rest) ?? [];
  const [, quoted, bare] = /^\s*(?:"([^"]*)"|([^\s"\\]\S*))/.exec(rest) ?? [];
  return safeLink(quoted ?? bare ?? '', anchor);
}

/** A link to an address, or with none to a bookmark of the same document. */
export function safeLink(address: string, anchor: string | undefined, title?: string): Link | undefined {
  const bare = address.trim().replaceAll(' ', '%20');
  const href = bare === '' && anchor ? `#${encodeURIComponent(anchor)}` : bare;
  if (!isSafeHref(href)) return undefined;
  return title === undefined ? { href } : { href, title };
}
