import {
  type Content,
  compose,
  type Drawer,
  type Gathered,
  keptInWords,
  type Listed,
  type Media,
  type Note,
  notesInWords,
  originInWords,
  plural,
  sizeInWords,
} from 'drawer';
import { htmlFragment } from 'drawer/formats/html-fragment';
import { type Desk, element, isEnabled, make, setEnabled } from './element.ts';

interface DrawerDesk extends Desk {
  paste(content: Content, media: Media): void;
}

/** How many slips are laid out; more are in the drawer, and are pasted all the same. */
const most = 200;

/**
 * The drawer between the file and the draft: its slips in order. Arrows go from slip to slip, the space bar chooses (the
 * order of choosing is the order of pasting), Enter pastes the one at hand, Delete takes out.
 */
export class DrawerPane {
  readonly #drawer: Drawer;
  readonly #desk: DrawerDesk;
  readonly #list = element('slips', HTMLOListElement);
  #listed: readonly Listed[] = [];
  /** Ids in the order they were chosen. */
  #chosen: readonly string[] = [];
  #active = 0;

  constructor(drawer: Drawer, desk: DrawerDesk) {
    this.#drawer = drawer;
    this.#desk = desk;
    this.#list.addEventListener('click', (event) => this.#onClick(event));
    this.#list.addEventListener('dblclick', () =>
      desk.attempt(() => this.#paste([this.#listed[this.#active]?.head.id ?? ''])),
    );
    this.#list.addEventListener('keydown', (event) => this.#onKey(event));
    this.#onPress('paste-chosen', () => this.#paste(this.#chosen));
    this.#onPress('paste-all', async () => this.#paste((await drawer.select(['all'])).map(({ head }) => head.id)));
    this.#onPress('take-out', () => this.#takeOut(this.#chosen));
    this.#onPress('undo', () => this.#undo());
  }

  async keep(gathered: Gathered, notes: readonly Note[]): Promise<void> {
    const [result] = await this.#drawer.keep([gathered]);
    await this.refresh();
    if (result?.kind !== 'kept') return this.#desk.say('Not kept, since there is nothing in it');
    const simplified = notesInWords(notes);
    this.#desk.say([keptInWords(result), ...(simplified ? [simplified] : [])].join('. '));
    this.#activate(result.position - 1);
  }

  async refresh(): Promise<void> {
    this.#listed = await this.#drawer.list(1, most);
    const ids = new Set(this.#listed.map(({ head }) => head.id));
    this.#chosen = this.#chosen.filter((id) => ids.has(id));
    const slips = await Promise.all(this.#listed.map((each) => this.#slip(each)));
    this.#list.replaceChildren(...slips);
    element('empty', HTMLElement).hidden = slips.length > 0;
    element('count', HTMLElement).textContent = plural(await this.#drawer.count(), 'slip');
    this.#mark();
  }

  async #slip({ position, head }: Listed): Promise<HTMLLIElement> {
    const { content } = await this.#drawer.get(head.id);
    const preview = make('div', { class: 'preview' });
    if (content.shape === 'picture' || content.shape === 'cells')
      preview.innerHTML = htmlFragment(content, await this.#drawer.mediaOf(content));
    else preview.textContent = head.facts.preview;
    return make(
      'li',
      {
        id: `slip-${head.id}`,
        role: 'option',
        class: 'slip',
        'aria-selected': 'false',
        'data-shape': head.facts.shape,
      },
      make('span', { class: 'number' }, String(position)),
      make('span', { class: 'size' }, sizeInWords(head.facts)),
      preview,
      make('span', { class: 'from' }, originInWords(head.origin)),
      make('span', { class: 'turn' }),
    );
  }

  #onPress(id: string, work: () => Promise<void>): void {
    const button = element(id, HTMLButtonElement);
    button.addEventListener('click', () => {
      if (isEnabled(button)) this.#desk.attempt(work);
    });
  }

  #onClick(event: MouseEvent): void {
    const slip = event.target instanceof Element ? event.target.closest('.slip') : null;
    const index = slip ? [...this.#list.children].indexOf(slip) : -1;
    if (index < 0) return;
    this.#activate(index);
    this.#choose(index);
  }

  #onKey(event: KeyboardEvent): void {
    const last = this.#listed.length - 1;
    const moves: Record<string, number> = {
      ArrowDown: this.#active + 1,
      ArrowUp: this.#active - 1,
      Home: 0,
      End: last,
    };
    const id = this.#listed[this.#active]?.head.id;
    if (id === undefined) return;
    if (event.key in moves) this.#activate(moves[event.key] ?? 0);
    else if (event.key === ' ') this.#choose(this.#active);
    else if (event.key === 'Enter') this.#desk.attempt(() => this.#paste([id]));
    else if (event.key === 'Delete')
      this.#desk.attempt(() => this.#takeOut(this.#chosen.length > 0 ? this.#chosen : [id]));
    else return;
    event.preventDefault();
  }

  #activate(index: number): void {
    this.#active = Math.max(0, Math.min(index, this.#listed.length - 1));
    this.#mark();
    this.#list.children[this.#active]?.scrollIntoView({ block: 'nearest' });
  }

  #choose(index: number): void {
    const id = this.#listed[index]?.head.id;
    if (id === undefined) return;
    this.#chosen = this.#chosen.includes(id) ? this.#chosen.filter((each) => each !== id) : [...this.#chosen, id];
    this.#mark();
  }

  /** Shows which slip is at hand, and which are chosen as which. */
  #mark(): void {
    this.#listed.forEach(({ head }, index) => {
      const slip = this.#list.children[index];
      const turn = this.#chosen.indexOf(head.id);
      slip?.setAttribute('aria-selected', String(turn >= 0));
      slip?.classList.toggle('active', index === this.#active);
      const badge = slip?.querySelector('.turn');
      if (badge) badge.textContent = turn >= 0 ? `chosen ${turn + 1}` : '';
    });
    const active = this.#listed[this.#active]?.head.id;
    if (active === undefined) this.#list.removeAttribute('aria-activedescendant');
    else this.#list.setAttribute('aria-activedescendant', `slip-${active}`);
    for (const id of ['paste-chosen', 'take-out']) setEnabled(element(id, HTMLButtonElement), this.#chosen.length > 0);
    setEnabled(element('paste-all', HTMLButtonElement), this.#listed.length > 0);
  }

  async #paste(ids: readonly string[]): Promise<void> {
    const snippets = await Promise.all(ids.map((id) => this.#drawer.get(id)));
    const { content } = compose(snippets);
    this.#desk.paste(content, await this.#drawer.mediaOf(content));
    this.#chosen = [];
    this.#mark();
    this.#desk.say(`Pasted ${plural(snippets.length, 'snippet')} into the draft`);
  }

  async #takeOut(ids: readonly string[]): Promise<void> {
    await this.#drawer.remove(ids);
    await this.refresh();
    this.#activate(this.#active);
    this.#desk.say(`Deleted ${plural(ids.length, 'snippet')}. Undo brings ${ids.length === 1 ? 'it' : 'them'} back`);
  }

  async #undo(): Promise<void> {
    const name = await this.#drawer.undo();
    await this.refresh();
    this.#desk.say(name === undefined ? 'Nothing to undo in the drawer' : `Undone: ${name}`);
  }
}
