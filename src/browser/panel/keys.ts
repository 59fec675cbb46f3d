import type { PhraseName } from '../words/index.ts';

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
export const pageKeys = { panel: 'Alt+Shift+P', pasteNext: 'Alt+Shift+N' } as const;
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
