import type * as v from 'valibot';
import { DrawerError, parseWith } from '../content/index.ts';
import type { Gathered } from './keep.ts';
import { gatheredSchema } from './schema.ts';

/**
 * What callers hand over is looked at before anything is done with it: a program in plain JavaScript may hand over anything, and
 * nothing may come into a drawer that could not be read again.
 */

/** A copy of what is right; the same content is the same JSON then. @throws DrawerError `invalid`, with which of them and the path of the first thing wrong. */
export function parseGathered(gathered: readonly Gathered[]): readonly Gathered[] {
  checkList(gathered, 'what is kept');
  return gathered.map((each, index) =>
    parseWith(gatheredSchema, each, gathered.length === 1 ? 'snippet' : `snippet ${index + 1}`),
  );
}

/** @throws DrawerError `invalid` for what is no list, or one of nothing where `least` says that it may not be. */
export function checkList(value: readonly unknown[], what: string, least: 0 | 1 = 0): void {
  if (!Array.isArray(value) || value.length < least)
    throw invalid(`${what} has to be a list${least > 0 ? ' of one or more' : ''}`);
}

/** Ids, names or references. @throws DrawerError `invalid` */
export function checkTexts(value: readonly string[], what: string, least: 0 | 1 = 0): void {
  checkList(value, what, least);
  for (const each of value) checkText(each, `each of ${what}`);
}

/** @throws DrawerError `invalid` */
export function checkText(value: string, what: string): void {
  if (typeof value !== 'string') throw invalid(`${what} has to be a text`);
}

/** A number of things, or of one among them. @throws DrawerError `invalid` */
export function checkWhole(value: number, what: string, least: 0 | 1): void {
  if (!Number.isSafeInteger(value) || value < least) throw invalid(`${what} has to be a whole number from ${least} on`);
}

/** @throws DrawerError `invalid`, with the path of the first thing wrong. */
export function checkOptional<T>(schema: v.GenericSchema<T>, value: T | undefined, kind: string): void {
  if (value !== undefined) parseWith(schema, value, kind);
}

const invalid = (what: string): DrawerError =>
  new DrawerError({ code: 'invalid', what: what.charAt(0).toUpperCase() + what.slice(1), next: 'Nothing was changed' });
