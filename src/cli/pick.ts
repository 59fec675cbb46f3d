import { emitKeypressEvents, type Key } from 'node:readline';
import { DrawerError } from '../content/index.ts';
import type { Drawer, Listed } from '../drawer/index.ts';
import { columnsOf, fit, fitEnd } from './columns.ts';
import type { CommandWords } from './command-words.ts';
import type { Context, Terminal } from './context.ts';
import { renderContent } from './render.ts';
import { withDrawer } from './with-drawer.ts';

/** The maximum number of choices shown; more words narrow them down. */
const most = 200;

/**
 * Lets the user pick snippets at a terminal; returns references to them in the order of picking.
 * @throws DrawerError `usage` without a terminal; `refused` if nothing was picked
 */
export async function pick(context: Context, several: boolean): Promise<readonly string[]> {
  const { terminal } = context;
  if (!terminal) throw new DrawerError('usage/command-needs-terminal');
  const picked = await withDrawer(context, (drawer) =>
    new Picker(snippetsOf(drawer, context.words), terminal, several, context.words).run(),
  );
  return picked.map(({ summary }) => `id:${summary.id}`);
}

/** The choices of a picker. */
export interface Choices<T> {
  /** The choices that match the typed words, at most so many. */
  find(typed: string, most: number): Promise<readonly T[]>;
  /** A unique key of a choice. */
  idOf(choice: T): string;
  readonly numberOf: (choice: T) => string;
  readonly nameOf: (choice: T) => string;
  readonly sizeOf: (choice: T) => string;
  readonly originOf: (choice: T) => string;
  /** A preview of a choice, as lines of at most so many columns. */
  preview(choice: T, width: number): Promise<string>;
}

const snippetsOf = (drawer: Drawer, words: CommandWords): Choices<Listed> => ({
  /** A number alone first matches the snippet at that position. */
  async find(typed, count) {
    const sought = typed.split(/\s+/).filter(Boolean);
    const found = sought.length === 0 ? await drawer.list(1, count) : await drawer.find(sought, { limit: count });
    const number = /^[1-9]\d{0,8}$/.test(typed) ? Number(typed) : 0;
    const [named] = number > 0 ? await drawer.list(number, 1) : [];
    return named ? [named, ...found.filter(({ position }) => position !== number)] : found;
  },
  idOf: ({ summary }) => summary.id,
  numberOf: ({ position }) => String(position),
  nameOf: ({ summary }) => summary.label ?? summary.facts.preview,
  sizeOf: ({ summary }) => words.size(summary.facts),
  originOf: ({ summary }) => words.origin(summary),
  async preview({ summary }, width) {
    if (summary.secret) return words.tell('previewHidden');
    return renderContent((await drawer.get(summary.id)).content, width);
  },
});

/** The picker: typing narrows, arrows move, Tab picks several, Enter finishes. Keys are handled in order. */
export class Picker<T> {
  readonly #choices: Choices<T>;
  readonly #terminal: Terminal;
  readonly #several: boolean;
  readonly #words: CommandWords;
  #typed = '';
  #offered: readonly T[] = [];
  #at = 0;
  #picked: T[] = [];
  #preview: readonly string[] = [];

  constructor(choices: Choices<T>, terminal: Terminal, several: boolean, words: CommandWords) {
    this.#choices = choices;
    this.#terminal = terminal;
    this.#several = several;
    this.#words = words;
  }

  /** Runs the picker. @throws DrawerError `refused` if nothing was picked */
  async run(): Promise<readonly T[]> {
    const picked = await this.#ask();
    if (picked.length > 0) return picked;
    throw new DrawerError('refused/command-picked-nothing');
  }

  async #ask(): Promise<readonly T[]> {
    const { input, write } = this.#terminal;
    emitKeypressEvents(input);
    input.setRawMode(true);
    write('\u001b[?1049h\u001b[?25l');
    try {
      await this.#narrow();
      this.#draw();
      return await new Promise((resolve, reject) => {
        let last = Promise.resolve();
        const onKey = (sign: string | undefined, key: Key): void => {
          last = last.then(async () => {
            const result = await this.#press(sign, key);
            if (result) {
              input.off('keypress', onKey);
              resolve(result);
            } else this.#draw();
          });
          last.catch(reject);
        };
        input.on('keypress', onKey);
      });
    } finally {
      write('\u001b[?25h\u001b[?1049l');
      input.setRawMode(false);
      input.pause();
    }
  }

  /** Handles a key; returns the picked choices once the picker is finished. */
  async #press(sign: string | undefined, key: Key): Promise<readonly T[] | undefined> {
    if (key.name === 'escape' || (key.ctrl && (key.name === 'c' || key.name === 'd'))) return [];
    const current = this.#offered[this.#at];
    if (key.name === 'return' || key.name === 'enter')
      return this.#picked.length > 0 ? this.#picked : current ? [current] : undefined;
    if (key.name === 'tab' && this.#several && current) await this.#toggle(current);
    else if (key.name === 'backspace') await this.#type(this.#typed.slice(0, -1));
    else if (key.ctrl && key.name === 'u') await this.#type('');
    else if (key.name !== undefined && key.name in steps) await this.#go(steps[key.name] as number);
    else if (sign && !key.ctrl && !key.meta && /^[^\p{C}]+$/u.test(sign)) await this.#type(this.#typed + sign);
    return undefined;
  }

  async #toggle(choice: T): Promise<void> {
    const at = this.#orderOf(choice);
    if (at >= 0) this.#picked.splice(at, 1);
    else this.#picked.push(choice);
    await this.#go(1);
  }

  async #go(step: number): Promise<void> {
    this.#at = Math.max(0, Math.min(this.#offered.length - 1, this.#at + step));
    await this.#look();
  }

  async #type(words: string): Promise<void> {
    this.#typed = words;
    await this.#narrow();
  }

  #orderOf(choice: T): number {
    const id = this.#choices.idOf(choice);
    return this.#picked.findIndex((each) => this.#choices.idOf(each) === id);
  }

  async #narrow(): Promise<void> {
    this.#offered = await this.#choices.find(this.#typed, most);
    this.#at = 0;
    await this.#look();
  }

  async #look(): Promise<void> {
    const current = this.#offered[this.#at];
    this.#preview = current ? (await this.#choices.preview(current, this.#sides()[1])).split('\n') : [];
  }

  /** The widths of the list and of the preview beside it, in columns. */
  #sides(): readonly [number, number] {
    const { columns } = this.#terminal.size();
    const left = Math.max(28, Math.floor(columns * 0.45));
    return [left, Math.max(16, columns - left - 3)];
  }

  #draw(): void {
    const { rows } = this.#terminal.size();
    const [left, right] = this.#sides();
    const height = Math.max(3, rows - 4);
    const top = Math.max(0, Math.min(this.#at - Math.floor(height / 2), this.#offered.length - height));
    const lines = Array.from({ length: height }, (_, line) => {
      const listed = this.#offered[top + line];
      const row = listed ? this.#row(listed, left) : ' '.repeat(left);
      const isCurrent = listed !== undefined && top + line === this.#at;
      return `${isCurrent ? `\u001b[7m${row}\u001b[27m` : row} │ ${fit(this.#preview[line] ?? '', right).trimEnd()}`;
    });
    const numbers = this.#picked.map(this.#choices.numberOf).join(', ');
    const count = numbers === '' ? '' : `   ${this.#words.tell('picked', { numbers })}`;
    const keys = this.#words.tell(this.#several ? 'pickKeysSeveral' : 'pickKeys');
    const none = this.#offered.length === 0 ? `  ${this.#words.tell('pickNone')}` : '';
    const current = this.#offered[this.#at];
    const page = [
      fit(`${this.#words.tell('pickTyped', { typed: `${this.#typed}_` })}${none}`, left + right + 3).trimEnd(),
      `${' '.repeat(left)} │ ${fit(current ? this.#choices.originOf(current) : '', right).trimEnd()}`,
      ...lines,
      '',
      fit(`${keys}${count}`, left + right + 3).trimEnd(),
    ];
    this.#terminal.write(`\u001b[H${page.map((line) => `${line}\u001b[K`).join('\r\n')}\u001b[J`);
  }

  #row(choice: T, width: number): string {
    const { numberOf, nameOf, sizeOf } = this.#choices;
    const order = this.#orderOf(choice);
    const mark = order < 0 ? '   ' : fitEnd(`${order + 1}.`, 3);
    const size = sizeOf(choice);
    const begins = fit(nameOf(choice), Math.max(8, width - columnsOf(size) - 11));
    return fit(`${mark}${fitEnd(numberOf(choice), 4)}  ${begins}  ${size}`, width);
  }
}

const steps: Readonly<Record<string, number>> = {
  up: -1,
  down: 1,
  pageup: -10,
  pagedown: 10,
  home: -most,
  end: most,
};
