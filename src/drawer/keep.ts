import { generateNKeysBetween } from 'fractional-indexing';
import { type Content, DrawerError, type Join, joinContents, type Media, plural } from '../content/index.ts';
import { commit } from './commit.ts';
import { type FactsOf, isBlank } from './facts.ts';
import type { FileChange } from './file-change.ts';
import { readSettings } from './settings.ts';
import type { Origin, Part, Snippet, SnippetHead } from './snippet.ts';
import type { StoredRows, WritableRows } from './storage.ts';

/** Something to keep. */
export interface Gathered {
  readonly content: Content;
  readonly origin: Origin;
  /** Bytes of the pictures in the content. */
  readonly media?: Media;
  /** Decides where words end when they are counted. */
  readonly language?: string;
}

/** What became of one gathered thing. A blank is not kept. */
export type KeepResult =
  | {
      readonly kind: 'kept' | 'appended';
      readonly position: number;
      readonly head: SnippetHead;
      /** The same as the newest before it, content and origin. */
      readonly repeats?: true;
      /** How many more the drawer takes, once that is few. */
      readonly room?: number;
    }
  | { readonly kind: 'blank'; readonly origin: Origin };

/** A file that changes with what is kept, because that was cut from it. */
export interface ChangedFile {
  /** The way back. */
  readonly change: FileChange;
  readonly between: Uint8Array;
}

export interface KeepOptions {
  readonly now: Date;
  newId(): string;
  readonly factsOf: FactsOf;
  readonly files?: readonly ChangedFile[];
}

/** Room is told of when it is no more than this share of the drawer's. */
const fewShare = 0.05;

export async function keep(
  rows: WritableRows,
  gathered: readonly Gathered[],
  options: KeepOptions,
): Promise<readonly KeepResult[]> {
  const count = await rows.count();
  const last = await rows.findLast();
  const wanted = gathered.filter(({ content }) => !isBlank(content));
  const { capacity } = await readSettings(rows);
  if (count + wanted.length > capacity) throw full(capacity - count, wanted.length);
  const orders = generateNKeysBetween(last?.order ?? null, null, wanted.length);
  const snippets = wanted.map((each, index) => newSnippet(each, orders[index] as string, options));
  let newest = last && wanted.length > 0 ? await rows.get(last.id) : undefined;
  const repeats = snippets.map((snippet) => {
    const isRepeat = newest !== undefined && isSame(newest, snippet);
    newest = snippet;
    return isRepeat;
  });
  await putMedia(rows, wanted, options.files);
  const files = options.files ?? [];
  const name =
    files.length > 0 ? `Cut ${plural(snippets.length, 'snippet')}` : `Kept ${plural(snippets.length, 'snippet')}`;
  const changes = snippets.map((snippet) => ({ type: 'insert', snippet }) as const);
  await commit(rows, { name, changes, at: options.now, files: files.map(({ change }) => change) });
  const room = capacity - count - snippets.length;
  let kept = 0;
  return gathered.map((each): KeepResult => {
    if (!wanted.includes(each)) return { kind: 'blank', origin: each.origin };
    const { content: _, ...head } = snippets[kept] as Snippet;
    return {
      kind: 'kept',
      position: count + kept + 1,
      head,
      ...(repeats[kept++] && { repeats: true }),
      ...(room <= capacity * fewShare && { room }),
    };
  });
}

async function putMedia(
  rows: WritableRows,
  gathered: readonly Gathered[],
  files: readonly ChangedFile[] = [],
): Promise<void> {
  for (const { media } of gathered) for (const [hash, bytes] of media ?? []) await rows.putMedia(hash, bytes);
  for (const { change, between } of files) await rows.putMedia(change.between, between);
}

const isSame = (one: Snippet, other: Snippet): boolean =>
  JSON.stringify([one.content, one.origin]) === JSON.stringify([other.content, other.origin]);

const newSnippet = (
  { content, origin, language }: Gathered,
  order: string,
  { now, newId, factsOf }: KeepOptions,
): Snippet => ({
  id: newId(),
  order,
  origin,
  takenAt: now.toISOString(),
  facts: factsOf(content, language),
  content,
});

const full = (room: number, wanted: number): DrawerError =>
  new DrawerError({
    code: 'full',
    what: room <= 0 ? 'The drawer is full' : `The drawer has room for ${room} more, not for ${wanted}`,
    next: 'Nothing was kept and nothing let go: take some out first, or use another drawer with --drawer',
  });

/** Puts things behind a snippet's own content, each keeping its origin; without one to grow, the first begins one. */
export async function append(
  rows: WritableRows,
  gathered: readonly Gathered[],
  onto: string | undefined,
  join: Join | undefined,
  options: KeepOptions,
): Promise<readonly KeepResult[]> {
  const settings = await readSettings(rows);
  const wanted = gathered.filter(({ content }) => !isBlank(content));
  const blanks = gathered
    .filter((each) => !wanted.includes(each))
    .map(({ origin }): KeepResult => ({ kind: 'blank', origin }));
  if (join !== undefined && JSON.stringify(join) !== JSON.stringify(settings.join))
    await rows.putSettings(JSON.stringify({ ...settings, join }));
  const target = onto ?? (await rows.findLast())?.id;
  if (wanted.length === 0) return blanks;
  if (target === undefined) {
    const [first, ...rest] = wanted as [Gathered, ...Gathered[]];
    const kept = await keep(rows, [first], options);
    return [...kept, ...(rest.length > 0 ? await append(rows, rest, undefined, join, options) : []), ...blanks];
  }
  await putMedia(rows, wanted, options.files);
  const before = await rows.get(target);
  const snippet = wanted.reduce((whole, each) => grown(whole, each, join ?? settings.join, options), before);
  const files = (options.files ?? []).map(({ change }) => change);
  await commit(rows, {
    name: 'Appended to 1 snippet',
    changes: [{ type: 'rewrite', snippet }],
    at: options.now,
    files,
  });
  const { content: _, ...head } = snippet;
  return [{ kind: 'appended', position: await positionOf(rows, target), head }, ...blanks];
}

function grown(
  snippet: Snippet,
  { content, origin, language }: Gathered,
  join: Join,
  { now, factsOf }: KeepOptions,
): Snippet {
  const joined = joinContents(snippet.content, content, join);
  const first: Part = { origin: snippet.origin, takenAt: snippet.takenAt, what: snippet.facts.what };
  const part: Part = { origin, takenAt: now.toISOString(), what: factsOf(content, language).what };
  return {
    ...snippet,
    content: joined,
    facts: factsOf(joined, language),
    parts: [...(snippet.parts ?? [first]), part],
  };
}

/** The number of a snippet, from 1. Looked for from the end, where what grows mostly is. */
export async function positionOf(rows: StoredRows, id: string): Promise<number> {
  const step = 200;
  for (let end = await rows.count(); end > 0; end -= step) {
    const from = Math.max(0, end - step);
    const found = (await rows.heads(from, end - from)).findIndex((head) => head.id === id);
    if (found >= 0) return from + found + 1;
  }
  return 0;
}
