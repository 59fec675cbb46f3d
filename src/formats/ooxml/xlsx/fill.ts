import { type Note, noMedia } from '../../../content/index.ts';
import { parseFragment } from '../../../places/index.ts';
import { type Filled, type ReadTools, type Slot, type SlotValue, type Source, sourceOf } from '../../format.ts';
import { labelSlots, valueCell } from '../../sheets/form-slots.ts';
import { insertXlsx } from './insert.ts';
import { openWorkbook, takeXlsx } from './read.ts';

/** Cells that have a name, and cells beside labels. */
export async function slotsXlsx(source: Source, tools?: ReadTools): Promise<readonly Slot[]> {
  const { workbook } = await openWorkbook(source, tools);
  const named = workbook.names
    .filter(
      ({ name, formula, hidden }) =>
        !hidden && !name.startsWith('_xlnm.') && /![$A-Z]+\$?\d+$/.test(formula) && !formula.includes(':'),
    )
    .map(({ name, formula }): Slot => ({ key: formula.replaceAll('$', ''), names: [name], kind: 'text' }));
  const labelled: Slot[] = [];
  for (const { name, hidden } of workbook.sheets) {
    if (hidden) continue;
    const { content } = await takeXlsx(
      source,
      { kind: 'cells', sheet: name, rows: { from: 1, to: 500 }, columns: { from: 1, to: 50 } },
      tools,
    );
    if (content.shape === 'cells') labelled.push(...labelSlots(name, content, { row: 1, column: 1 }));
  }
  return [...named, ...labelled.filter(({ key }) => !named.some((slot) => slot.key === key))];
}

export async function fillXlsx(
  source: Source,
  values: ReadonlyMap<string, SlotValue>,
  tools?: ReadTools,
): Promise<Filled> {
  const notes: Note[] = [];
  let filled = source;
  for (const [key, value] of values) {
    const content = { shape: 'cells', rows: [[valueCell(value)]] } as const;
    const inserted = await insertXlsx(
      filled,
      parseFragment(key),
      { content, media: noMedia, style: 'local', over: true },
      tools,
    );
    notes.push(...inserted.notes);
    filled = sourceOf(inserted.bytes, source.name);
  }
  return { bytes: await filled.read(0, filled.size), notes };
}
