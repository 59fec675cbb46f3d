import { type OutlineEntry, sourceOf } from '../../formats/index.ts';
import { outlineFile, outlineSource } from '../../node/index.ts';
import { parseFragment, printPlace } from '../../places/index.ts';
import { fit, widest } from '../columns.ts';
import type { Context } from '../context.ts';
import { takeOptions, withProgress } from '../gather.ts';

/** `drawer outline FILE` */
export async function outline(
  file: string,
  { json, as }: { json?: boolean; as?: string },
  context: Context,
): Promise<void> {
  const { print, width, passphraseOf } = context;
  const reading = takeOptions({ ...(as !== undefined && { as }) });
  const { entries, notes } =
    file === '-'
      ? await outlineSource(sourceOf(await context.readInput(), 'standard input'), reading)
      : await withProgress(`Reading ${file}`, context, (onRead) =>
          outlineFile(file, { ...reading, passphraseOf, onRead }),
        );
  const withPlaces = entries.map((entry) => ({
    ...entry,
    place: printPlace({ file, fragment: parseFragment(entry.place) }),
  }));
  if (json) return print(JSON.stringify({ file, entries: withPlaces, notes }, null, 2));
  if (entries.length === 0)
    return print(
      `${file} has no headings, lists, tables or pictures; take all of it with: drawer copy ${quoted(file)}`,
    );
  print(table(entries, width));
  const [first] = withPlaces;
  if (first) print(`\nTake one by its place, such as: drawer copy ${quoted(first.place)}`);
}

function table(entries: readonly OutlineEntry[], width: number): string {
  const labels = entries.map(({ depth, label }) => `${'  '.repeat(depth)}${label}`);
  const places = entries.map(({ place }) => `#${place}`);
  const sizeWidth = widest(
    entries.map(({ size }) => size),
    4,
    20,
  );
  const labelWidth = widest(labels, 8, Math.max(20, Math.floor((width - sizeWidth - 4) / 2)));
  const row = (label: string, size: string, place: string): string =>
    `${fit(label, labelWidth)}  ${fit(size, sizeWidth)}  ${place}`.trimEnd();
  return [
    row('What', 'Size', 'Place'),
    ...entries.map(({ size }, index) => row(labels[index] ?? '', size, places[index] ?? '')),
  ].join('\n');
}

/** As a shell would have it. */
const quoted = (place: string): string => (/^[\w./=-]+$/.test(place) ? place : `'${place.replaceAll("'", `'\\''`)}'`);
