import type { Element } from 'xast';
import type { Cell, Marks } from '../../../content/index.ts';
import { x } from '../../xml/element.ts';
import { xmlSource } from '../../xml/write-xml.ts';
import { styleSource } from '../additions.ts';
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
  readonly #text: string;
  readonly #made = new Map<string, { readonly name: string; readonly elements: readonly Element[] }>();

  constructor(text: string) {
    this.#text = text;
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
    const number = this.#nextNumber();
    const name = `DrawerC${number}`;
    const data = styleOf(format, `DrawerN${number}`);
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
        'style:parent-style-name': this.#parentOf(base),
        'style:data-style-name': data ? `DrawerN${number}` : this.#dataOf(base),
      },
      [
        ...this.#propertiesOf(base, box),
        ...(paragraph ? [paragraph] : []),
        ...(marks ? [x('style:text-properties', textProperties(marks))] : []),
      ],
    );
    this.#made.set(key, { name, elements: [...(data ? [data] : []), style] });
    return name;
  }

  #nextNumber(): number {
    let number = this.#made.size + 1;
    while (this.#text.includes(`"DrawerC${number}"`)) number++;
    return number;
  }

  #definition(name: string | undefined): string {
    return name === undefined ? '' : styleSource(this.#text, name);
  }

  /** An automatic style cannot be built on, so that what it says is said again. */
  #parentOf(base: string | undefined): string {
    const definition = this.#definition(base);
    return (
      /style:parent-style-name="([^"]+)"/.exec(definition)?.[1] ??
      (definition === '' && base !== undefined ? base : 'Default')
    );
  }

  #dataOf(base: string | undefined): string | undefined {
    return /style:data-style-name="([^"]+)"/.exec(this.#definition(base))?.[1];
  }

  #propertiesOf(base: string | undefined, own: Record<string, string>): Element[] {
    const [known = ''] = /<style:table-cell-properties[^<>]*>/.exec(this.#definition(base)) ?? [];
    const before = Object.fromEntries(
      [...known.matchAll(/\s([\w:-]+)="([^"]*)"/g)].map(([, name = '', value = '']) => [name, value]),
    );
    const all = { ...before, ...own };
    return Object.keys(all).length === 0 ? [] : [x('style:table-cell-properties', all)];
  }
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
