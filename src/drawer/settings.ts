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

/** The rules and other settings of a drawer. */
export interface Settings {
  /** Maximum number of snippets. */
  readonly capacity: number;
  /** Maximum size of words and pictures, in bytes. */
  readonly size: number;
  /** When the drawer is full: refuse new snippets, or remove the oldest that are not held. */
  readonly full: (typeof whenFull)[number];
  /** Content that the drawer already has, from any origin: keep it again, skip it, or move it to the end. */
  readonly repeats: (typeof onRepeat)[number];
  /** Content that shows nothing: skip it, or keep it. */
  readonly blanks: (typeof onBlank)[number];
  /** Lifetime of new snippets in seconds, by shape; unlimited where absent. */
  readonly lasts: { readonly [K in Shape]?: number };
  /** Origins whose name contains one of these are not gathered. */
  readonly ignored: readonly string[];
  /** Snippets whose origin's name contains one of these become secret. */
  readonly secretFrom: readonly string[];
  /** How appended content joins the existing content. */
  readonly join: Join;
  /** The look of pasted content. */
  readonly style: PasteStyle;
  /** Number of actions that can be undone. */
  readonly undoDepth: number;
  /** Gathering pauses until this time (ISO 8601 in UTC), or until further notice. */
  readonly paused?: string;
  /** The position of pasting one after another; absent at the start. */
  readonly sequence?: Sequence;
}

/** What happens when the drawer is full. */
export const whenFull = ['refuse', 'let-go'] as const;
/** What happens to content that the drawer has already. */
export const onRepeat = ['keep', 'skip', 'to-end'] as const;
/** What happens to content that shows nothing. */
export const onBlank = ['skip', 'keep'] as const;

/** A pause without an end. */
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

/** The stored settings, with defaults for the rest. @throws DrawerError `damaged` */
export async function readSettings(rows: Pick<StoredRows, 'findSettings'>): Promise<Settings> {
  return { ...plainSettings, ...(await remembered(rows)) };
}

/** The stored settings. @throws DrawerError `damaged` */
export async function remembered(rows: Pick<StoredRows, 'findSettings'>): Promise<Partial<Settings>> {
  const json = await rows.findSettings();
  if (json === undefined) return {};
  try {
    return parseWith(settingsSchema, JSON.parse(json), 'rules');
  } catch (cause) {
    throw new DrawerError('damaged/rules-damaged', {}, { cause });
  }
}

/** Whether gathering is paused at a moment. */
export const isPaused = ({ paused }: Settings, now: Date): boolean =>
  paused !== undefined && (paused === untilTold || Date.parse(paused) > now.getTime());

/** The pause as a problem message, with the minutes left; `undefined` if gathering is not paused. */
export function pauseOf(settings: Settings, now: Date): Message | undefined {
  if (!isPaused(settings, now)) return undefined;
  const kind = 'problem.gathering-paused';
  if (settings.paused === untilTold) return { kind };
  return { kind, params: { count: Math.ceil((Date.parse(settings.paused ?? '') - now.getTime()) / 60_000) } };
}

/** The last moment whose year has four digits in ISO 8601. */
const last = Date.UTC(9999, 11, 31, 23, 59, 59);

/** A moment some seconds later, as ISO 8601 in UTC; at most the end of the year 9999. */
export const momentAfter = (now: Date, seconds: number): string =>
  new Date(Math.min(last, now.getTime() + seconds * 1000)).toISOString();
