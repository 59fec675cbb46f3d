import { type Fragment, parseFragment } from 'drawer';
import type { DrawerPanel } from 'drawer/browser';
import type { OutlineEntry } from 'drawer/formats';
import { element, make } from './element.ts';
import type { Say } from './words/index.ts';

/** Signs for what is no heading, beside its words. */
const signs: Readonly<Record<string, string>> = { table: '▦', list: '☰', picture: '▣', sheet: '▤', column: '▯' };

/** What the outline does with a place. */
interface OutlineActions {
  go(place: string): void;
  keep(place: string): void;
}

/** The places of the open file as a list: arrows and clicks go there, letters jump, Enter and a double click keep. */
export class OutlineList {
  readonly #panel: DrawerPanel;
  readonly #actions: OutlineActions;
  readonly #box = element('outline', HTMLElement);
  readonly #list = element('place', HTMLElement);
  readonly #toggle = element('contents', HTMLButtonElement);
  #entries: readonly OutlineEntry[] = [];
  #at = 0;
  #typed = '';
  #typedAt = 0;

  constructor(panel: DrawerPanel, actions: OutlineActions, say: Say) {
    this.#panel = panel;
    this.#actions = actions;
    this.#list.setAttribute('aria-label', say('places'));
    this.#toggle.addEventListener('click', () => this.#open(this.#box.hidden !== false));
    this.#list.addEventListener('keydown', (event) => this.#onKey(event));
    this.#list.addEventListener('click', ({ target }) => this.#goTo(indexOf(target)));
    this.#list.addEventListener('dblclick', () => this.#keep());
    element('keep-place', HTMLButtonElement).addEventListener('click', () => this.#keep());
  }

  show(entries: readonly OutlineEntry[]): void {
    this.#entries = entries;
    this.#at = 0;
    this.#typed = '';
    const { words } = this.#panel;
    this.#list.replaceChildren(
      ...entries.map(({ label, size, depth, kind }, index) => {
        const sign = signs[kind];
        const row = make(
          'li',
          { role: 'option', id: `place-${index}`, 'aria-selected': String(index === 0), 'data-index': String(index) },
          ...(sign ? [make('span', { 'aria-hidden': 'true', class: 'sign' }, sign)] : []),
          make('span', { dir: 'auto' }, label),
          ...(size ? [make('small', {}, words.part(size))] : []),
        );
        row.style.paddingInlineStart = `${0.6 + depth * 0.9}rem`;
        return row;
      }),
    );
    this.#mark();
  }

  #open(isOpen: boolean): void {
    this.#box.hidden = !isOpen;
    this.#toggle.setAttribute('aria-expanded', String(isOpen));
    if (isOpen) this.#list.focus();
  }

  #goTo(index: number | undefined): void {
    const entry = index === undefined ? undefined : this.#entries[index];
    if (!entry || index === undefined) return;
    this.#at = index;
    this.#mark();
    this.#actions.go(entry.place);
  }

  #keep(): void {
    const entry = this.#entries[this.#at];
    if (entry) this.#actions.keep(entry.place);
  }

  #mark(): void {
    for (const [index, row] of [...this.#list.children].entries())
      row.setAttribute('aria-selected', String(index === this.#at));
    this.#list.setAttribute('aria-activedescendant', `place-${this.#at}`);
    this.#list.children[this.#at]?.scrollIntoView({ block: 'nearest' });
  }

  #onKey(event: KeyboardEvent): void {
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    const last = this.#entries.length - 1;
    const steps: Readonly<Record<string, number>> = {
      ArrowDown: Math.min(last, this.#at + 1),
      ArrowUp: Math.max(0, this.#at - 1),
      Home: 0,
      End: last,
    };
    if (event.key === 'Enter') this.#keep();
    else if (event.key === 'Escape') this.#shut();
    else {
      const to = steps[event.key] ?? this.#byWords(event);
      if (to === undefined) return;
      this.#goTo(to);
    }
    event.preventDefault();
  }

  #shut(): void {
    this.#open(false);
    this.#toggle.focus();
  }

  /** Letters typed one after another find the next place that begins with them. */
  #byWords({ key, timeStamp }: KeyboardEvent): number | undefined {
    if ([...key].length !== 1) return undefined;
    const isOn = timeStamp - this.#typedAt < 1_000;
    this.#typed = (isOn ? this.#typed : '') + key.toLowerCase();
    this.#typedAt = timeStamp;
    const from = this.#typed.length > 1 ? this.#at : this.#at + 1;
    const count = this.#entries.length;
    for (let step = 0; step < count; step++) {
      const index = (from + step) % count;
      if (this.#entries[index]?.label.toLowerCase().startsWith(this.#typed)) return index;
    }
    return this.#at;
  }
}

const indexOf = (target: EventTarget | null): number | undefined => {
  const row = target instanceof Element ? target.closest<HTMLElement>('[data-index]') : null;
  return row ? Number(row.dataset.index) : undefined;
};

/** Where a place of an outline is on the page that shows the file. */
export function elementAt(page: HTMLElement, place: string): Element | undefined {
  const fragment = parseFragment(place);
  const outer = (selector: string): Element[] =>
    [...page.querySelectorAll(selector)].filter((each) => !each.parentElement?.closest('table, ul, ol, blockquote'));
  if (fragment.kind === 'section') {
    const named = [...page.querySelectorAll('h1, h2, h3, h4, h5, h6')].filter(
      (each) => plain(each.textContent) === plain(fragment.name),
    );
    return named[(fragment.nth ?? 1) - 1];
  }
  if (fragment.kind === 'cells') return sheetOf(page, fragment);
  const selectors: Partial<Record<Fragment['kind'], string>> = { table: 'table', list: 'ul, ol' };
  if (fragment.kind === 'picture') return page.querySelectorAll('img')[fragment.from - 1];
  const selector = selectors[fragment.kind];
  return selector !== undefined && 'from' in fragment ? outer(selector)[(fragment.from ?? 1) - 1] : undefined;
}

const sheetOf = (page: HTMLElement, { sheet }: Extract<Fragment, { kind: 'cells' }>): Element | undefined =>
  [...page.querySelectorAll('h3')].find((each) => each.textContent === sheet) ?? undefined;

const plain = (words: string | null): string => (words ?? '').replace(/\s+/g, ' ').trim();
