import type { Element } from 'xast';
import type { Cell, Marks } from '../../../content/index.ts';
import { x } from '../../xml/element.ts';
import { childOf, type SourceElement } from '../../xml/source-tree.ts';
import { xmlSource } from '../../xml/write-xml.ts';
import type { ContentHead } from '../additions.ts';
import { dataStyle } from './data-style-source.ts';

/** Office programs show a truth value as a number unless its style says what it is. */
const truth = 'boolean';

const styleOf = (format: string | undefined, name: string): Element | undefined => {
  if (format === truth) return x('number:boolean-style', { 'style:name': name }, [x('number:boolean')]);
  return format === undefined ? undefined : dataStyle(format, name);
};

/**
 * The automatic styles of cells, to which missing ones are added (ISO/IEC 26300-1, 16.2 and 16.27). State: those made so
 * far.
 */
export class CellFormats {
  readonly #head: ContentHead;
  readonly #made = new Map<string, { readonly name: string; readonly elements: readonly Element[] }>();

  constructor(head: ContentHead) {
    this.#head = head;
  }

  get made(): string {
    return xmlSource([...this.#made.values()].flatMap(({ elements }) => elements));
  }

  /** The name of a style like `base` but for what the cell’s value and look need; `undefined` for none. */
  find(base: string | undefined, cell: Cell, wraps: boolean, withLook: boolean): string | undefined {
    const format = cell.type === 'boolean' ? truth : 'format' in cell ? cell.format : undefined;
    const { marks, background, align } = withLook
      ? cell
      : { marks: cell.marks?.bold ? { bold: true as const } : undefined };
    if (format === undefined && !wraps && !marks && !background && !align) return base;
    const key = JSON.stringify([base, format, wraps, marks, background, align]);
    const known = this.#made.get(key);
    if (known) return known.name;
    const name = this.#head.freeName('C', this.#made.size + 1);
    const dataName = name.replace('DrawerC', 'DrawerN');
    const data = styleOf(format, dataName);
    const before = this.#head.style(base);
    const paragraph = align && x('style:paragraph-properties', { 'fo:text-align': align });
    const box = {
      ...(wraps && { 'fo:wrap-option': 'wrap', 'style:vertical-align': 'top' }),
      ...(background && { 'fo:background-color': background }),
      ...(align && { 'style:text-align-source': 'fix' }),
    };
    const style = x(
      'style:style',
      {
        'style:name': name,
        'style:family': 'table-cell',
        // An automatic style cannot be built on, so that what it says is said again.
        'style:parent-style-name': before
          ? (before.attributes['style:parent-style-name'] ?? 'Default')
          : (base ?? 'Default'),
        'style:data-style-name': data ? dataName : before?.attributes['style:data-style-name'],
      },
      [
        ...propertiesOf(before, box),
        ...(paragraph ? [paragraph] : []),
        ...(marks ? [x('style:text-properties', textProperties(marks))] : []),
      ],
    );
    this.#made.set(key, { name, elements: [...(data ? [data] : []), style] });
    return name;
  }
}

function propertiesOf(before: SourceElement | undefined, own: Record<string, string>): Element[] {
  const all = { ...childOf(before, 'style:table-cell-properties')?.attributes, ...own };
  return Object.keys(all).length === 0 ? [] : [x('style:table-cell-properties', all)];
}

const textProperties = ({ bold, italic, underline, strike, colour, size, font }: Marks): Record<string, string> => ({
  ...(bold && { 'fo:font-weight': 'bold' }),
  ...(italic && { 'fo:font-style': 'italic' }),
  ...(underline && { 'style:text-underline-style': 'solid' }),
  ...(strike && { 'style:text-line-through-style': 'solid' }),
  ...(colour && { 'fo:color': colour }),
  ...(size !== undefined && { 'fo:font-size': `${size}pt` }),
  ...(font && { 'fo:font-family': `'${font.replaceAll("'", '')}'` }),
});
