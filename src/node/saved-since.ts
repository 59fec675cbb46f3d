import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Listed } from '../drawer/index.ts';

/**
 * Ids of the snippets whose file was saved again since they were gathered.
 * @param place - the folder of the files, or a function from a file's name to its path; snippets of other files are left out
 */
export async function savedSince(
  listed: readonly Listed[],
  place: string | ((file: string) => Promise<string>) = '.',
): Promise<ReadonlySet<string>> {
  const pathOf = typeof place === 'string' ? async (file: string) => join(place, file) : place;
  const names = new Set(listed.flatMap(({ summary }) => summary.origin.file ?? []));
  const saved = new Map<string, number>();
  for (const name of names) {
    const found = await pathOf(name)
      .then((path) => stat(path))
      .catch(() => undefined);
    if (found?.isFile()) saved.set(name, found.mtimeMs);
  }
  return new Set(
    listed
      .filter(({ summary: { origin, takenAt } }) => (saved.get(origin.file ?? '') ?? 0) > Date.parse(takenAt))
      .map(({ summary }) => summary.id),
  );
}
