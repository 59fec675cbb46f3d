import { isKey, type Key, parseKey } from '../keys.ts';
import { type CommandId, commandIds, commandOf } from './commands.ts';

/** What the panel does at a key wherever the focus is on the page. */
export const pageKeys = { panel: 'Alt+Shift+P', next: 'Alt+Shift+N' } as const;
/** A key of the whole page. */
export type PageKey = keyof typeof pageKeys;

/** Other keys, such as `{ merge: 'G', panel: 'Control+F9' }`; `null` for none. */
export type KeyChanges = { readonly [K in CommandId | PageKey]?: string | null };

/** The keys that most programs have for undo and redo. */
const usual: readonly (readonly [CommandId, Key])[] = [
  ['undo', parseKey('Control+Z')],
  ['redo', parseKey('Control+Shift+Z')],
  ['redo', parseKey('Control+Y')],
];

/** Which key does what, as the page has it. */
export class Keymap {
  readonly #words = new Map<string, string>();
  readonly #keys = new Map<string, Key>();

  /** @throws DrawerError `usage` for what names no key. */
  constructor(changes: KeyChanges = {}) {
    const own = commandIds.map((id) => [id, commandOf(id).key] as const);
    for (const [id, words] of Object.entries({ ...Object.fromEntries(own), ...pageKeys, ...changes })) {
      if (typeof words !== 'string') continue;
      this.#words.set(id, words);
      this.#keys.set(id, parseKey(words));
    }
  }

  /** The command of a key in the list of snippets; those that every program has for undo and redo are understood too. */
  inList(event: KeyboardEvent): CommandId | undefined {
    return this.#at(event, commandIds) ?? usual.find(([, key]) => isKey(event, key))?.[0];
  }

  /** What the panel does at it wherever the focus is. */
  onPage(event: KeyboardEvent): PageKey | undefined {
    return this.#at(event, Object.keys(pageKeys) as PageKey[]);
  }

  /** A command's key, as people write it; the empty string for none. */
  words(id: CommandId | PageKey): string {
    return this.#words.get(id) ?? '';
  }

  #at<Id extends string>(event: KeyboardEvent, ids: readonly Id[]): Id | undefined {
    return ids.find((id) => {
      const key = this.#keys.get(id);
      return key !== undefined && isKey(event, key);
    });
  }
}
