import { parseWith } from '../../content/index.ts';
import { lookOf, type Snippet, type SnippetHead, snippetSchema } from '../../drawer/index.ts';
import { readRow } from '../sealing.ts';
import { parseJson } from './damage.ts';
import { placeOf, type Sealing } from './lock.ts';

export interface HeadRow {
  readonly id: string;
  readonly head: string;
}

export interface SnippetRow extends HeadRow {
  readonly content: string;
}

/** What a row holds. @throws DrawerError `damaged` */
export function snippetIn({ id, head, content }: SnippetRow, sealing: Sealing): Snippet {
  const opened = (column: 'head' | 'content', value: string): unknown =>
    parseJson(sealing.openText(value, placeOf('snippet', column, id)));
  const value = { ...(opened('head', head) as object), content: opened('content', content) };
  return readRow(() => parseWith(snippetSchema, value, 'snippet'));
}

/** What a row is found by, from what it holds. */
export const columnsOf = ({ order, facts, expiresAt }: SnippetHead, sealing: Sealing) => ({
  order,
  alike: sealing.digest(lookOf(facts)),
  expires: expiresAt ?? null,
  bytes: facts.bytes,
});
