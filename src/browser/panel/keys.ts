import type { PhraseName } from '../../messages/index.ts';
import { isKey, type Key, parseKey } from '../keys.ts';

/** What the list of slips does at a key; a page may change each. */
export const panelKeys = {
  paste: 'Enter',
  choose: 'Space',
  chooseAll: 'Control+A',
  chooseNone: 'Control+Shift+A',
  up: 'Alt+Up',
  down: 'Alt+Down',
  top: 'Alt+Home',
  end: 'Alt+End',
  delete: 'Delete',
  pasteNext: 'N',
  merge: 'M',
  append: 'A',
  split: 'X',
  edit: 'E',
  label: 'L',
  hold: 'H',
  hide: 'S',
  undo: 'U',
  redo: 'R',
  find: '/',
  help: '?',
  leave: 'Escape',
} as const;
export type PanelKey = keyof typeof panelKeys;

/** What the panel does at a key wherever the focus is on the page. */
export const pageKeys = { panel: 'Alt+Shift+P', next: 'Alt+Shift+N' } as const;
export type PageKey = keyof typeof pageKeys;

/** The key's deed in the catalogue's words. */
export const phraseOf: { readonly [K in PanelKey]: PhraseName } = {
  paste: 'do.paste',
  choose: 'do.choose',
  chooseAll: 'do.chooseAll',
  chooseNone: 'do.chooseNone',
  up: 'do.up',
  down: 'do.down',
  top: 'do.top',
  end: 'do.end',
  delete: 'do.delete',
  pasteNext: 'do.pasteNext',
  merge: 'do.merge',
  append: 'do.append',
  split: 'do.split',
  edit: 'do.edit',
  label: 'do.label',
  hold: 'do.hold',
  hide: 'do.hide',
  undo: 'do.undo',
  redo: 'do.redo',
  find: 'do.find',
  help: 'do.help',
  leave: 'do.leave',
};

/** Other keys, such as `{ merge: 'G', panel: 'Control+F9' }`; `null` for none. */
export type KeyChanges = { readonly [K in PanelKey | PageKey]?: string | null };

/** Which key does what, as the page has it. */
export class Keymap {
  readonly #words = new Map<string, string>();
  readonly #keys = new Map<string, Key>();

  /** @throws DrawerError `usage` for what names no key. */
  constructor(changes: KeyChanges = {}) {
    for (const [deed, words] of Object.entries({ ...panelKeys, ...pageKeys, ...changes })) {
      if (typeof words !== 'string') continue;
      this.#words.set(deed, words);
      this.#keys.set(deed, parseKey(words));
    }
  }

  /** What the list of slips does at a key. */
  inList(event: KeyboardEvent): PanelKey | undefined {
    return this.#at(event, Object.keys(panelKeys) as PanelKey[]);
  }

  /** What the panel does at it wherever the focus is. */
  onPage(event: KeyboardEvent): PageKey | undefined {
    return this.#at(event, Object.keys(pageKeys) as PageKey[]);
  }

  /** A deed's key, as people write it; the empty string for none. */
  words(deed: PanelKey | PageKey): string {
    return this.#words.get(deed) ?? '';
  }

  #at<D extends string>(event: KeyboardEvent, deeds: readonly D[]): D | undefined {
    return deeds.find((deed) => {
      const key = this.#keys.get(deed);
      return key !== undefined && isKey(event, key);
    });
  }
}
