import { html, nothing, type TemplateResult } from 'lit';
import type { PhraseName } from '../../messages/index.ts';
import { type CommandId, commandOf } from './commands.ts';
import { adoptStyle, menuStyle } from './style/later.ts';
import type { ToolbarHost } from './toolbar.ts';

/** Where a menu opens: below an element, or at a point of the window, in CSS pixels. */
export type MenuPlace = Element | { readonly x: number; readonly y: number };

/** A menu of commands (WAI-ARIA 1.2, menu): arrows go through it, letters jump, Escape brings back what had the keyboard. */
export class Menu {
  readonly #host: ToolbarHost;
  readonly #footnote: () => string;
  #ids: readonly CommandId[] = [];
  #title: PhraseName = 'withDrawer';
  #place: MenuPlace = { x: 0, y: 0 };
  isOpen = false;

  constructor(host: ToolbarHost, footnote: () => string) {
    this.#host = host;
    this.#footnote = footnote;
    adoptStyle(host.renderRoot, menuStyle);
  }

  async open(title: PhraseName, ids: readonly CommandId[], place: MenuPlace): Promise<void> {
    this.#title = title;
    this.#ids = ids;
    this.#place = place;
    this.isOpen = true;
    this.#host.redraw();
    await this.#host.updateComplete;
    const box = this.#box;
    if (!box) return;
    if (!box.matches(':popover-open')) box.showPopover();
    this.#put(box);
    this.#items[0]?.focus();
  }

  get #box(): HTMLElement | null {
    return this.#host.renderRoot.querySelector<HTMLElement>('.menu');
  }

  get #items(): readonly HTMLElement[] {
    return [...(this.#box?.querySelectorAll<HTMLElement>('[role="menuitem"]') ?? [])];
  }

  /** Puts it where it was asked for, within the window. */
  #put(box: HTMLElement): void {
    const place = this.#place;
    const below = place instanceof Element ? place.getBoundingClientRect() : undefined;
    const isEnd = this.#host.words.catalogue.direction === 'rtl';
    const { offsetWidth: width, offsetHeight: height } = box;
    const left = below ? (isEnd ? below.left : below.right - width) : (place as { x: number }).x;
    const top = below ? below.bottom + 4 : (place as { y: number }).y;
    box.style.left = `${Math.max(8, Math.min(left, innerWidth - width - 8))}px`;
    box.style.top = `${Math.max(8, Math.min(top, innerHeight - height - 8))}px`;
  }

  render(): TemplateResult | typeof nothing {
    if (!this.isOpen) return nothing;
    const { words } = this.#host;
    return html`<div
      class="menu"
      role="menu"
      popover="auto"
      aria-label=${words.say(this.#title)}
      @keydown=${(event: KeyboardEvent) => this.#onKey(event)}
      @toggle=${(event: ToggleEvent) => this.#onToggle(event)}
    >
      ${this.#ids.map((id) => this.#renderItem(id))}
      ${this.#title === 'withDrawer' ? html`<p role="none">${this.#footnote()}</p>` : nothing}
    </div>`;
  }

  #renderItem(id: CommandId): TemplateResult {
    const { words, model, keymap } = this.#host;
    const { phrase, phraseNow, can } = commandOf(id);
    const isOff = can !== undefined && !can(model);
    const key = keymap.words(id);
    return html`<button
      type="button"
      role="menuitem"
      tabindex="-1"
      aria-disabled=${isOff ? 'true' : nothing}
      aria-keyshortcuts=${key || nothing}
      @click=${() => this.#choose(id, isOff)}
    >
      <span>${words.say(phraseNow?.(model) ?? phrase)}</span>${key === '' ? nothing : html`<kbd aria-hidden="true">${key}</kbd>`}
    </button>`;
  }

  #choose(id: CommandId, isOff: boolean): void {
    if (isOff) return;
    this.#shut();
    void this.#host.perform(id);
  }

  #shut(): void {
    this.#box?.hidePopover();
  }

  /** Whatever shuts it: a choice, Escape, or a click elsewhere. */
  #onToggle({ newState }: ToggleEvent): void {
    if (newState !== 'closed') return;
    // What was chosen may have brought the keyboard elsewhere.
    if (this.#items.some((item) => item.matches(':focus'))) {
      if (this.#place instanceof HTMLButtonElement) this.#place.focus();
      else this.#host.focus();
    }
    this.isOpen = false;
    this.#host.redraw();
  }

  #onKey(event: KeyboardEvent): void {
    const items = this.#items;
    const at = items.findIndex((item) => item.matches(':focus'));
    const steps: Readonly<Record<string, number>> = {
      ArrowDown: at + 1,
      ArrowUp: at - 1 + items.length,
      Home: 0,
      End: items.length - 1,
    };
    const to = steps[event.key] ?? this.#byLetter(event.key, at);
    if (event.key === 'Tab') this.#shut();
    else if (to === undefined) return;
    else items[to % items.length]?.focus();
    event.preventDefault();
    event.stopPropagation();
  }

  #byLetter(key: string, at: number): number | undefined {
    if ([...key].length !== 1 || key === ' ') return undefined;
    const items = this.#items;
    const letter = key.toLowerCase();
    const found = items.findIndex((_, step) => {
      const item = items[(at + 1 + step) % items.length];
      return item?.textContent?.trim().toLowerCase().startsWith(letter);
    });
    return found < 0 ? undefined : at + 1 + found;
  }
}
