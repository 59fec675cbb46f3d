import { locate } from '../../content/index.ts';
import { type Gathered, gatheredFrom } from '../../drawer/index.ts';
import { formatOf, type ReadTools, type Taken } from '../../formats/index.ts';
import type { Fragment } from '../../places/index.ts';
import { blobSource } from './blob-source.ts';
import { browserInflate } from './inflate.ts';

/** What a place of a chosen or dropped file holds. @throws DrawerError that names the file */
export async function takeFromBlob(
  blob: Blob,
  name: string,
  fragment: Fragment,
  tools: ReadTools = {},
): Promise<Taken> {
  try {
    const source = blobSource(blob, name);
    const { take } = await (await formatOf(source)).load();
    return (await take?.(source, fragment, { inflate: browserInflate, ...tools })) as Taken;
  } catch (error) {
    throw locate(error, name);
  }
}

/** A whole file as things to keep: snippets of a drawer by themselves, anything else as one. */
export const gatherFile = async (file: File): Promise<readonly Gathered[]> =>
  gatheredFrom(file.name, await takeFromBlob(file, file.name, { kind: 'whole' }));
