import { type Drawer, type Listed, parseFragment, picturesIn } from 'drawer';
import { make } from './element.ts';
import { PageText } from './page-text.ts';
import type { KeptCells, SheetView } from './sheet-view.ts';
import type { Say } from './words/index.ts';

/** In CSS pixels, with the space between two. */
const markHeight = 22;
/** How many snippets of one file are marked. */
const mostMarks = 500;
/** How many words of a snippet are looked for on the page. */
const wordsSought = 12;

/** A file as it lies open, for what was kept of it to be marked. */
export interface OpenPage {
  readonly name: string;
  readonly page: HTMLElement;
  readonly sheets: readonly SheetView[];
  /** Names of the pictures on the page, in order. */
  readonly pictures: readonly string[];
  /**
   * Where snippets stand on the page, by their ids; `undefined` where they were looked for and not found. Static: a page that
   * gives way to another would empty its ranges (DOM standard, section 5.5).
   */
  readonly kept: Map<string, StaticRange | undefined>;
}

/**
 * Marks in the margin what was kept of the file that is shown, with the number that each snippet has now: also what was kept
 * by another window, the command or another day, as far as the file still holds it.
 */
export class KeptMarks {
  readonly #drawer: Drawer;
  readonly #say: Say;
  #shown: OpenPage | undefined;
  #renewal: object | undefined;

  constructor(drawer: Drawer, say: Say) {
    this.#drawer = drawer;
    this.#say = say;
    drawer.watch(() => void this.renew());
  }

  show(shown: OpenPage | undefined): void {
    this.#shown = shown;
    void this.renew();
  }

  /** Remembers where on the page a snippet was kept from. */
  add(id: string, beside: Range): void {
    this.#shown?.kept.set(id, new StaticRange(beside));
    void this.renew();
  }

  /** Marks everything anew, such as after the page's width changed. */
  async renew(): Promise<void> {
    const shown = this.#shown;
    const renewal = {};
    this.#renewal = renewal;
    if (!shown) return;
    // A locked drawer tells nothing, and has nothing marked.
    const listed = await this.#drawer.find(`from:${shown.name}`, { limit: mostMarks }).catch(() => []);
    const here = listed.filter(({ summary }) => summary.origin.file === shown.name);
    if (shown.sheets.length === 0) await this.#locate(shown, here);
    if (this.#renewal !== renewal) return;
    if (shown.sheets.length === 0) return this.#put(shown, here);
    const cells = cellsOf(here);
    for (const view of shown.sheets)
      view.showKept(
        cells.filter(({ fragment }) => fragment.sheet === view.sheet),
        this.#say,
      );
  }

  /** Finds where snippets stand that have not been looked for yet. */
  async #locate({ page, pictures, kept }: OpenPage, here: readonly Listed[]): Promise<void> {
    let text: PageText | undefined;
    for (const { summary } of here) {
      if (kept.has(summary.id) || summary.secret) continue;
      text ??= new PageText(page);
      const { preview } = summary.facts;
      const words = preview.split(/\s+/).filter((word) => !/^[·/]?$/.test(word) && !word.endsWith('…'));
      const sought = words.slice(0, wordsSought);
      const section = headingAt(page, summary.origin.place);
      const [range] = [...text.find(sought, 1, section), ...text.find(sought, 1)];
      const beside = range ?? (await this.#pictureOf(summary.id, page, pictures));
      kept.set(summary.id, beside && new StaticRange(beside));
    }
  }

  async #pictureOf(id: string, page: HTMLElement, pictures: readonly string[]): Promise<Range | undefined> {
    const snippet = await this.#drawer.get(id).catch(() => undefined);
    const [picture] = snippet ? picturesIn(snippet.content) : [];
    const shown = picture && page.querySelectorAll('img')[pictures.indexOf(picture.media)];
    return shown && rangeOver(shown);
  }

  #put({ page, kept }: OpenPage, here: readonly Listed[]): void {
    for (const mark of page.querySelectorAll(':scope > .kept')) mark.remove();
    const from = page.getBoundingClientRect().top;
    const marks = here
      .flatMap(({ summary, position }) => {
        const beside = kept.get(summary.id);
        if (!beside || !page.contains(beside.startContainer)) return [];
        return { position, top: Math.round(topOf(beside) - from) };
      })
      .sort((one, other) => one.top - other.top || one.position - other.position);
    let free = 0;
    for (const { position, top } of marks) {
      const mark = make('span', { class: 'kept', title: this.#say('kept', { number: position }) }, String(position));
      // What was kept at the same place stands below.
      mark.style.insetBlockStart = `${Math.max(top, free)}px`;
      free = Math.max(top, free) + markHeight;
      page.append(mark);
    }
  }
}

function topOf(part: StaticRange): number {
  const range = document.createRange();
  range.setStart(part.startContainer, part.startOffset);
  range.setEnd(part.endContainer, part.endOffset);
  return range.getBoundingClientRect().top;
}

/** What was kept as cells. */
const cellsOf = (here: readonly Listed[]): KeptCells[] =>
  here.flatMap(({ summary, position }) => {
    const fragment = summary.origin.place === undefined ? undefined : fragmentIn(summary.origin.place);
    return fragment?.kind === 'cells' ? { fragment, position } : [];
  });

/** A place of a file; the words of a heading may be none. */
function fragmentIn(place: string): ReturnType<typeof parseFragment> | undefined {
  try {
    return parseFragment(place);
  } catch {
    return undefined;
  }
}

/** The heading of a section, or that a snippet stood under. */
function headingAt(page: HTMLElement, place: string | undefined): Element | undefined {
  if (place === undefined) return undefined;
  const fragment = fragmentIn(place);
  const name = fragment?.kind === 'section' ? fragment.name : place;
  return [...page.querySelectorAll('h1, h2, h3, h4, h5, h6')].find(
    (each) => each.textContent?.replace(/\s+/g, ' ').trim() === name,
  );
}

export function rangeOver(of: Element): Range {
  const range = document.createRange();
  range.selectNode(of);
  return range;
}
