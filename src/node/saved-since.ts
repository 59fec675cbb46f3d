import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Listed } from '../drawer/index.ts';

/**
 * Ids of the snippets whose file was saved again since they were gathered.
 * @param folder - where the files are; snippets of others are left out
 */
export async function savedSince(listed: readonly Listed[], folder = '.'): Promise<ReadonlySet<string>> {
  const names = new Set(listed.flatMap(({ summary }) => summary.origin.file ?? []));
  const saved = new Map<string, number>();
  for (const name of names) {
    const found = await stat(join(folder, name)).catch(() => undefined);
    if (found?.isFile()) saved.set(name, found.mtimeMs);
  }
  return new Set(
    listed
      .filter(({ summary: { origin, takenAt } }) => (saved.get(origin.file ?? '') ?? 0) > Date.parse(takenAt))
      .map(({ summary }) => summary.id),
  );
}
