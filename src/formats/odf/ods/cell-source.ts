import type { Cell } from '../../../content/index.ts';
import { x } from '../../xml/element.ts';
import { childOf, tagAttributes, tagWith } from '../../xml/source-tree.ts';
import { escapeAttribute, xmlSource } from '../../xml/write-xml.ts';
import type { ContentHead } from '../additions.ts';
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
  readonly #head: ContentHead;
  readonly #made = new Map<number, string>();

  constructor(head: ContentHead) {
    this.#head = head;
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
    const own = tagAttributes(tag)['table:style-name'];
    return height <= this.#heightOf(own) ? tag : tagWith(tag, { 'table:style-name': this.#nameFor(height) });
  }

  #heightOf(style: string | undefined): number {
    const properties = childOf(this.#head.style(style), 'style:table-row-properties');
    return points(properties?.attributes['style:row-height']) ?? 0;
  }

  #nameFor(height: number): string {
    const known = this.#made.get(height);
    if (known !== undefined) return known;
    const name = this.#head.freeName('R', this.#made.size + 1);
    this.#made.set(height, name);
    return name;
  }
}
