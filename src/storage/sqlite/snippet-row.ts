import type Database from 'libsql';
import { DrawerError, parseWith } from '../../content/index.ts';
import { lookOf, type Snippet, type SnippetSummary, snippetSchema } from '../../drawer/index.ts';
import { damagedRow, readRow } from '../encryption.ts';
import { associatedData, type ValueEncryption } from './lock.ts';

export interface SummaryRow {
  readonly id: string;
  readonly head: string;
}

export interface SnippetRow extends SummaryRow {
  readonly content: string;
}

/** What a row holds. @throws DrawerError `damaged` */
export function snippetIn({ id, head, content }: SnippetRow, sealing: ValueEncryption): Snippet {
  const opened = (column: 'head' | 'content', value: string): unknown =>
    parseJson(sealing.openText(value, associatedData('snippet', column, id)));
  const value = { ...(opened('head', head) as object), content: opened('content', content) };
  return readRow(() => parseWith(snippetSchema, value, 'snippet'));
}

/** What a row is found by, from what it holds. */
export const columnsOf = ({ order, facts, expiresAt }: SnippetSummary, sealing: ValueEncryption) => ({
  order,
  alike: sealing.digest(lookOf(facts)),
  expires: expiresAt ?? null,
  bytes: facts.bytes,
});

/** What a row holds. @throws DrawerError `damaged` */
export function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (cause) {
    throw damagedRow(cause);
  }
}

/** What a work gives; `undefined` where a row is damaged. */
export function unlessDamaged<T>(work: () => T): T | undefined {
  try {
    return work();
  } catch (error) {
    if (DrawerError.is(error)) return undefined;
    throw error;
  }
}

/** A statement, prepared on first use and kept. */
export type Prepare = (sql: string) => Database.Statement;
