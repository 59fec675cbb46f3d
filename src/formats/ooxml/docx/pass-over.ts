import type { Styles } from './styles.ts';

/** What makes a paragraph more than words that can be passed over: another inside it, a number, a level, a change. */
const telling = /<w:(?:p[ >]|numPr|outlineLvl|del[ >/]|moveFrom)|<!/;
const styled = /<w:pStyle w:val="([^"&]*)"/;

/**
 * Passes over paragraphs that nobody wants and that tell nothing of what follows: no headings, no items of a list. They are
 * most of a long document, and need not be heard tag by tag.
 */
export class PassingOver {
  readonly #styles: Styles;
  readonly #known = new Map<string | undefined, boolean>();

  constructor(styles: Styles) {
    this.#styles = styles;
  }

  /** Where such a paragraph that begins here ends; -1 when it is another, or not whole. */
  paragraph(text: string, start: number): number {
    if (!text.startsWith('<w:p>', start) && !text.startsWith('<w:p ', start)) return -1;
    const tagEnd = text.indexOf('>', start);
    if (tagEnd < 0 || text[tagEnd - 1] === '/') return -1;
    const end = text.indexOf('</w:p>', tagEnd);
    if (end < 0) return -1;
    const inside = text.slice(tagEnd, end);
    if (telling.test(inside)) return -1;
    const style = styled.exec(inside)?.[1];
    if (style === undefined && inside.includes('<w:pStyle')) return -1;
    return this.#isPlain(style) ? end + '</w:p>'.length : -1;
  }

  /** Whether paragraphs of a style are neither headings nor items. */
  #isPlain(id: string | undefined): boolean {
    const known = this.#known.get(id);
    if (known !== undefined) return known;
    const style = this.#styles.find(id) ?? this.#styles.plain;
    const isPlain =
      this.#styles.meaning(style, undefined).kind !== 'heading' && (style.paragraph.numberingId ?? '0') === '0';
    this.#known.set(id, isPlain);
    return isPlain;
  }
}
