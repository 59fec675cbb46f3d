import { descriptionKinds, type Message, parseWith, shapes } from '../content/index.ts';
import type { Change, Settable } from './change.ts';
import { collectForgotten, erase, factsShown } from './erase.ts';
import type { ChangedFile } from './file-change.ts';
import { patterns, summarySchema } from './schema.ts';
import { readSettings, remembered } from './settings.ts';
import { type Snippet, type SnippetSummary, traits } from './snippet.ts';
import { getSnippet, type Rows, type StoredRows, type WritableRows } from './storage.ts';

export interface ActionPlan {
  readonly name: Message;
  readonly changes: readonly Change[];
  readonly at: Date;
  /** How to restore the files that change with it. */
  readonly files?: readonly ChangedFile[];
  /** The removed content stays in another form, so that even a secret can be restored. */
  readonly reshapes?: boolean;
}

/**
 * Applies changes as one action and stores their inverses for undo. Without changes there is no action. An action that cannot be
 * undone is stored by its name only, so that undo reports it instead of undoing the one before.
 */
export async function commit(
  rows: WritableRows,
  { name, changes, at, files = [], reshapes = false }: ActionPlan,
): Promise<void> {
  if (changes.length === 0 && files.length === 0) return;
  for (const { change, between } of files) await rows.putMedia(change.between, between);
  const { undoDepth } = await readSettings(rows);
  const { last, forgotten } = await rows.trimActions(undoDepth - 1);
  const inverses = await applyChanges(rows, changes, reshapes);
  await rows.putAction({
    number: last + 1,
    name,
    at: at.toISOString(),
    state: 'done',
    changes: inverses,
    ...(files.length > 0 && { files: files.map(({ change }) => change) }),
    ...(reshapes && { reshapes }),
  });
  await collectForgotten(rows, forgotten);
}

/**
 * Applies changes in order and returns their inverses, last first. Secrets are erased for good, unless their content stays in
 * another form.
 */
export async function applyChanges(
  rows: WritableRows,
  changes: readonly Change[],
  reshapes = false,
): Promise<Change[]> {
  const inverses: Change[] = [];
  for (const change of changes)
    if (reshapes || !(await eraseWith(rows, change))) inverses.push(await applyChange(rows, change));
  return inverses.reverse();
}

/** Erases a secret that this change removes or makes open; returns whether it did. */
async function eraseWith(rows: WritableRows, change: Change): Promise<boolean> {
  if (change.type !== 'remove' && change.type !== 'rewrite') return false;
  const snippet = await getSnippet(rows, change.type === 'remove' ? change.id : change.snippet.id);
  const next = change.type === 'rewrite' ? rewritten(snippet, change) : undefined;
  if (!snippet.secret || next?.secret) return false;
  await erase(rows, snippet, next);
  return true;
}

/** Applies a change and returns its inverse. @throws DrawerError `invalid` for an invalid summary */
export async function applyChange(rows: Rows, change: Change): Promise<Change> {
  switch (change.type) {
    case 'insert':
      checkSummary(change.snippet);
      await rows.insert(change.snippet);
      return { type: 'remove', id: change.snippet.id };
    case 'remove': {
      const snippet = await getSnippet(rows, change.id);
      await rows.remove(change.id);
      return { type: 'insert', snippet };
    }
    case 'update': {
      const { content: _, ...summary } = await getSnippet(rows, change.id);
      await rows.setSummary(readSummary(withSettings(summary, change.set)));
      return { type: 'update', id: change.id, set: before(summary, change.set) };
    }
    case 'reorder': {
      const { content: _, ...summary } = await getSnippet(rows, change.id);
      await rows.setSummary({ ...summary, order: change.order });
      return { type: 'reorder', id: change.id, order: summary.order };
    }
    case 'rewrite': {
      checkSummary(change.snippet);
      const snippet = await getSnippet(rows, change.snippet.id);
      await rows.remove(snippet.id);
      await rows.insert(rewritten(snippet, change));
      return { ...change, snippet };
    }
    case 'sequence': {
      const { sequence, ...rest } = await remembered(rows);
      await rows.putSettings(JSON.stringify({ ...rest, ...(change.sequence && { sequence: change.sequence }) }));
      return { type: 'sequence', sequence: sequence ?? null };
    }
    case 'settings': {
      const settings: Readonly<Record<string, unknown>> = { ...(await remembered(rows)) };
      const names = Object.keys(change.set);
      const before = Object.fromEntries(names.map((name) => [name, settings[name] ?? null]));
      const after = Object.entries({ ...settings, ...change.set }).filter(([, value]) => value !== null);
      await rows.putSettings(JSON.stringify(Object.fromEntries(after)));
      return { type: 'settings', set: before };
    }
    case 'elsewhere':
      return change; // applied by `undoOrRedo`
  }
}

/** A snippet after a rewrite: others may have moved or marked it since the change was made. */
function rewritten(snippet: Snippet, { snippet: wanted, secrecy }: Change & { readonly type: 'rewrite' }): Snippet {
  const { label: _, held: __, expiresAt: ___, secret, ...rest } = wanted;
  const { order, label, held, expiresAt } = snippet;
  const secretNow = secrecy ? secret : (snippet.secret ?? secret);
  return {
    ...rest,
    order,
    facts: factsShown(wanted.facts, secretNow),
    ...(label !== undefined && { label }),
    ...(held && { held }),
    ...(secretNow && { secret: secretNow }),
    ...(expiresAt !== undefined && { expiresAt }),
  };
}

/** Refuses a summary that could not be read back. @throws DrawerError `invalid` */
function checkSummary({ content: _, ...summary }: Snippet): void {
  readSummary(summary);
}

const settable = ['label', 'held', 'secret', 'expiresAt', 'facts'] as const;

function withSettings(summary: SnippetSummary, set: Settable): SnippetSummary {
  const both = { ...summary, ...set };
  return Object.fromEntries(Object.entries(both).filter(([, value]) => value !== null)) as unknown as SnippetSummary;
}

const before = (summary: SnippetSummary, set: Settable): Settable =>
  Object.fromEntries(settable.filter((name) => name in set).map((name) => [name, summary[name] ?? null]));

/**
 * Reads a stored value as a snippet's summary. Lists read many of them right after the program starts, where the schema would
 * take most of the time, so a quick check accepts the usual summaries and the schema decides on the rest.
 * @throws DrawerError `invalid`, with the path of the first fault
 */
export const readSummary = (value: unknown): SnippetSummary =>
  isPlainSummary(value) ? value : parseWith(summarySchema, value, 'snippet');

/** Whether a summary is certainly valid; `false` if unsure, and for summaries with parts. */
function isPlainSummary(value: unknown): value is SnippetSummary {
  return (
    isRecord(value) &&
    hasOnly(value, keys.summary) &&
    isText(value.id, 64) &&
    isLike(value.order, patterns.order) &&
    isOrigin(value.origin) &&
    isLike(value.takenAt, patterns.moment) &&
    isFacts(value.facts) &&
    (!('language' in value) || isLike(value.language, patterns.language)) &&
    (!('label' in value) || isText(value.label, 4096)) &&
    (!('held' in value) || value.held === true) &&
    (!('secret' in value) || value.secret === true || value.secret === 'once') &&
    (!('expiresAt' in value) || isLike(value.expiresAt, patterns.moment))
  );
}

const keys = {
  summary: ['id', 'order', 'origin', 'takenAt', 'facts', 'language', 'label', 'held', 'secret', 'expiresAt'],
  origin: ['file', 'place', 'piece', 'title', 'url', 'program'],
  piece: ['number', 'of'],
  description: ['kind', 'params'],
  facts: ['shape', 'what', 'preview', 'characters', 'words', 'lines', 'bytes', 'traits'],
} as const;

function isOrigin(value: unknown): boolean {
  if (!isRecord(value) || !hasOnly(value, keys.origin)) return false;
  for (const key in value) if (!(key === 'piece' ? isPiece(value[key]) : isText(value[key], 4096))) return false;
  return true;
}

const isPiece = (value: unknown): boolean =>
  isRecord(value) && hasOnly(value, keys.piece) && isCount(value.number) && isCount(value.of);

function isFacts(value: unknown): boolean {
  return (
    isRecord(value) &&
    hasOnly(value, keys.facts) &&
    isOneOf(value.shape, shapes) &&
    isDescription(value.what) &&
    typeof value.preview === 'string' &&
    isCount(value.characters) &&
    isCount(value.words) &&
    isCount(value.lines) &&
    isCount(value.bytes) &&
    (!('traits' in value) || (Array.isArray(value.traits) && value.traits.every((trait) => isOneOf(trait, traits))))
  );
}

function isDescription(value: unknown): boolean {
  if (!isRecord(value) || !hasOnly(value, keys.description) || !isOneOf(value.kind, descriptionKinds)) return false;
  return !('params' in value) || (isRecord(value.params) && Object.values(value.params).every(Number.isFinite));
}

type Fields = Readonly<Record<string, unknown>>;

/** Whether a parsed JSON value is an object. */
const isRecord = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype;

function hasOnly(value: Fields, known: readonly string[]): boolean {
  for (const key of Object.keys(value)) if (!known.includes(key)) return false;
  return true;
}

const isText = (value: unknown, longest: number): boolean =>
  typeof value === 'string' && value.length > 0 && value.length <= longest;
const isLike = (value: unknown, pattern: RegExp): boolean => typeof value === 'string' && pattern.test(value);
const isOneOf = (value: unknown, all: readonly unknown[]): boolean => all.includes(value);
const isCount = (value: unknown): boolean => Number.isInteger(value) && (value as number) >= 0;

// --- Expired snippets -------------------------------------------------------------------------------------------------

/** Whether a snippet is removed when its time is up: held ones stay, unless they are secret. */
export const expires = ({ held, secret }: SnippetSummary): boolean => !held || secret !== undefined;

/** The snippets to remove since their time is up. */
export const expiredIn = async (rows: StoredRows, now: Date): Promise<readonly SnippetSummary[]> =>
  (await rows.expired(now.toISOString())).filter(expires);

/** Removes them, secret ones without a trace. Those that undo restores stay. */
export async function removeExpired(rows: WritableRows, now: Date): Promise<void> {
  const going = await expiredIn(rows, now);
  if (going.length === 0) return;
  for (const { expiresAt: _, ...summary } of going) await rows.setSummary(summary);
  const open = going.filter(({ secret }) => !secret).length;
  await commit(rows, {
    name: { kind: 'expired', params: { count: open } },
    changes: going.map(({ id }): Change => ({ type: 'remove', id })),
    at: now,
  });
}
