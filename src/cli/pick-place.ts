import { DrawerError } from '../content/index.ts';
import type { OutlineEntry } from '../formats/index.ts';
import type { Words } from '../messages/index.ts';
import { numberedEntries, outlineFile, readFromFile } from '../node/index.ts';
import { type Place, parseFragment, printPlace } from '../places/index.ts';
import type { Context } from './context.ts';
import { findPlace, type GatherOptions, readOptions, withProgress } from './gather.ts';
import { type Choices, Picker } from './pick.ts';
import { renderContent } from './render.ts';

type Numbered = OutlineEntry & { readonly number: number };

/**
 * Lets somebody at a terminal pick places in the outline of each file, and gives them in the order they were picked.
 * @throws DrawerError `usage` where there is no terminal or no file, `refused` when nothing was picked.
 */
export async function pickPlaces(
  files: readonly string[],
  options: GatherOptions,
  context: Context,
): Promise<readonly string[]> {
  const { terminal, passphraseOf } = context;
  if (!terminal || files.length === 0)
    throw new DrawerError(terminal ? 'usage/command-pick-what' : 'usage/command-needs-terminal');
  const words = await context.words.load();
  const picked: string[] = [];
  for (const each of files) {
    const { file } = await findPlace(each);
    const reading = { ...readOptions(options), passphraseOf };
    const { entries } = await withProgress(context.words.tell('reading', { file }), context, (onRead) =>
      outlineFile(file, { ...reading, onRead }),
    );
    const numbered = numberedEntries(entries).map((entry, index) => ({ ...entry, number: index + 1 }));
    const placeOf = ({ place }: OutlineEntry): Place => ({ file, fragment: parseFragment(place) });
    const choices = placesOf(
      numbered,
      file,
      words,
      async (entry) => (await readFromFile(placeOf(entry), reading)).content,
    );
    picked.push(
      ...(await new Picker(choices, terminal, true, context.words).run()).map((entry) => printPlace(placeOf(entry))),
    );
  }
  return picked;
}

const placesOf = (
  entries: readonly Numbered[],
  file: string,
  words: Words,
  read: (entry: Numbered) => Promise<Parameters<typeof renderContent>[0]>,
): Choices<Numbered> => ({
  async find(typed, most) {
    const sought = typed.toLowerCase().split(/\s+/).filter(Boolean);
    const fits = ({ number, label, place }: Numbered): boolean =>
      sought.every((word) => `${number} ${label} ${place}`.toLowerCase().includes(word));
    return entries.filter(fits).slice(0, most);
  },
  idOf: ({ place }) => place,
  numberOf: ({ number }) => String(number),
  nameOf: ({ depth, label, kind }) => `${'  '.repeat(depth)}${label || kind}`,
  sizeOf: ({ size }) => words.part(size),
  originOf: ({ place }) => `${file}#${place}`,
  preview: async (entry, width) => renderContent(await read(entry), width),
});
