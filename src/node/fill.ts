import { basename } from 'node:path';
import { DrawerError, locate } from '../content/index.ts';
import { formatOf, type Slot, type SlotValue, sourceOf } from '../formats/index.ts';
import { nodeTools } from './inflate.ts';
import { fileSystem } from './replace-file.ts';

/** A form and its fields. */
export interface Form {
  readonly file: string;
  readonly bytes: Uint8Array;
  readonly slots: readonly Slot[];
}

/** Reads a form. @throws DrawerError `not-found`; `unsupported` if the file is no form */
export async function readForm(file: string): Promise<Form> {
  try {
    const bytes = await fileSystem.read(file);
    if (!bytes) throw new DrawerError('not-found/file-missing');
    const source = sourceOf(bytes, basename(file));
    const { slots, name } = await (await formatOf(source)).load();
    if (!slots) throw new DrawerError('unsupported/format-without-fields', { format: name });
    return { file, bytes, slots: await slots(source, nodeTools) };
  } catch (error) {
    throw locate(error, file);
  }
}

/** Fills a form. @param values - by the keys of the fields @param language - how words among the values write numbers, a BCP 47 tag */
export async function fillForm(
  { file, bytes }: Form,
  values: ReadonlyMap<string, SlotValue>,
  language?: string,
): Promise<Uint8Array> {
  try {
    const source = sourceOf(bytes, basename(file));
    const { fill } = await (await formatOf(source)).load();
    const tools = { ...nodeTools, ...(language !== undefined && { language }) };
    return fill ? (await fill(source, values, tools)).bytes : bytes;
  } catch (error) {
    throw locate(error, file);
  }
}
