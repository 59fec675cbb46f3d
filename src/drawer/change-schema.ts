import * as v from 'valibot';
import type { Change } from './change.ts';
import type { FileChange } from './file-change.ts';
import { factsSchema, moment, sequenceSchema, snippetSchema } from './schema.ts';

export const changesSchema: v.GenericSchema<unknown, readonly Change[]> = v.array(
  v.variant('type', [
    v.strictObject({ type: v.literal('insert'), snippet: snippetSchema }),
    v.strictObject({ type: v.literal('remove'), id: v.string() }),
    v.strictObject({
      type: v.literal('update'),
      id: v.string(),
      set: v.strictObject({
        label: v.exactOptional(v.nullable(v.string())),
        held: v.exactOptional(v.nullable(v.literal(true))),
        secret: v.exactOptional(v.nullable(v.union([v.literal(true), v.literal('once')]))),
        expiresAt: v.exactOptional(v.nullable(moment)),
        facts: v.exactOptional(factsSchema),
      }),
    }),
    v.strictObject({ type: v.literal('reorder'), id: v.string(), order: v.string() }),
    v.strictObject({ type: v.literal('rewrite'), snippet: snippetSchema }),
    v.strictObject({ type: v.literal('sequence'), sequence: v.nullable(sequenceSchema) }),
    v.strictObject({ type: v.literal('settings'), set: v.record(v.string(), v.unknown()) }),
    v.strictObject({
      type: v.literal('elsewhere'),
      drawer: v.string(),
      from: v.number(),
      to: v.number(),
      mark: v.exactOptional(v.string()),
    }),
  ]),
);

const size = v.pipe(v.number(), v.integer(), v.minValue(0));

export const fileChangesSchema: v.GenericSchema<readonly FileChange[]> = v.array(
  v.strictObject({
    path: v.string(),
    from: v.string(),
    to: v.string(),
    start: size,
    end: size,
    between: v.string(),
    mark: v.exactOptional(v.string()),
  }),
);
