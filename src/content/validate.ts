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
export function parseWith<T>(schema: v.GenericSchema<T>, value: unknown, kind: string): T {
  if (isDeeperThan(value, maxDepth)) {
    throw new DrawerError({ code: 'invalid', what: `The ${kind} is nested more than ${maxDepth} levels deep` });
  }
  const result = v.safeParse(schema, value, { abortEarly: true });
  if (result.success) return result.output;
  const [issue] = result.issues;
  const path = v.getDotPath(issue) ?? 'top level';
  throw new DrawerError({ code: 'invalid', what: `The ${kind} is not valid at ${path}: ${issue.message}` });
}

/** Walks breadth by breadth with its own stack, since a hostile value may be deeper than the call stack. */
function isDeeperThan(value: unknown, limit: number): boolean {
  let level: unknown[] = [value];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > limit) return true;
    level = level.flatMap((item) => (typeof item === 'object' && item !== null ? Object.values(item) : []));
  }
  return false;
}
