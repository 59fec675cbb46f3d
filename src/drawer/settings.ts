import * as v from 'valibot';
import { type Join, parseWith } from '../content/index.ts';
import type { StoredRows } from './storage.ts';

/** What is remembered with a drawer. */
export interface Settings {
  /** How what is appended joins what is there. */
  readonly join: Join;
  /** How many snippets the drawer holds at most. When it is full it takes no more: it lets none go by itself. */
  readonly capacity: number;
}

export const plainSettings: Settings = { join: 'paragraph', capacity: 250_000 };

export const settingsSchema: v.GenericSchema<Partial<Settings>> = v.object({
  join: v.exactOptional(
    v.union([v.picklist(['nothing', 'space', 'line', 'paragraph']), v.strictObject({ text: v.string() })]),
  ),
  capacity: v.exactOptional(v.pipe(v.number(), v.integer(), v.minValue(1))),
});

/** What is remembered, and what holds where nothing is. */
export async function readSettings(rows: StoredRows): Promise<Settings> {
  const json = await rows.findSettings();
  return json === undefined
    ? plainSettings
    : { ...plainSettings, ...parseWith(settingsSchema, JSON.parse(json), 'settings') };
}
