import { type Content, checkedCall, cleanContent, DrawerError, parseContent, plainText } from '../content/index.ts';
import { checkContent } from './bounds.ts';
import { type Excerpt, type Format, sourceOf } from './format.ts';
import { valuesOf } from './table-insertion.ts';

type Insert = NonNullable<Format['insert']>;
type Remove = NonNullable<Format['remove']>;
type Read = NonNullable<Format['read']>;

/**
 * Inserts into the cells of a table, then reads the result: it has to be readable, with every value in the table.
 * @throws DrawerError `unsupported` where it is not; then nothing is changed.
 */
export const checkedInsert =
  (insert: Insert, read: Read): Insert =>
  async (source, fragment, insertion, tools) => {
    const inserted = await insert(source, fragment, insertion, tools);
    if (fragment.kind !== 'table') return inserted;
    const { cells, ...table } = fragment;
    const isInside = cells !== undefined || insertion.side === 'start' || insertion.side === 'end';
    const values = valuesOf(insertion.content);
    if (!isInside || (!values && insertion.content.shape !== 'cells')) return inserted;
    const now = await read(sourceOf(inserted.bytes, source.name), table, tools).catch(() => undefined);
    const shown = now && squeezed(plainText(now.content));
    const texts = values
      ? values.flat().flatMap((inlines) => (inlines ? [squeezed(plainText({ shape: 'run', inlines }))] : []))
      : [squeezed(plainText(insertion.content))];
    if (shown !== undefined && texts.every((text) => shown.includes(text))) return inserted;
    throw cannot();
  };

/** Removes cells of a table, then reads the result. @throws DrawerError `unsupported` where it cannot. */
export const checkedRemove =
  (remove: Remove, read: Read): Remove =>
  async (source, fragments, tools) => {
    const removed = await remove(source, fragments, tools);
    if (!fragments.some((fragment) => fragment.kind === 'table' && fragment.cells)) return removed;
    const isWhole = await read(sourceOf(removed.bytes, source.name), { kind: 'whole' }, tools).then(
      () => true,
      (error: unknown) => !(DrawerError.is(error) && error.code === 'unreadable'),
    );
    if (isWhole) return removed;
    throw cannot();
  };

const squeezed = (words: string): string => words.replace(/[\s|]+/g, '').toLowerCase();

const cannot = (): DrawerError => new DrawerError('unsupported/change-unsafe');

/** Writes content; what is none, or options that are none, are one clear error. @throws DrawerError `invalid` */
export const checkedWrite = (content: Content, write: () => Promise<Uint8Array>): Promise<Uint8Array> =>
  checkedCall(write, () => parseContent(content));

/**
 * A reader whose content is valid whatever the file says, so that all of it can be kept: what no snippet can hold is left out,
 * and told.
 */
export const cleanedRead =
  (read: NonNullable<Format['read']>): NonNullable<Format['read']> =>
  async (...given) =>
    cleaned(await read(...given));

/** What was taken without what no snippet can hold. */
export function cleaned(taken: Excerpt): Excerpt {
  checkContent(taken.content);
  const { content, cleaned: count } = cleanContent(taken.content);
  const left: Excerpt['notes'] = count > 0 ? [{ kind: 'detail-left', count }] : [];
  return { ...taken, content, notes: [...taken.notes, ...left] };
}
