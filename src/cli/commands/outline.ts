import { type OutlineEntry, type Slot, sourceOf } from '../../formats/index.ts';
import { fieldsOf, numberedEntries, outlineFile, outlineSource } from '../../node/index.ts';
import { parseFragment, printPlace } from '../../places/index.ts';
import { fit, fitEnd, widest } from '../columns.ts';
import type { Context } from '../context.ts';
import { takeOptions, withProgress } from '../gather.ts';

export interface OutlineOptions {
  readonly json?: boolean;
  readonly as?: string;
  readonly paragraphs?: boolean;
  readonly columns?: boolean;
  readonly fields?: boolean;
}

/** `drawer outline FILE` */
export async function outline(file: string, options: OutlineOptions, context: Context): Promise<void> {
  const { print, width, passphraseOf } = context;
  const { json, as, paragraphs, columns } = options;
  const reading = {
    ...takeOptions({ ...(as !== undefined && { as }) }),
    ...(paragraphs && { paragraphs }),
    ...(columns && { columns }),
  };
  const { entries, notes } =
    file === '-'
      ? await outlineSource(sourceOf(await context.readInput(), 'standard input'), reading)
      : await withProgress(`Reading ${file}`, context, (onRead) =>
          outlineFile(file, { ...reading, passphraseOf, onRead }),
        );
  const fields = options.fields && file !== '-' ? await fieldsOf(file, reading) : undefined;
  const numbers = new Map(numberedEntries(entries).map((entry, index) => [entry, index + 1]));
  const words = await context.words.load();
  const withPlaces = entries.map((entry) => ({
    ...(numbers.has(entry) && { number: numbers.get(entry) }),
    ...entry,
    size: words.part(entry.size),
    place: printPlace({ file, fragment: parseFragment(entry.place) }),
  }));
  if (json) return print(JSON.stringify({ file, entries: withPlaces, ...(fields && { fields }), notes }, null, 2));
  if (entries.length === 0)
    print(`${file} has no headings, lists, tables or pictures; take all of it with: drawer copy ${quoted(file)}`);
  else {
    print(table(entries, numbers, context));
    const [first] = withPlaces;
    const number = numbers.size > 0 && file !== '-' ? `, or by its number: drawer copy ${quoted(`${file}#1`)}` : '';
    if (first) print(`\nTake one by its place, such as: drawer copy ${quoted(first.place)}${number}`);
  }
  if (fields) print(`\n${fieldTable(file, fields, width)}`);
}

function table(
  entries: readonly OutlineEntry[],
  numbers: ReadonlyMap<OutlineEntry, number>,
  { width, words }: Pick<Context, 'width' | 'words'>,
): string {
  const labels = entries.map(
    ({ depth, label, isHidden }) => `${'  '.repeat(depth)}${label}${isHidden ? ' (hidden)' : ''}`,
  );
  const sizeWidth = widest(
    entries.map(({ size }) => words.part(size)),
    4,
    20,
  );
  const numberWidth = Math.max(2, String(numbers.size).length);
  const labelWidth = widest(labels, 8, Math.max(20, Math.floor((width - sizeWidth - numberWidth - 6) / 2)));
  const row = (number: string, label: string, size: string, place: string): string =>
    `${fitEnd(number, numberWidth)}  ${fit(label, labelWidth)}  ${fit(size, sizeWidth)}  ${place}`.trimEnd();
  return [
    row('', 'What', 'Size', 'Place'),
    ...entries.map((entry, index) =>
      row(String(numbers.get(entry) ?? ''), labels[index] ?? '', words.part(entry.size), `#${entry.place}`),
    ),
  ].join('\n');
}

/** The fields of a form by name, with what each takes. */
function fieldTable(file: string, fields: readonly Slot[], width: number): string {
  if (fields.length === 0) return `${file} has no fields to fill.`;
  const names = fields.map(({ names: [name], key }) => name ?? key);
  const nameWidth = widest(names, 5, Math.max(20, width - 40));
  const taken = ({ kind, choices }: Slot): string =>
    kind === 'choice' && choices ? `one of ${choices.join(', ')}` : takes[kind];
  return [
    `${fit('Field', nameWidth)}  Takes`,
    ...fields.map((field, index) =>
      `${fit(names[index] ?? '', nameWidth)}  ${fit(taken(field), Math.max(20, width - nameWidth - 2))}`.trimEnd(),
    ),
    `\nFill them with: drawer fill ${quoted(file)}`,
  ].join('\n');
}

const takes: { readonly [K in Slot['kind']]: string } = {
  text: 'words',
  date: 'a date',
  number: 'a number',
  email: 'an e-mail address',
  url: 'a web address',
  phone: 'a telephone number',
  check: 'yes or no',
  choice: 'a choice',
};

/** As a shell would have it. */
const quoted = (place: string): string => (/^[\w./=-]+$/.test(place) ? place : `'${place.replaceAll("'", `'\\''`)}'`);
