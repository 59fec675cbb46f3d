import * as v from 'valibot';
import { type Join, type LandingStyle, landingStyles, parseWith } from '../content/index.ts';
import { type Sequence, sequenceSchema } from './change.ts';
import type { StoredRows } from './storage.ts';

/** What is remembered with a drawer. */
export interface Settings {
  /** How what is appended joins what is there. */
  readonly join: Join;
  /** How many snippets the drawer holds at most. When it is full it takes no more: it lets none go by itself. */
  readonly capacity: number;
  /** How what is pasted looks where it lands. */
  readonly style: LandingStyle;
  /** How far pasting one after another has come; absent at the start. */
  readonly sequence?: Sequence;
}

export const plainSettings: Settings = { join: 'paragraph', capacity: 250_000, style: 'local' };

export const settingsSchema: v.GenericSchema<Partial<Settings>> = v.object({
  join: v.exactOptional(
    v.union([v.picklist(['nothing', 'space', 'line', 'paragraph']), v.strictObject({ text: v.string() })]),
  ),
  capacity: v.exactOptional(v.pipe(v.number(), v.integer(), v.minValue(1))),
  style: v.exactOptional(v.picklist(landingStyles)),
  sequence: v.exactOptional(sequenceSchema),
});

/** What is remembered, and what holds where nothing is. */
export async function readSettings(rows: StoredRows): Promise<Settings> {
  const json = await rows.findSettings();
  return json === undefined
    ? plainSettings
    : { ...plainSettings, ...parseWith(settingsSchema, JSON.parse(json), 'settings') };
}
