import { isPaused } from '../../drawer/index.ts';
import type { PhraseName } from '../../messages/index.ts';
import type { Actions } from './actions.ts';
import type { Dialogs } from './dialogs.ts';
import type { PanelHost } from './host.ts';
import type { PanelModel } from './model.ts';

/** What commands are run with. */
export interface CommandHost extends PanelHost {
  readonly actions: Actions;
  readonly dialogs: Dialogs;
  /** Chooses the snippet at hand, or lets it go. */
  chooseAtHand(): void;
  /** Brings the keyboard to the field to find in. */
  focusFind(): void;
  /** Shows less of each snippet, or more. */
  turnDensity(): void;
  /** Lets the choice go first, and then the panel. */
  leave(): void;
}

/** One thing that the panel does. */
export interface PanelCommand {
  /** Its key in the list of snippets; a page may change it. */
  readonly key?: string;
  /** Where its button is: with the chosen snippets, or with the whole drawer; elsewhere it has a place of its own, or none. */
  readonly group?: 'snippets' | 'drawer';
  readonly phrase: PhraseName;
  /** The phrase of its button, where that depends on what is shown. */
  readonly phraseNow?: (model: PanelModel) => PhraseName;
  /** Whether it is in the menu; it always is where this is absent. */
  readonly isOffered?: (host: PanelHost) => boolean;
  /** Whether its button can be pressed; it always can where this is absent. */
  readonly can?: (model: PanelModel) => boolean;
  readonly run: (host: CommandHost) => unknown;
}

const hasSnippets = ({ count }: PanelModel): boolean => count > 0;
const showsSome = ({ rows }: PanelModel): boolean => rows > 0;

const isPausedNow = ({ settings }: PanelModel): boolean => settings !== undefined && isPaused(settings, new Date());

/** Everything that the panel does: its buttons, keys, help and `do` are made from this table, in this order. */
export const panelCommands = {
  paste: { key: 'Enter', phrase: 'do.paste', can: hasSnippets, run: ({ actions }) => actions.paste() },
  pasteAll: { group: 'drawer', phrase: 'do.pasteAll', can: hasSnippets, run: ({ actions }) => actions.pasteAll() },
  pasteAs: {
    key: 'V',
    group: 'snippets',
    phrase: 'do.pasteAs',
    can: hasSnippets,
    run: ({ actions }) => actions.pasteAs(),
  },
  choose: { key: 'Space', phrase: 'do.choose', run: (host) => host.chooseAtHand() },
  label: { key: 'L', group: 'snippets', phrase: 'do.label', can: showsSome, run: ({ dialogs }) => dialogs.label() },
  hold: {
    key: 'H',
    group: 'snippets',
    phrase: 'do.hold',
    phraseNow: ({ atHand }) => (atHand?.summary.held ? 'do.release' : 'do.hold'),
    can: showsSome,
    run: ({ actions }) => actions.hold(),
  },
  hide: {
    key: 'S',
    group: 'snippets',
    phrase: 'do.hide',
    phraseNow: ({ atHand }) => (atHand?.summary.secret ? 'do.open' : 'do.hide'),
    can: showsSome,
    run: ({ actions }) => actions.hide(),
  },
  edit: { key: 'E', group: 'snippets', phrase: 'do.edit', can: showsSome, run: ({ dialogs }) => dialogs.edit() },
  renew: {
    group: 'snippets',
    phrase: 'do.renew',
    isOffered: ({ sources }) => sources !== undefined,
    can: showsSome,
    run: ({ sources }) => sources?.renew(),
  },
  split: { key: 'X', group: 'snippets', phrase: 'do.split', can: showsSome, run: ({ dialogs }) => dialogs.split() },
  append: { key: 'A', group: 'snippets', phrase: 'do.append', can: showsSome, run: ({ dialogs }) => dialogs.append() },
  merge: {
    key: 'M',
    phrase: 'do.merge',
    can: ({ chosen }) => chosen.length > 1,
    run: ({ dialogs }) => dialogs.merge(),
  },
  up: { key: 'Alt+Up', group: 'snippets', phrase: 'do.up', can: showsSome, run: ({ actions }) => actions.move('up') },
  down: {
    key: 'Alt+Down',
    group: 'snippets',
    phrase: 'do.down',
    can: showsSome,
    run: ({ actions }) => actions.move('down'),
  },
  top: {
    key: 'Alt+Home',
    group: 'snippets',
    phrase: 'do.top',
    can: showsSome,
    run: ({ actions }) => actions.move('top'),
  },
  end: {
    key: 'Alt+End',
    group: 'snippets',
    phrase: 'do.end',
    can: showsSome,
    run: ({ actions }) => actions.move('end'),
  },
  copy: { group: 'snippets', phrase: 'do.copy', can: showsSome, run: ({ actions }) => actions.copy() },
  delete: {
    key: 'Delete',
    group: 'snippets',
    phrase: 'do.delete',
    can: showsSome,
    run: ({ actions }) => actions.remove(),
  },
  pasteNext: {
    key: 'N',
    phrase: 'do.pasteNext',
    can: ({ sequence }) => sequence?.next !== undefined,
    run: ({ actions }) => actions.pasteNext(),
  },
  skip: { group: 'drawer', phrase: 'do.skip', can: showsSome, run: ({ actions }) => actions.step(1) },
  stepBack: { group: 'drawer', phrase: 'do.stepBack', can: showsSome, run: ({ actions }) => actions.step(-1) },
  restart: { group: 'drawer', phrase: 'do.restart', can: showsSome, run: ({ actions }) => actions.step('start') },
  chooseAll: {
    key: 'Control+A',
    group: 'drawer',
    phrase: 'do.chooseAll',
    can: showsSome,
    run: ({ actions }) => actions.chooseAll(),
  },
  chooseNone: { key: 'Control+Shift+A', phrase: 'do.chooseNone', run: ({ actions }) => actions.chooseNone() },
  undo: { key: 'U', group: 'drawer', phrase: 'do.undo', run: ({ actions }) => actions.undo() },
  redo: { key: 'R', group: 'drawer', phrase: 'do.redo', run: ({ actions }) => actions.redo() },
  rules: { group: 'drawer', phrase: 'do.rules', run: ({ dialogs }) => dialogs.rules() },
  pause: {
    group: 'drawer',
    phrase: 'do.pause',
    phraseNow: (model) => (isPausedNow(model) ? 'do.resume' : 'do.pause'),
    run: ({ actions, model }) => actions.pause(!isPausedNow(model)),
  },
  lock: {
    group: 'drawer',
    phrase: 'do.lock',
    phraseNow: ({ isLocked }) => (isLocked ? 'do.unlock' : 'do.lock'),
    run: ({ dialogs }) => dialogs.lock(),
  },
  import: {
    group: 'drawer',
    phrase: 'do.import',
    run: ({ actions, dialogs }) => dialogs.files((file) => actions.import(file)),
  },
  export: { group: 'drawer', phrase: 'do.export', can: showsSome, run: ({ actions }) => actions.export() },
  clear: {
    group: 'drawer',
    phrase: 'do.clear',
    can: showsSome,
    run: ({ actions, dialogs }) => dialogs.clear(() => actions.clear()),
  },
  density: {
    group: 'drawer',
    phrase: 'do.dense',
    phraseNow: ({ isDense }) => (isDense ? 'do.roomy' : 'do.dense'),
    run: (host) => host.turnDensity(),
  },
  find: { key: '/', phrase: 'do.find', run: (host) => host.focusFind() },
  help: { key: '?', group: 'drawer', phrase: 'do.help', run: ({ dialogs }) => dialogs.keys() },
  leave: { key: 'Escape', phrase: 'do.leave', run: (host) => host.leave() },
} as const satisfies { readonly [id: string]: PanelCommand };

/** A command of the panel. */
export type CommandId = keyof typeof panelCommands;

export const commandIds = Object.keys(panelCommands) as CommandId[];

export const commandOf = (id: CommandId): PanelCommand => panelCommands[id];
