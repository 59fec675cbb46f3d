import { parseWith } from '../../content/index.ts';
import {
  type Action,
  changesSchema,
  fileChangesSchema,
  hashesOf,
  readActionName,
  type TrimResult,
} from '../../drawer/index.ts';
import { readRow } from '../encryption.ts';
import { associatedData, type ValueEncryption } from './lock.ts';
import type { RowCache } from './row-cache.ts';
import { type Prepare, parseJson } from './snippet-row.ts';

interface ActionRow extends Omit<Action, 'name' | 'changes' | 'files' | 'reshapes'> {
  readonly reshapes: number | null;
  readonly name: string;
  readonly changes: string;
  readonly files: string | null;
}

/** Names are JSON; older drawers have sentences. */
const nameIn = (stored: string): Action['name'] =>
  readActionName(stored.startsWith('{') ? (parseJson(stored) as Action['name']) : stored);

/** The actions to undo and to redo. */
export class History {
  readonly #prepare: Prepare;
  readonly #known: RowCache;
  readonly #sealing: ValueEncryption;

  constructor(prepare: Prepare, known: RowCache, sealing: ValueEncryption) {
    this.#prepare = prepare;
    this.#known = known;
    this.#sealing = sealing;
  }

  find(which: 'last done' | 'first undone'): Action | undefined {
    const order =
      which === 'last done' ? "WHERE state = 'done' ORDER BY number DESC" : "WHERE state = 'undone' ORDER BY number";
    const sql = `SELECT number, state, name, at, changes, files, reshapes FROM action ${order} LIMIT 1`;
    const row = this.#prepare(sql).get() as ActionRow | undefined;
    return row && this.#toAction(row);
  }

  /** Actions to undo, newest first; then actions to redo, in the order of redo. */
  all(): readonly Action[] {
    const rows = this.#prepare(
      `SELECT number, state, name, at, changes, files, reshapes FROM action
       ORDER BY state, CASE state WHEN 'done' THEN -number ELSE number END`,
    ).all() as ActionRow[];
    return rows.map((row) => this.#toAction(row));
  }

  #toAction({ changes, files, number, state, name, at, reshapes }: ActionRow): Action {
    const read = (stored: string, column: 'name' | 'changes' | 'files'): string =>
      this.#sealing.openText(stored, associatedData('action', column, number));
    return readRow(() => ({
      number,
      state,
      name: nameIn(read(name, 'name')),
      at,
      changes: parseWith(changesSchema, parseJson(read(changes, 'changes')), 'history'),
      ...(files !== null && { files: parseWith(fileChangesSchema, parseJson(read(files, 'files')), 'history') }),
      ...(reshapes !== null && { reshapes: true }),
    }));
  }

  put({ number, state, name, at, changes, files, reshapes }: Action): void {
    const seal = (words: string, column: 'name' | 'changes' | 'files'): string =>
      this.#sealing.sealText(words, associatedData('action', column, number));
    this.#prepare(
      'INSERT OR REPLACE INTO action (number, state, name, at, changes, files, reshapes) VALUES (?, ?, ?, ?, ?, ?, ?)',
    ).run([
      number,
      state,
      seal(JSON.stringify(name), 'name'),
      at,
      seal(JSON.stringify(changes), 'changes'),
      files ? seal(JSON.stringify(files), 'files') : null,
      reshapes ? 1 : null,
    ]);
    if (state === 'done')
      this.#known.change('actions', ({ first, last, anyUndone }) => ({
        first: first === 0 ? number : Math.min(first, number),
        last: Math.max(last, number),
        anyUndone,
      }));
    else this.#known.forget('actions');
  }

  /** Forgets undone actions, and done ones beyond `depth`, in batches. */
  trim(depth: number): TrimResult {
    const { first, last, anyUndone } = this.#span();
    const isDeep = last - first + 1 > depth + Math.floor(depth / 10);
    const forgotten = anyUndone || isDeep ? this.#forgotten(isDeep ? last - depth : 0) : [];
    if (anyUndone) this.#prepare("DELETE FROM action WHERE state = 'undone'").run();
    if (isDeep) this.#prepare('DELETE FROM action WHERE number <= ?').run(last - depth);
    this.#known.change('actions', () => ({
      first: isDeep ? last - depth + 1 : first,
      last,
      anyUndone: false,
    }));
    return { last, forgotten };
  }

  /** Actions that refer to bytes: the undone ones and those up to a number. */
  #forgotten(upTo: number): readonly Action[] {
    const mayNeed = this.#sealing.isSealed ? '' : `AND (files IS NOT NULL OR instr(changes, '"media"') > 0)`;
    const sql = `SELECT number, state, name, at, changes, files, reshapes FROM action
                 WHERE (state = 'undone' OR number <= ?) ${mayNeed}`;
    const actions = (this.#prepare(sql).all(upTo) as ActionRow[]).map((row) => this.#toAction(row));
    return actions.filter((action) => hashesOf(action).length > 0);
  }

  #span() {
    return this.#known.of('actions', () => {
      const sql = `SELECT coalesce(min(number), 0) AS first, coalesce(max(number) FILTER (WHERE state = 'done'), 0) AS last,
                          count(*) FILTER (WHERE state = 'undone') > 0 AS anyUndone FROM action`;
      const { first, last, anyUndone } = this.#prepare(sql).get() as { first: number; last: number; anyUndone: number };
      return { first, last, anyUndone: anyUndone > 0 };
    });
  }

  forget(number: number): void {
    this.#prepare('DELETE FROM action WHERE number = ?').run(number);
    this.#known.forget('actions');
  }
}
