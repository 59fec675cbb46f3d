import * as v from 'valibot';
import { asBlocks, parseWith } from '../content/index.ts';
import { moment, patterns, snippetSchema, words } from '../drawer/index.ts';
import { type SyncRecord, shown, type Version } from './record.ts';

const stamp = v.pipe(v.string(), v.regex(/^[0-9a-z]{0,64}$/));
const order = v.pipe(v.string(), v.regex(patterns.order));
const count = v.pipe(v.number(), v.integer(), v.minValue(0));
const seen = v.record(v.string(), count);
const appendedSchema = v.strictObject({
  to: stamp,
  blocks: count,
  parts: count,
  pieces: v.pipe(v.array(v.strictObject({ at: stamp, blocks: count, parts: count })), v.maxLength(1000)),
});
const stateSchema = v.strictObject({
  by: v.exactOptional(stamp),
  place: v.strictObject({ at: stamp, order }),
  marks: v.strictObject({
    at: stamp,
    label: v.exactOptional(words),
    held: v.exactOptional(v.literal(true)),
    expiresAt: v.exactOptional(moment),
  }),
  versions: v.pipe(
    v.array(
      v.strictObject({
        at: stamp,
        seen,
        order,
        value: v.record(v.string(), v.unknown()),
        appended: v.exactOptional(appendedSchema),
      }),
    ),
    v.maxLength(1000),
  ),
  gone: v.exactOptional(
    v.strictObject({ at: stamp, seen, secretSince: v.exactOptional(seen), told: v.exactOptional(count) }),
  ),
});
const id = v.pipe(v.string(), v.minLength(1), v.maxLength(64));
const recordSchema = v.strictObject({ id, state: stateSchema });

/** Reads what another device has sent. @throws DrawerError `invalid` */
export function parseRecord(value: unknown): SyncRecord {
  const record = parseWith(recordSchema, value, 'record') as unknown as SyncRecord;
  for (const version of record.state.versions)
    parseWith(snippetSchema, shown(record.id, { ...record.state, versions: [version] }), 'record');
  return { ...record, state: { ...record.state, versions: record.state.versions.map(checked) } };
}

/** A version whose pieces are not all of its content is taken for an edit: it is then shown whole. */
function checked(version: Version): Version {
  const { appended, ...edit } = version;
  if (!appended) return version;
  const blocks = appended.pieces.reduce((sum, piece) => sum + piece.blocks, appended.blocks);
  return blocks === asBlocks(version.value.content).length ? version : edit;
}
