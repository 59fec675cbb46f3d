import type { Fragment } from '../../places/index.ts';
import type { Side } from '../format.ts';
import { landedAt, type ProseLanding } from '../insertion.ts';
import { positionsOf } from './positions.ts';
import { lineEndOf } from './standing.ts';

/** The edit for a place that is named by lines or characters (RFC 5147); `undefined` for other places. */
export function positionEdit(
  text: string,
  fragment: Fragment,
  side: Side = 'after',
  bytes: Uint8Array,
  words: string,
): ProseLanding | undefined {
  if (fragment.kind !== 'line' && fragment.kind !== 'char') return undefined;
  const { start, end, place } = positionsOf(text, fragment, bytes);
  const own = words.replaceAll('\n', lineEndOf(text));
  const isLines = fragment.kind === 'line';
  const front = side === 'before' || side === 'start';
  const position = front || side === 'replace' ? start : end;
  const opens = isLines && position > 0 && !/[\n\r]$/.test(text.slice(0, position)) ? lineEndOf(text) : '';
  const closes = isLines && (position < text.length || opens === '') ? lineEndOf(text) : '';
  const replaced = side === 'replace' ? text.slice(start, end) : undefined;
  return {
    edits: [{ start: position, end: replaced === undefined ? position : end, replacement: opens + own + closes }],
    notes: [],
    where: landedAt(side === 'replace' ? 'replace' : front ? 'before' : 'after', place),
    ...(replaced !== undefined && { replaced }),
  };
}
