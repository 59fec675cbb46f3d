import type { Gathered, KeepResult } from '../../drawer/index.ts';
import { keptInWords, notesInWords, originInWords } from '../../drawer/index.ts';
import type { Taken } from '../../formats/index.ts';
import { exists, gatheredFrom, takeFromFile, wholeOf } from '../../node/index.ts';
import { type Place, parsePlace } from '../../places/index.ts';
import type { Context } from '../context.ts';
import { withDrawer } from '../with-drawer.ts';

/** `drawer copy PLACE…`: all of the places are kept, in one transaction, or none. */
export async function copy(words: readonly string[], context: Context): Promise<void> {
  const gathered: Gathered[] = [];
  const takenAll: Taken[] = [];
  for (const each of words) {
    const place = await findPlace(each);
    const taken = await withProgress(`Reading ${place.file} …`, context, () => takeFromFile(place));
    takenAll.push(taken);
    gathered.push(gatheredFrom(place.file, taken));
  }
  const results = await withDrawer(context, (drawer) => drawer.keep(gathered));
  for (const result of results) context.print(inWords(result));
  const simplified = notesInWords(takenAll.flatMap(({ notes }) => notes));
  if (simplified) context.remark(simplified);
}

/** A file may have a `#` in its name: when there is one of that name, that is what is meant. */
async function findPlace(words: string): Promise<Place> {
  return words.includes('#') && (await exists(words)) ? wholeOf(words) : parsePlace(words);
}

const inWords = (result: KeepResult): string =>
  result.kind === 'kept'
    ? keptInWords(result.position, result.head)
    : `Not kept, since there is nothing in it: ${originInWords(result.origin)}`;

/** Says what is going on when it takes longer than a moment and somebody is watching. */
async function withProgress<T>(message: string, { interactive, remark }: Context, work: () => Promise<T>): Promise<T> {
  const timer = interactive ? setTimeout(() => remark(message), 700) : undefined;
  try {
    return await work();
  } finally {
    clearTimeout(timer);
  }
}
