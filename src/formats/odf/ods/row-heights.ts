import { x } from '../../xml/element.ts';
import { xmlSource } from '../../xml/write-xml.ts';
import { styleSource } from '../additions.ts';
import { points } from '../lengths.ts';

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
