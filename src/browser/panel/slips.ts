import { VirtualizerController } from '@tanstack/lit-virtual';
import { html, nothing, type TemplateResult } from 'lit';
import { ref } from 'lit/directives/ref.js';
import { repeat } from 'lit/directives/repeat.js';
import { restyle } from '../../content/index.ts';
import type { Listed } from '../../drawer/index.ts';
import type { MenuPlace } from './menu.ts';
import type { DrawerPanel } from './panel.ts';

/** About how high a slip is, in CSS pixels, until it has been measured. */
const usualHeight = 112;
/** How many drawn previews stay at hand. */
const mostDrawn = 300;
/** What is drawn as it looks. */
const drawnKinds = new Set(['table', 'list', 'picture']);
/** The kind of data that dragged slips carry: their ids, a JSON array. */
export const draggedSlips = 'application/x-drawer-slips';

/**
 * The list of slips, of which only those in sight are laid out. It is one stop of the Tab key; arrows go from slip to slip
 * (WAI-ARIA 1.2, listbox with `aria-activedescendant`).
 */
export class SlipList {
  readonly #panel: DrawerPanel;
  readonly #virtual: VirtualizerController<HTMLElement, HTMLElement>;
  #box: HTMLElement | undefined;
  readonly #drawn = new Map<string, DocumentFragment | 'drawing'>();
  #over: number | undefined;

  constructor(panel: DrawerPanel) {
    this.#panel = panel;
    this.#virtual = new VirtualizerController<HTMLElement, HTMLElement>(panel, {
      count: 0,
      getScrollElement: () => this.#box ?? null,
      estimateSize: () => usualHeight,
      overscan: 4,
    });
  }

  focus(): void {
    this.#box?.focus();
  }

  get isFocused(): boolean {
    return this.#box !== undefined && this.#box === this.#panel.shadowRoot?.activeElement;
  }

  /**
   * Learns how high the rows are that are laid out. After an update, since a row has no height while it is being rendered: a
   * list that takes it for nothing goes on to render all rows there are.
   */
  measure(): void {
    const virtual = this.#virtual.getVirtualizer();
    virtual.measureElement(null); // forgets those that are gone
    for (const row of this.#box?.querySelectorAll<HTMLElement>('[data-index]') ?? []) virtual.measureElement(row);
  }

  /** Brings a row into sight and to hand. */
  show(index: number): void {
    const { model } = this.#panel;
    model.activate(index);
    if (model.rows > 0) this.#virtual.getVirtualizer().scrollToIndex(model.active);
  }

  /** Goes from row to row; whether the key was one for that. */
  walk(event: KeyboardEvent): boolean {
    const { model } = this.#panel;
    if (event.altKey || event.ctrlKey || event.metaKey) return false;
    const box = this.#box?.clientHeight ?? usualHeight;
    const page = Math.max(1, Math.floor(box / usualHeight) - 1);
    const steps: Readonly<Record<string, number>> = {
      ArrowDown: model.active + 1,
      ArrowUp: model.active - 1,
      Home: 0,
      End: model.rows - 1,
      PageDown: model.active + page,
      PageUp: model.active - page,
    };
    const to = steps[event.key];
    if (to === undefined) return false;
    this.show(to);
    if (event.shiftKey && model.atHand) model.choose(model.atHand.summary.id, true);
    return true;
  }

  chooseAtHand(): void {
    const { model } = this.#panel;
    if (model.atHand) model.choose(model.atHand.summary.id);
  }

  render(): TemplateResult {
    const { model, words, listEvents } = this.#panel;
    const virtual = this.#virtual.getVirtualizer();
    if (virtual.options.count !== model.rows) virtual.setOptions({ ...virtual.options, count: model.rows });
    const rows = virtual.getVirtualItems();
    const [first, last] = [rows[0]?.index ?? 0, rows.at(-1)?.index ?? 0];
    model.seen = [first, last];
    this.#panel.sources?.look(rows.flatMap(({ index }) => model.row(index)?.summary.id ?? []));
    const active = model.atHand;
    const isShown = active !== undefined && model.active >= first && model.active <= last;
    return html`<div
      class="slips"
      part="slips"
      role="listbox"
      tabindex="0"
      aria-multiselectable="true"
      aria-label=${words.say('slips')}
      aria-activedescendant=${isShown ? `slip-${active.summary.id}` : nothing}
      ${ref((box) => {
        this.#box = box as HTMLElement | undefined;
      })}
      @keydown=${listEvents.key}
      @dragover=${(event: DragEvent) => this.#onDragOver(event)}
      @dragleave=${() => this.#markOver(undefined)}
      @drop=${(event: DragEvent) => this.#onDrop(event)}
      @contextmenu=${(event: MouseEvent) => this.#onMenu(event)}
    >
      <div class="all" role="presentation" .style=${`block-size: ${virtual.getTotalSize()}px`}>
        ${repeat(
          rows,
          ({ key }) => key,
          ({ index, start }) => this.#renderRow(index, start),
        )}
      </div>
    </div>`;
  }

  #renderRow(index: number, start: number): TemplateResult {
    const { model, words } = this.#panel;
    const slip = model.row(index);
    const turn = slip ? model.turnOf(slip.summary.id) : 0;
    const classes = [
      'slip',
      index % 2 === 1 ? 'even' : '',
      index === model.active ? 'active' : '',
      index === this.#over ? 'over' : '',
      slip ? '' : 'unread',
    ];
    return html`<div
      class=${classes.join(' ')}
      id=${slip ? `slip-${slip.summary.id}` : nothing}
      role="option"
      aria-selected=${turn > 0 ? 'true' : 'false'}
      aria-setsize=${model.rows}
      aria-posinset=${index + 1}
      data-index=${index}
      draggable="true"
      .style=${`transform: translateY(${start}px)`}
      @click=${(event: MouseEvent) => this.#onClick(event, index)}
      @dblclick=${() => this.#panel.listEvents.pasted()}
      @dragstart=${(event: DragEvent) => this.#onDragStart(event, index)}
    >
      <div class="sheet-of-slip">${slip ? this.#renderSlip(slip, turn) : html`<span class="number">${words.say('shown', { number: index + 1, size: '' })}</span>`}</div>
    </div>`;
  }

  #renderSlip({ position, summary }: Listed, turn: number): TemplateResult {
    const { words } = this.#panel;
    const now = new Date();
    const marks = [
      ...(this.#panel.sources?.isSaved(summary.id) ? [words.say('fileSaved')] : []),
      ...(summary.held ? [words.say('held')] : []),
      ...(summary.secret ? [words.say('secret')] : []),
      ...(summary.parts ? [words.say('builtUp', { count: summary.parts.length })] : []),
      ...(summary.expiresAt ? [words.say('goes', { when: words.age(summary.expiresAt, now) })] : []),
    ];
    const origin = words.origin(summary);
    const isDrawn =
      !summary.secret &&
      (summary.facts.shape === 'cells' || summary.facts.shape === 'picture' || drawnKinds.has(summary.facts.what.kind));
    const drawn = isDrawn
      ? this.#preview(summary.id, `${summary.id} ${summary.order} ${summary.facts.bytes} ${summary.facts.preview}`)
      : undefined;
    const swatch = summary.facts.traits?.includes('colour') && CSS.supports('color', summary.facts.preview);
    return html`<span class="number">${position}</span><span class="size">${words.size(summary.facts)}</span>
      <span class="dots" aria-hidden="true">⋯</span>
      ${summary.label === undefined ? nothing : html`<span class="label" dir="auto">${summary.label}</span>`}
      <div class=${drawn ? 'preview drawn' : 'preview'}>
        ${swatch ? html`<span class="swatch" .style=${`background: ${summary.facts.preview}`}></span>` : nothing}
        ${summary.secret ? words.say('hidden') : (drawn ?? summary.facts.preview)}
      </div>
      <span class="foot"
        ><span class="from" dir="auto">${origin}</span>
        ${marks.map((mark) => html`<span class="mark">${mark}</span>`)} <span>${words.age(summary.takenAt, now)}</span>
        ${turn > 0 ? html`<span class="turn">${words.say('chosenAs', { count: turn })}</span>` : nothing}</span
      >`;
  }

  /** A table, list or picture as it looks; its words until it is drawn. */
  #preview(id: string, key: string): Node | undefined {
    const there = this.#drawn.get(key);
    if (there === 'drawing') return undefined;
    if (there) return there.cloneNode(true);
    if (this.#drawn.size >= mostDrawn) this.#drawn.delete(this.#drawn.keys().next().value ?? '');
    this.#drawn.set(key, 'drawing');
    void this.#draw(id, key);
    return undefined;
  }

  async #draw(id: string, key: string): Promise<void> {
    try {
      const { showContent, beginningOf } = await import('../show/nodes.ts');
      const { drawer } = this.#panel.model;
      // In the drawer's own colours: those of a page may not stand out from them.
      const content = restyle(beginningOf((await drawer.get(id)).content), 'local');
      this.#drawn.set(key, showContent(content, await drawer.mediaOf(content)));
      this.#panel.requestUpdate();
    } catch {
      // it went meanwhile: its words stay until the list is read anew
    }
  }

  #onClick(event: MouseEvent, index: number): void {
    if (event.target instanceof Element && event.target.matches('.dots')) return this.#openMenu(index, event.target);
    this.#panel.model.activate(index);
    this.chooseAtHand();
  }

  /** A right click, or the menu key: with the slip below the pointer, or the one at hand. */
  #onMenu(event: MouseEvent): void {
    event.preventDefault();
    const { model } = this.#panel;
    const index = rowOf(event) ?? model.active;
    const row = this.#box?.querySelector(`[data-index="${index}"]`);
    const isPointed = event.clientX > 0 && rowOf(event) !== undefined;
    this.#openMenu(index, isPointed || !row ? { x: event.clientX, y: event.clientY } : row);
  }

  /** A slip that is not among those chosen is what its menu is about, and no other. */
  #openMenu(index: number, place: MenuPlace): void {
    const { model, listEvents } = this.#panel;
    const id = model.row(index)?.summary.id;
    if (id === undefined) return;
    model.activate(index);
    if (!model.chosen.includes(id)) model.chooseOnly([]);
    listEvents.menu(place);
  }

  #onDragStart(event: DragEvent, index: number): void {
    const { model } = this.#panel;
    const slip = model.row(index);
    if (!slip || !event.dataTransfer) return;
    const ids = model.chosen.includes(slip.summary.id) ? model.chosen : [slip.summary.id];
    event.dataTransfer.setData(draggedSlips, JSON.stringify(ids));
    event.dataTransfer.effectAllowed = 'copyMove';
  }

  #onDragOver(event: DragEvent): void {
    event.preventDefault();
    this.#markOver(event.dataTransfer?.types.includes(draggedSlips) ? rowOf(event) : undefined);
  }

  #markOver(index: number | undefined): void {
    if (this.#over === index) return;
    this.#over = index;
    this.#panel.requestUpdate();
  }

  #onDrop(event: DragEvent): void {
    event.preventDefault();
    const { model, listEvents } = this.#panel;
    const over = rowOf(event);
    this.#markOver(undefined);
    const dragged = event.dataTransfer?.getData(draggedSlips) ?? '';
    if (dragged === '') return listEvents.drop(event.dataTransfer);
    const ids: unknown = JSON.parse(dragged);
    if (!Array.isArray(ids) || model.isFinding) return;
    const position = over === undefined ? model.count + 1 : (model.row(over)?.position ?? over + 1);
    listEvents.moved(ids.map(String), position);
  }
}

function rowOf(event: Event): number | undefined {
  const row = event
    .composedPath()
    .find((each): each is HTMLElement => each instanceof HTMLElement && each.dataset.index !== undefined);
  return row && Number(row.dataset.index);
}
