import type * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';
import { gatheredSchema } from './schema.ts';
import type { Gathered } from './snippet.ts';

/**
 * What callers hand over is looked at before anything is done with it: a program in plain JavaScript may hand over anything, and
 * nothing may come into a drawer that could not be read again.
 */

/** A copy of what is right; the same content is the same JSON then. @throws DrawerError `invalid`, with which of them and the path of the first thing wrong. */
export function parseGathered(gathered: readonly Gathered[]): readonly Gathered[] {
  checkList(gathered, 'gathered');
  return gathered.map((each, index) =>
    parseWith(gatheredSchema, each, gathered.length === 1 ? 'snippet' : `snippet ${index + 1}`),
  );
}

/** @throws DrawerError `argument-not-list`, or `argument-empty` for one of nothing where `least` says that it may not be. */
export function checkList(value: readonly unknown[], argument: string, least: 0 | 1 = 0): void {
  if (!Array.isArray(value)) throw new DrawerError('invalid/argument-not-list', { argument });
  if (value.length < least) throw new DrawerError('invalid/argument-empty', { argument });
}

/** Ids, names or references. @throws DrawerError as `checkList` and `checkText` do */
export function checkTexts(value: readonly string[], argument: string, least: 0 | 1 = 0): void {
  checkList(value, argument, least);
  for (const [index, each] of value.entries()) checkText(each, `${argument}[${index}]`);
}

/** @throws DrawerError `argument-not-text` */
export function checkText(value: string, argument: string): void {
  if (typeof value !== 'string') throw new DrawerError('invalid/argument-not-text', { argument });
}

/** A number of things, or of one among them. @throws DrawerError `argument-not-whole` */
export function checkWhole(value: number, argument: string, least: 0 | 1): void {
  if (!Number.isSafeInteger(value) || value < least)
    throw new DrawerError('invalid/argument-not-whole', { argument, least });
}

/** @throws DrawerError `invalid`, with the path of the first thing wrong. */
export function checkOptional<T>(schema: v.GenericSchema<unknown, T>, value: T | undefined, kind: string): void {
  if (value !== undefined) parseWith(schema, value, kind);
}
