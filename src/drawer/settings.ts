import * as v from 'valibot';
import {
  DrawerError,
  type Join,
  type Message,
  type PasteStyle,
  parseWith,
  pasteStyles,
  type Shape,
  shapes,
} from '../content/index.ts';
import type { Sequence } from './change.ts';
import { moment, sequenceSchema, words } from './schema.ts';
import type { StoredRows } from './storage.ts';

/** The rules of a drawer and what else is remembered with it. */
export interface Settings {
  /** How many snippets the drawer holds at most. */
  readonly capacity: number;
  /** How many bytes of words and pictures it holds at most. */
  readonly size: number;
  /** When it is full: take no more, or let the oldest go that are not held. */
  readonly full: (typeof whenFull)[number];
  /** What is already there, wherever it is from: kept again, passed over, or moved to the end. */
  readonly repeats: (typeof onRepeat)[number];
  /** What holds nothing to see. */
  readonly blanks: (typeof onBlank)[number];
  /** How many seconds what is gathered stays, by its shape; for ever where nothing is said. */
  readonly lasts: { readonly [K in Shape]?: number };
  /** Nothing is gathered from origins that have one of these in their name. */
  readonly ignored: readonly string[];
  /** What comes from origins that have one of these in their name is secret. */
  readonly secretFrom: readonly string[];
  /** How what is appended joins what is there. */
  readonly join: Join;
  /** How what is pasted looks where it lands. */
  readonly style: PasteStyle;
  /** How many actions can be undone. */
  readonly undoDepth: number;
  /** Nothing is gathered until then (ISO 8601 in UTC), or until told. */
  readonly paused?: string;
  /** How far pasting one after another has come; absent at the start. */
  readonly sequence?: Sequence;
}

export const whenFull = ['refuse', 'let-go'] as const;
export const onRepeat = ['keep', 'skip', 'to-end'] as const;
export const onBlank = ['skip', 'keep'] as const;

/** Stands for a pause without an end. */
export const untilTold = 'told';

export const plainSettings: Settings = {
  capacity: 250_000,
  size: 2 ** 30,
  full: 'refuse',
  repeats: 'keep',
  blanks: 'skip',
  lasts: {},
  ignored: [],
  secretFrom: [],
  join: 'paragraph',
  style: 'local',
  undoDepth: 200,
};

const several = v.pipe(v.number(), v.integer(), v.minValue(1));

export const joinSchema: v.GenericSchema<Join> = v.union([
  v.picklist(['nothing', 'space', 'line', 'paragraph']),
  v.strictObject({ text: v.string() }),
]);

export const settingsSchema: v.GenericSchema<Partial<Settings>> = v.object({
  capacity: v.exactOptional(several),
  size: v.exactOptional(several),
  full: v.exactOptional(v.picklist(whenFull)),
  repeats: v.exactOptional(v.picklist(onRepeat)),
  blanks: v.exactOptional(v.picklist(onBlank)),
  lasts: v.exactOptional(v.object(v.entriesFromList(shapes, v.exactOptional(several)))),
  ignored: v.exactOptional(v.array(words)),
  secretFrom: v.exactOptional(v.array(words)),
  join: v.exactOptional(joinSchema),
  style: v.exactOptional(v.picklist(pasteStyles)),
  undoDepth: v.exactOptional(several),
  paused: v.exactOptional(v.union([v.literal(untilTold), moment])),
  sequence: v.exactOptional(sequenceSchema),
});

/** What is remembered, and what holds where nothing is. @throws DrawerError `damaged` */
export async function readSettings(rows: Pick<StoredRows, 'findSettings'>): Promise<Settings> {
  return { ...plainSettings, ...(await remembered(rows)) };
}

/** What is remembered. @throws DrawerError `damaged` */
export async function remembered(rows: Pick<StoredRows, 'findSettings'>): Promise<Partial<Settings>> {
  const json = await rows.findSettings();
  if (json === undefined) return {};
  try {
    return parseWith(settingsSchema, JSON.parse(json), 'rules');
  } catch (cause) {
    throw new DrawerError('damaged/rules-damaged', {}, { cause });
  }
}

/** Whether gathering is paused at that moment. */
export const isPaused = ({ paused }: Settings, now: Date): boolean =>
  paused !== undefined && (paused === untilTold || Date.parse(paused) > now.getTime());

/** How long gathering is paused, as the problem it makes; `undefined` where it goes on. */
export function pauseOf(settings: Settings, now: Date): Message | undefined {
  if (!isPaused(settings, now)) return undefined;
  const kind = 'problem.gathering-paused';
  if (settings.paused === untilTold) return { kind };
  return { kind, params: { count: Math.ceil((Date.parse(settings.paused ?? '') - now.getTime()) / 60_000) } };
}

/** The last moment that ISO 8601 writes with four figures for the year. */
const last = Date.UTC(9999, 11, 31, 23, 59, 59);

/** So many seconds later, as ISO 8601 in UTC; what is further away than dates go is the last of them. */
export const momentAfter = (now: Date, seconds: number): string =>
  new Date(Math.min(last, now.getTime() + seconds * 1000)).toISOString();
