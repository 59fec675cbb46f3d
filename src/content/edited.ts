import { asBlocks, cellText } from './as-blocks.ts';
import { joinText } from './build.ts';
import type { Block, Cell, CellsContent, Content, Inline, Marks, Table } from './model.ts';
import { blocksText } from './plain-text.ts';
import { inlineUnits, sliceInlines } from './walk.ts';

/**
 * What content becomes when somebody edited a text form of it that cannot show everything: `shown` is what that form gives
 * back unedited, `edited` what it gives now. Whatever did not change stays as it was, down to the cell of a table and the
 * words of a paragraph, with the look, values and pictures that the form did not show.
 */
export function keepUnshown(original: Content, shown: Content, edited: Content): Content {
  if (isSame(shown, edited)) return original;
  if (original.shape === 'cells') {
    const range = editedRange(original, shown, edited);
    if (range) return range;
  }
  const blocks = inTurn(asBlocks(original), asBlocks(shown), asBlocks(edited), mergeBlock);
  const [only] = blocks;
  return original.shape === 'run' && blocks.length === 1 && only?.type === 'paragraph'
    ? { shape: 'run', inlines: only.inlines }
    : { shape: 'blocks', blocks };
}

/** Whether two JSON values are written the same. */
export const isSame = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other);

type Merge<T> = (original: T, shown: T, edited: T) => T;

/**
 * Things in a row: those that were not edited are the originals; those that stand in the place of others are merged with
 * them; the rest are new. Where the form shows more or fewer than there are, they cannot be told apart, and all are new.
 */
function inTurn<T>(originals: readonly T[], shown: readonly T[], edited: readonly T[], merge: Merge<T>): T[] {
  if (originals.length !== shown.length) return [...edited];
  const merged: T[] = [];
  let [before, after] = [0, 0];
  const pairUp = (untilShown: number, untilEdited: number): void => {
    for (; after < untilEdited; after++, before++) {
      const now = edited[after] as T;
      merged.push(before < untilShown ? merge(originals[before] as T, shown[before] as T, now) : now);
    }
    before = untilShown;
  };
  for (const [at, there] of unchanged(shown, edited)) {
    pairUp(at, there);
    merged.push(originals[at] as T);
    [before, after] = [at + 1, there + 1];
  }
  pairUp(shown.length, edited.length);
  return merged;
}

/** A run of blocks that was changed: `count` of the originals from `at` on give way to `blocks`. */
export interface ChangedRun {
  readonly at: number;
  readonly count: number;
  readonly blocks: readonly Block[];
}

/** What `keepUnshown` would change of blocks, run by run in order; those that stand between runs were not touched. */
export function changedRuns(
  originals: readonly Block[],
  shown: readonly Block[],
  edited: readonly Block[],
): readonly ChangedRun[] {
  const runs: ChangedRun[] = [];
  let [before, after] = [0, 0];
  for (const [at, there] of [...unchanged(shown, edited), [shown.length, edited.length] as const]) {
    if (at > before || there > after) {
      const blocks = edited.slice(after, there).map((block, index) => {
        const [original, was] = [originals[before + index], shown[before + index]];
        return before + index < at && original && was ? mergeBlock(original, was, block) : block;
      });
      runs.push({ at: before, count: at - before, blocks });
    }
    [before, after] = [at + 1, there + 1];
  }
  return runs;
}

/** Pairs of places that hold the same in both, rising in both: first from the ends in, then the longest run between. */
function unchanged<T>(one: readonly T[], other: readonly T[]): [number, number][] {
  const [left, right] = [one.map((each) => JSON.stringify(each)), other.map((each) => JSON.stringify(each))];
  let start = 0;
  while (start < Math.min(left.length, right.length) && left[start] === right[start]) start++;
  let end = 0;
  while (end < Math.min(left.length, right.length) - start && left.at(-1 - end) === right.at(-1 - end)) end++;
  const pairs: [number, number][] = Array.from({ length: start }, (_, at) => [at, at]);
  let from = start;
  for (let at = start; at < left.length - end; at++) {
    const there = right.indexOf(left[at] as string, from);
    if (there < 0 || there >= right.length - end) continue;
    pairs.push([at, there]);
    from = there + 1;
  }
  for (let back = end; back > 0; back--) pairs.push([left.length - back, right.length - back]);
  return pairs;
}

function mergeBlock(original: Block, shown: Block, edited: Block): Block {
  if ('inlines' in original && 'inlines' in shown && 'inlines' in edited) {
    const inlines = mergeInlines(original.inlines, shown.inlines, edited.inlines);
    const { type: _, inlines: __, ...look } = original;
    return original.type === edited.type ? { ...look, ...edited, inlines } : { ...edited, inlines };
  }
  if (original.type === 'list' && shown.type === 'list' && edited.type === 'list') {
    const items = inTurn(original.items, shown.items, edited.items, (item, was, now) => ({
      ...now,
      blocks: inTurn(item.blocks, was.blocks, now.blocks, mergeBlock),
    }));
    return { ...(original.ordered === edited.ordered ? original : edited), items };
  }
  if (original.type === 'quote' && shown.type === 'quote' && edited.type === 'quote')
    return { ...original, blocks: inTurn(original.blocks, shown.blocks, edited.blocks, mergeBlock) };
  if (original.type === 'table' && shown.type === 'table' && edited.type === 'table')
    return mergeTable(original, shown, edited);
  return edited;
}

const mergeTable = (original: Table, shown: Table, edited: Table): Table => ({
  ...original,
  rows: inTurn(original.rows, shown.rows, edited.rows, (row, was, now) => ({
    cells: inTurn(row.cells, was.cells, now.cells, (cell, before, after) => ({
      ...cell,
      blocks: inTurn(cell.blocks, before.blocks, after.blocks, mergeBlock),
    })),
  })),
});

/** Words in front of the first change and behind the last one stay as they were; words between look as they were typed. */
function mergeInlines(
  original: readonly Inline[],
  shown: readonly Inline[],
  edited: readonly Inline[],
): readonly Inline[] {
  const [words, now] = [unitsOf(shown), unitsOf(edited)];
  if (unitsOf(original) !== words) return edited;
  let start = 0;
  while (start < Math.min(words.length, now.length) && sameAt(shown, edited, start, start)) start++;
  let end = 0;
  const most = Math.min(words.length, now.length) - start;
  while (end < most && sameAt(shown, edited, words.length - 1 - end, now.length - 1 - end)) end++;
  const look = unshownMarks(original, shown, start);
  const between = sliceInlines(edited, start, now.length - end).map((inline) =>
    inline.type === 'text' ? { ...inline, marks: { ...look, ...inline.marks } } : inline,
  );
  return joinText([
    ...sliceInlines(original, 0, start),
    ...between.map(withoutEmptyMarks),
    ...sliceInlines(original, words.length - end, words.length),
  ]);
}

const unitsOf = (inlines: readonly Inline[]): string => inlines.map(inlineUnits).join('');

const sameAt = (one: readonly Inline[], other: readonly Inline[], at: number, there: number): boolean =>
  isSame(sliceInlines(one, at, at + 1), sliceInlines(other, there, there + 1));

/** What the form did not show of the words at a place, such as their colour: what is typed there looks that way too. */
function unshownMarks(original: readonly Inline[], shown: readonly Inline[], at: number): Marks {
  const marksAt = (inlines: readonly Inline[]): Marks => {
    const [inline] = sliceInlines(inlines, Math.max(0, at - 1), Math.max(1, at));
    return inline?.type === 'text' ? (inline.marks ?? {}) : {};
  };
  const visible = marksAt(shown);
  return Object.fromEntries(
    Object.entries(marksAt(original)).filter(([name]) => !(name in visible) && name !== 'link'),
  );
}

const withoutEmptyMarks = (inline: Inline): Inline =>
  inline.type === 'text' && inline.marks && Object.keys(inline.marks).length === 0
    ? { type: 'text', text: inline.text }
    : inline;

/** A range keeps the cells that were not edited; `undefined` when what was edited is no plain range any more. */
function editedRange(original: CellsContent, shown: Content, edited: Content): CellsContent | undefined {
  const [was, now] = [onlyTable(shown), onlyTable(edited)];
  const spans = original.rows
    .flat()
    .some(({ columnSpan, rowSpan }) => columnSpan !== undefined || rowSpan !== undefined);
  if (!was || !now || spans) return undefined;
  const before = textRows(was);
  // A form that has to have a heading shows an empty one where there is none.
  const extra = before.length - original.rows.length;
  const rows = inTurn<readonly (Cell | string)[]>(
    original.rows,
    before.slice(extra),
    textRows(now).slice(extra),
    (row, old, cells) =>
      cells.map((cell, column) => (cell === old[column] ? (row[column] ?? cell) : typedOver(row[column], cell))),
  );
  const width = Math.max(...rows.map(({ length }) => length));
  const { gaps, ...rest } = original;
  const isSameSize = rows.length === original.rows.length && width === original.rows[0]?.length;
  return {
    ...rest,
    ...(gaps && isSameSize && { gaps }),
    rows: rows.map((row) =>
      Array.from({ length: width }, (_, column) => {
        const cell = row[column] ?? '';
        return typeof cell === 'string' ? retyped(undefined, cell) : cell;
      }),
    ),
  };
}

function onlyTable(content: Content): Table | undefined {
  const [only, ...others] = asBlocks(content);
  return only?.type === 'table' && others.length === 0 ? only : undefined;
}

const textRows = ({ rows }: Table): string[][] =>
  rows.map(({ cells }) => cells.map(({ blocks }) => blocksText(blocks, '\n')));

const typedOver = (before: Cell | string | undefined, now: Cell | string): Cell =>
  typeof now === 'string' ? retyped(typeof before === 'string' ? undefined : before, now) : now;

/** A cell with other words: still a number where it was one and the words are. */
function retyped(cell: Cell | undefined, words: string): Cell {
  if (cell && cellText(cell) === words) return cell;
  const { columnSpan: _, rowSpan: __, formula: ___, ...look } = cell ?? { type: 'empty' as const };
  if (words === '') return { type: 'empty', ...lookOf(look) };
  const plain = words.replace(/[,\s]/g, '');
  if ((cell?.type === 'number' || !cell) && /^[-+]?\d+(\.\d+)?$/.test(plain))
    return {
      type: 'number',
      value: Number(plain),
      text: words,
      ...(cell?.type === 'number' && cell.format !== undefined && { format: cell.format }),
      ...lookOf(look),
    };
  return { type: 'text', value: words, ...lookOf(look) };
}

const lookOf = ({ background, align, marks }: Partial<Cell>): Pick<Cell, 'background' | 'align' | 'marks'> => ({
  ...(background !== undefined && { background }),
  ...(align !== undefined && { align }),
  ...(marks && { marks }),
});
