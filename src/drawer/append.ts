import { type Join, joinContents } from '../content/index.ts';

import { applyChange, commit } from './commit.ts';
import { withContent } from './edit.ts';
import { checkRunning, isSecret, type KeepOptions, type KeepResult, keep, passedOver, putMedia } from './keep.ts';
import type { CheckedInput } from './schema.ts';
import { readSettings } from './settings.ts';
import type { Part, Snippet } from './snippet.ts';
import { getSnippet, type WritableRows } from './storage.ts';
import { removalChanges } from './take-out.ts';

/** Puts things behind a snippet's own content, each keeping its origin; without one to grow, the first begins one. */
export async function append(
  rows: WritableRows,
  gathered: readonly CheckedInput[],
  onto: string | undefined,
  join: Join | undefined,
  options: KeepOptions & { readonly takeOut: readonly string[] },
): Promise<readonly KeepResult[]> {
  const settings = await readSettings(rows);
  checkRunning(settings, options.now);
  const wanted: CheckedInput[] = [];
  const leftOut: KeepResult[] = [];
  for (const each of gathered) {
    const result = passedOver(each, { ...settings, blanks: 'skip' }); // there is no such thing as appending nothing
    if (result) leftOut.push(result);
    else wanted.push(each);
  }
  if (join !== undefined && JSON.stringify(join) !== JSON.stringify(settings.join))
    await applyChange(rows, { type: 'settings', set: { join } });
  const target = onto ?? (await rows.findLast())?.id;
  if (wanted.length === 0) return leftOut;
  if (target === undefined) {
    const [first, ...rest] = wanted as [CheckedInput, ...CheckedInput[]];
    const kept = await keep(rows, [first], options);
    return [...kept, ...(rest.length > 0 ? await append(rows, rest, undefined, join, options) : []), ...leftOut];
  }
  await putMedia(rows, wanted);
  const before = await getSnippet(rows, target);
  // What the rules left out is not appended, so nothing goes.
  const leaving = new Set(leftOut.some(({ kind }) => kind === 'ignored') ? [] : options.takeOut);
  leaving.delete(target);
  const goes = removalChanges(await Promise.all([...leaving].map((id) => getSnippet(rows, id))));
  const secret = before.secret ?? (wanted.some((each) => isSecret(each, settings)) ? true : undefined);
  const snippet = wanted.reduce(
    (whole, each) => grown(whole, each, join ?? settings.join, options),
    secret ? { ...before, secret } : before,
  );
  await commit(rows, {
    name: { kind: 'appended' },
    changes: [{ type: 'rewrite', snippet, ...(secret !== before.secret && { secrecy: true }) }, ...goes],
    at: options.now,
    reshapes: goes.length > 0,
  });
  const { content: _, ...summary } = snippet;
  return [{ kind: 'appended', position: (await rows.countBefore(summary)) + 1, summary }, ...leftOut];
}

function grown(
  snippet: Snippet,
  { content, origin, language }: CheckedInput,
  join: Join,
  { now, factsOf }: KeepOptions,
): Snippet {
  const joined = joinContents(snippet.content, content, join);
  const first: Part = { origin: snippet.origin, takenAt: snippet.takenAt, what: snippet.facts.what };
  const part: Part = { origin, takenAt: now.toISOString(), what: factsOf(content, language).what };
  return withContent({ ...snippet, parts: [...(snippet.parts ?? [first]), part] }, joined, (joins) =>
    factsOf(joins, language),
  );
}
