import { type Content, DrawerError } from '../content/index.ts';
import type { CopiedExcerpt } from '../desktop/index.ts';
import { eachGathered, type KeepResult, type SnippetInput } from '../drawer/index.ts';
import { type Excerpt, type FormatEntry, formatNamed, formats, sourceOf } from '../formats/index.ts';
import type { Words } from '../messages/index.ts';
import {
  exists,
  gatheredFrom,
  nodeTools,
  placesByNumber,
  type ReadOptions,
  readFromFile,
  readFromSource,
  wholeOf,
} from '../node/index.ts';
import { type Place, parsePlaces, whole } from '../places/index.ts';
import type { Context } from './context.ts';
import { checkLanguage } from './language.ts';
import { remarkNotes } from './notes.ts';

/** What the commands that gather have in common. */
export interface GatherOptions {
  readonly each?: boolean;
  readonly text?: readonly string[];
  readonly as?: string;
  readonly from?: string;
  readonly to?: string;
  readonly hidden?: boolean;
  readonly separator?: string;
  readonly address?: string;
  readonly language?: string;
  readonly quiet?: boolean;
  readonly json?: boolean;
}

/** What was gathered, and what was brought down on the way. */
export interface GatheredAll {
  readonly places: readonly Place[];
  readonly gathered: readonly SnippetInput[];
  readonly taken: readonly Excerpt[];
}

/** The name for what was copied in any program of the desktop. */
export const clipboardPlace = 'clipboard:';

/** The name for standard input, and its encoded form, so that a name like `-#A1` is not read as an option. */
const standardInput = '-';
const encodedInput = '%2D';

/** Takes all of the places before anything is kept. */
export async function gather(words: readonly string[], options: GatherOptions, context: Context): Promise<GatheredAll> {
  if (words.length === 0 && options.text === undefined) throw new DrawerError('usage/command-names-nothing');
  const places: Place[] = [];
  const taken: Excerpt[] = [];
  const gathered: SnippetInput[] = [];
  const named = (await Promise.all(words.map((each) => findPlaces(each, options)))).flat();
  for (const each of named) {
    const place = quoted(each, options);
    const found = await readNamed(place, options, context);
    places.push(place);
    taken.push(found);
    gathered.push(...gatheredFrom(isFile(place) ? place.file : (found.file ?? ''), found));
  }
  for (const each of options.text ?? []) gathered.push(...(await typed(each)));
  const { language } = options;
  if (language !== undefined) checkLanguage(language);
  const told = language === undefined ? gathered : gathered.map((each) => ({ ...each, language }));
  return { places, taken, gathered: options.each ? told.flatMap(eachGathered) : told };
}

/** The place from some words of its file on, as they stand there, up to others. @throws DrawerError `usage` */
function quoted(place: Place, { from, to }: GatherOptions): Place {
  if (from === undefined && to === undefined) return place;
  if (from === undefined || place.fragment.kind !== 'whole')
    throw new DrawerError(from === undefined ? 'usage/command-to-without-from' : 'usage/command-from-and-place');
  return { ...place, fragment: { kind: 'quote', start: from, ...(to !== undefined && { end: to }) } };
}

/** Words that were typed, as a text file of them would be read. */
async function typed(words: string): Promise<SnippetInput[]> {
  const text = await formatNamed('text').load();
  const source = sourceOf(new TextEncoder().encode(words.replace(/\r\n|[\v\f\u2028\u2029]/g, '\n')), 'words');
  const taken = await text.read?.(source, whole, {});
  return taken ? gatheredFrom('', { ...taken, content: asLine(taken.content) }) : [];
}

/** A single line that was typed or handed over is words, which land without a paragraph of their own. */
function asLine(content: Content): Content {
  const [only] = content.shape === 'blocks' ? content.blocks : [];
  return content.shape === 'blocks' &&
    content.blocks.length === 1 &&
    only?.type === 'paragraph' &&
    only.inlines.every(({ type }) => type !== 'break')
    ? { shape: 'run', inlines: only.inlines }
    : content;
}

const isFile = ({ file }: Place): boolean => file !== standardInput && file !== clipboardPlace;

async function readNamed(place: Place, options: GatherOptions, context: Context): Promise<CopiedExcerpt> {
  const reading = readOptions(options);
  const { passphraseOf } = context;
  if (place.file === clipboardPlace) return (await import('./clipboard-place.ts')).readFromClipboard(reading, context);
  if (place.file !== standardInput)
    return withProgress(context.words.tell('reading', { file: place.file }), context, (onRead) =>
      readFromFile(place, { ...reading, passphraseOf, onRead }),
    );
  const source = sourceOf(await context.readInput(), 'standard input');
  const taken = await readFromSource(source, place.fragment, reading, { ...reading, ...nodeTools });
  return place.fragment.kind === 'whole' ? { ...taken, content: asLine(taken.content) } : taken;
}

export function readOptions({ as, hidden, separator, address }: GatherOptions): ReadOptions {
  const format = as === undefined ? undefined : findFormat(as);
  return {
    ...(format && { format }),
    ...(hidden && { hidden }),
    ...(separator !== undefined && {
      csv: { separator: separator === '\\t' || separator === 'tab' ? '\t' : separator },
    }),
    ...(address !== undefined && { address }),
  };
}

function findFormat(name: string): FormatEntry {
  const found = formats.find((format) => format.name === name || format.extensions.includes(`.${name}`));
  if (found) return found;
  throw new DrawerError('usage/command-format-unknown', { name, formats: formats.map((format) => format.name) });
}

/**
 * The places that words name: mostly one, several for areas of a sheet or numbers of the outline. A file may have a `#` in its
 * name: when there is one of that name, that is what is meant.
 */
export async function findPlaces(words: string, options: GatherOptions = {}): Promise<readonly Place[]> {
  if (words.includes('#') && (await exists(words))) return [wholeOf(words)];
  const places = parsePlaces(words).map((place) =>
    place.file === encodedInput ? { ...place, file: standardInput } : place,
  );
  const numbered = places.find(({ file, fragment }) => fragment.kind === 'snippets' && file !== standardInput);
  if (!numbered || !(await exists(numbered.file))) return places;
  return (await Promise.all(places.map((place) => placesByNumber(place, readOptions(options))))).flat();
}

/** The files that words may name, to claim them before anything is read; those that are not there are passed over. */
export const filesNamed = (words: readonly string[]): readonly string[] =>
  words
    .filter((each) => each !== clipboardPlace)
    .flatMap((each) => [each, ...parsePlaces(each).map(({ file }) => file)]);

/** The one place that words name. @throws DrawerError `usage` where they name several */
export async function findPlace(words: string): Promise<Place> {
  const [only, ...others] = await findPlaces(words);
  if (only && others.length === 0) return only;
  throw new DrawerError('usage/command-several-places', { place: words, count: others.length + 1 });
}

/** Says what is going on, and how far it is, when it takes longer than a moment and somebody is watching. */
export async function withProgress<T>(
  message: string,
  { interactive, progress }: Context,
  work: (onRead: (end: number, size: number) => void) => Promise<T>,
): Promise<T> {
  let share = '';
  const tell = (): void => progress(`${message} …${share}`);
  const timer = interactive ? setInterval(tell, 700) : undefined;
  try {
    return await work((end, size) => {
      share = ` ${Math.min(99, Math.floor((end / Math.max(1, size)) * 100))} %`;
    });
  } finally {
    clearInterval(timer);
    if (interactive) progress('');
  }
}

/** Says what became of everything. */
export async function report(
  results: readonly KeepResult[],
  notes: Excerpt['notes'],
  { quiet, json }: GatherOptions,
  context: Context,
): Promise<void> {
  if (json)
    return context.print(
      JSON.stringify({ snippets: results.map((each) => asJson(each, context.words)), notes }, null, 2),
    );
  if (quiet) return;
  for (const result of results) context.print(context.words.kept(result));
  await remarkNotes(notes, 'simplified', context);
}

const asJson = (result: KeepResult, words: Words) =>
  result.kind === 'blank' || result.kind === 'ignored'
    ? { kind: result.kind, from: words.source(result.origin), origin: result.origin }
    : {
        kind: result.kind,
        number: result.position,
        id: result.summary.id,
        facts: result.summary.facts,
        origin: result.summary.origin,
        ...(result.summary.parts && { parts: result.summary.parts }),
        ...('sameAs' in result && { sameAs: result.sameAs }),
        ...('room' in result && { room: result.room }),
        ...('letGo' in result && { letGo: result.letGo.map(({ id }) => id) }),
      };
