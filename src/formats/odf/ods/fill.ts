import type { Filled, ReadTools, Slot, SlotValue, Source } from '../../format.ts';
import { fillCells, formSlots } from '../../sheets/form-slots.ts';
import { openOdf } from '../package.ts';
import { insertOds } from './insert.ts';
import { readSheets, takeOds } from './read.ts';

export async function slotsOds(source: Source, tools?: ReadTools): Promise<readonly Slot[]> {
  const { sheets, names } = await readSheets(await openOdf(source, tools), () => undefined);
  return formSlots(sheets, names, (place) => takeOds(source, place, tools));
}

export const fillOds = (source: Source, values: ReadonlyMap<string, SlotValue>, tools?: ReadTools): Promise<Filled> =>
  fillCells(source, values, (form, place, insertion) => insertOds(form, place, insertion, tools), tools?.language);
