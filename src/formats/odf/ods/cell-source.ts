import type { Cell } from '../../../content/index.ts';
import { x } from '../../xml/element.ts';
import { escapeAttribute, xmlSource } from '../../xml/write-xml.ts';
import { styleSource } from '../additions.ts';
import { spacedText } from '../odt/write-blocks.ts';
import { points } from '../styles.ts';

/**
 * A cell with its typed value (ISO/IEC 26300-1, 9.1.4 and 19.385), and the words that show it behind what else is `inside`,
 * such as a comment.
 */
export function cellSource(cell: Cell, style: string | undefined, spans: string, inside = ''): string {
  const open = `<table:table-cell${style === undefined ? '' : ` table:style-name="${style}"`}${spans}`;
  const valued = (value: string, words: string): string =>
    `${open} ${value}>${inside}${paragraphs(words)}</table:table-cell>`;
  switch (cell.type) {
    case 'empty':
      return inside === '' ? `${open}/>` : `${open}>${inside}</table:table-cell>`;
    case 'text':
      return valued('office:value-type="string"', cell.value);
    case 'error':
      return valued('office:value-type="string"', cell.value);
    case 'number':
      return valued(
        `office:value-type="${cell.format?.includes('%') ? 'percentage' : 'float'}" office:value="${cell.value}"`,
        cell.text || String(cell.value),
      );
    case 'boolean':
      return valued(
        `office:value-type="boolean" office:boolean-value="${cell.value}"`,
        cell.text || String(cell.value).toUpperCase(),
      );
    case 'date':
      return valued(momentValue(cell.value), cell.text || cell.value);
  }
}

/** A day, a moment, or a time of day as a length of time (18.2, duration). */
function momentValue(moment: string): string {
  const [, hours, minutes, seconds] = /^(\d\d):(\d\d):(\d\d)$/.exec(moment) ?? [];
  return hours === undefined
    ? `office:value-type="date" office:date-value="${escapeAttribute(moment)}"`
    : `office:value-type="time" office:time-value="PT${hours}H${minutes}M${seconds}S"`;
}

const paragraphs = (words: string): string =>
  words
    .split('\n')
    .map((line) => `<text:p>${xmlSource(spacedText(line))}</text:p>`)
    .join('');

/** The automatic styles of rows, to which higher ones are added (ISO/IEC 26300-1, 16.17). State: those made so far. */
export class RowHeights {
  readonly #text: string;
  readonly #made = new Map<number, string>();

  constructor(text: string) {
    this.#text = text;
  }

  get made(): string {
    return xmlSource(
      [...this.#made].map(([height, name]) =>
        x('style:style', { 'style:name': name, 'style:family': 'table-row' }, [
          x('style:table-row-properties', {
            'style:row-height': `${height}pt`,
            'style:use-optimal-row-height': 'false',
          }),
        ]),
      ),
    );
  }

  /** The tag of a row that is at least so high, in points. */
  atLeast(tag: string, height: number): string {
    const own = /\stable:style-name="([^"]+)"/.exec(tag)?.[1];
    if (height <= this.#heightOf(own)) return tag;
    const name = ` table:style-name="${this.#nameFor(height)}"`;
    return own === undefined ? tag.replace(/^<[\w.:-]+/, `$&${name}`) : tag.replace(/\stable:style-name="[^"]+"/, name);
  }

  #heightOf(style: string | undefined): number {
    if (style === undefined) return 0;
    const definition = styleSource(this.#text, style);
    return points(/style:row-height="([^"]+)"/.exec(definition)?.[1]) ?? 0;
  }

  #nameFor(height: number): string {
    const known = this.#made.get(height);
    if (known !== undefined) return known;
    let number = this.#made.size + 1;
    while (this.#text.includes(`"DrawerR${number}"`)) number++;
    this.#made.set(height, `DrawerR${number}`);
    return `DrawerR${number}`;
  }
}
