import { type OutlineEntry, type Slot, sourceOf } from '../../formats/index.ts';
import { fieldsOf, numberedEntries, outlineFile, outlineSource } from '../../node/index.ts';
import { parseFragment, printPlace } from '../../places/index.ts';
import { fit, fitEnd, widest } from '../columns.ts';
import type { Context } from '../context.ts';
import { clipboardPlace, readOptions, withProgress } from '../gather.ts';

export interface OutlineOptions {
  readonly json?: boolean;
  readonly as?: string;
  readonly paragraphs?: boolean;
  readonly columns?: boolean;
  readonly fields?: boolean;
}

/** `drawer outline FILE` */
export async function outline(file: string, options: OutlineOptions, context: Context): Promise<void> {
  const { print, passphraseOf } = context;
  if (file === clipboardPlace)
    return (await import('../clipboard-place.ts')).outlineClipboard(options.json === true, context);
  const { json, as, paragraphs, columns } = options;
  const reading = {
    ...readOptions({ ...(as !== undefined && { as }) }),
    ...(paragraphs && { paragraphs }),
    ...(columns && { columns }),
  };
  const { entries, notes } =
    file === '-'
      ? await outlineSource(sourceOf(await context.readInput(), 'standard input'), reading)
      : await withProgress(context.words.tell('reading', { file }), context, (onRead) =>
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
  if (entries.length === 0) print(words.tell('outlineNone', { file, place: quoted(file) }));
  else {
    print(table(entries, numbers, context));
    const [first] = withPlaces;
    const number =
      numbers.size > 0 && file !== '-' ? words.tell('outlineTakeNumber', { place: quoted(`${file}#1`) }) : '';
    if (first) print(`\n${words.tell('outlineTake', { place: quoted(first.place), number })}`);
  }
  if (fields) print(`\n${fieldTable(file, fields, context)}`);
}

function table(
  entries: readonly OutlineEntry[],
  numbers: ReadonlyMap<OutlineEntry, number>,
  { width, words }: Pick<Context, 'width' | 'words'>,
): string {
  const labels = entries.map(
    ({ depth, label, isHidden }) => `${'  '.repeat(depth)}${label}${isHidden ? words.tell('hiddenSheet') : ''}`,
  );
  const [what, size, place] = [words.tell('column.what'), words.tell('column.size'), words.tell('column.place')];
  const sizes = entries.map((entry) => words.part(entry.size));
  const sizeWidth = widest([size, ...sizes], 4, 20);
  const numberWidth = Math.max(2, String(numbers.size).length);
  const labelWidth = widest([what, ...labels], 8, Math.max(20, Math.floor((width - sizeWidth - numberWidth - 6) / 2)));
  const row = (number: string, label: string, length: string, where: string): string =>
    `${fitEnd(number, numberWidth)}  ${fit(label, labelWidth)}  ${fit(length, sizeWidth)}  ${where}`.trimEnd();
  return [
    row('', what, size, place),
    ...entries.map((entry, index) =>
      row(String(numbers.get(entry) ?? ''), labels[index] ?? '', sizes[index] ?? '', `#${entry.place}`),
    ),
  ].join('\n');
}

/** The fields of a form by name, with what each takes. */
function fieldTable(file: string, fields: readonly Slot[], { width, words }: Pick<Context, 'width' | 'words'>): string {
  if (fields.length === 0) return words.tell('fieldsNone', { file });
  const names = fields.map(({ names: [name], key }) => name ?? key);
  const nameWidth = widest(names, 5, Math.max(20, width - 40));
  const taken = ({ kind, choices }: Slot): string =>
    kind === 'choice' && choices
      ? words.tell('takes.oneOf', { choices: choices.join(', ') })
      : words.tell(`takes.${kind}`);
  return [
    `${fit(words.tell('column.field'), nameWidth)}  ${words.tell('column.takes')}`,
    ...fields.map((field, index) =>
      `${fit(names[index] ?? '', nameWidth)}  ${fit(taken(field), Math.max(20, width - nameWidth - 2))}`.trimEnd(),
    ),
    `\n${words.tell('fieldsFill', { file: quoted(file) })}`,
  ].join('\n');
}

/** As a shell would have it. */
const quoted = (place: string): string => (/^[\w./=-]+$/.test(place) ? place : `'${place.replaceAll("'", `'\\''`)}'`);
