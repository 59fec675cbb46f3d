import type { Filled, ReadTools, Slot, SlotValue, Source } from '../../format.ts';
import { fillCells, formSlots } from '../../sheets/form-slots.ts';
import { insertXlsx } from './insert.ts';
import { openWorkbook, takeXlsx } from './read.ts';

export async function slotsXlsx(source: Source, tools?: ReadTools): Promise<readonly Slot[]> {
  const { workbook } = await openWorkbook(source, tools);
  const shown = workbook.names.filter(({ hidden }) => !hidden);
  return formSlots(workbook.sheets, shown, (place) => takeXlsx(source, place, tools));
}

export const fillXlsx = (source: Source, values: ReadonlyMap<string, SlotValue>, tools?: ReadTools): Promise<Filled> =>
  fillCells(source, values, (form, place, insertion) => insertXlsx(form, place, insertion, tools), tools?.language);
