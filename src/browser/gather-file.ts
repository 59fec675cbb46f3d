import { gatheredFrom, type SnippetInput } from '../drawer/index.ts';
import { read } from '../formats/index.ts';

/** A whole file as things to keep: snippets of a drawer by themselves, anything else as one. @throws DrawerError that names the file */
export const gatherFile = async (file: File): Promise<readonly SnippetInput[]> =>
  gatheredFrom(file.name, await read(file));
