import * as v from 'valibot';
import { DrawerError } from './errors.ts';
import type { Content } from './model.ts';
import { contentSchema } from './schema.ts';

/** How deep JSON may nest before it is refused unread; a nested list takes four levels for each of its own. */
export const maxDepth = 400;

/**
 * The value as content, checked whole.
 * @throws DrawerError `invalid`, with the path of the first thing wrong.
 */
export function parseContent(value: unknown): Content {
  return parseWith(contentSchema, value, 'content');
}

/** The value as what `schema` describes; `kind` names it in the error. */
export function parseWith<T>(schema: v.GenericSchema<unknown, T>, value: unknown, kind: string): T {
  if (isDeeperThan(value, maxDepth)) {
    throw new DrawerError('invalid/value-too-deep', { kind, depth: maxDepth });
  }
  const result = v.safeParse(schema, value, { abortEarly: true });
  if (result.success) return result.output;
  const [issue] = result.issues;
  const path = v.getDotPath(issue) ?? 'top level';
  throw new DrawerError('invalid/value-invalid', { kind, path, detail: issue.message });
}

/** Goes no deeper than that itself, since a hostile value may be deeper than the call stack. */
function isDeeperThan(value: unknown, limit: number): boolean {
  if (limit < 0) return true;
  if (typeof value !== 'object' || value === null || ArrayBuffer.isView(value)) return false;
  if (Array.isArray(value)) return value.some((item) => isDeeperThan(item, limit - 1));
  for (const name in value) if (isDeeperThan((value as Record<string, unknown>)[name], limit - 1)) return true;
  return false;
}

/**
 * Does something with values that callers handed over. Where these are not what they should be, the failure becomes one clear
 * error; looking at them first would cost every other call.
 * @param check throws the error that says what is wrong, if it finds it.
 * @throws DrawerError `invalid`
 */
export function checkedCall<T>(work: () => T, check: () => void = () => {}): T {
  try {
    const result = work();
    return result instanceof Promise
      ? (result.catch((error: unknown) => Promise.reject(problemOf(error, check))) as T)
      : result;
  } catch (error) {
    throw problemOf(error, check);
  }
}

function problemOf(error: unknown, check: () => void): unknown {
  if (!(error instanceof TypeError || error instanceof RangeError)) return error;
  try {
    check();
  } catch (problem) {
    if (DrawerError.is(problem)) return problem;
  }
  return new DrawerError('invalid/call-invalid', { detail: error.message }, { cause: error });
}

/** A choice by its name; `kind` is what is chosen, such as `order`. @throws DrawerError `choice-unknown`, `join-unknown` */
export function parseEnum<T extends string>(kind: string, name: string, choices: readonly T[]): T {
  const found = choices.find((choice) => choice === name);
  if (found !== undefined) return found;
  const params = { name: typeof name === 'string' ? name : typeof name, kind: { kind: `choice.${kind}` }, choices };
  throw new DrawerError(kind === 'join' ? 'usage/join-unknown' : 'usage/choice-unknown', params);
}
