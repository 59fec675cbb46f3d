import type { Description, Message } from '../content/index.ts';

/**
 * Drawers and files of before hold English words where kinds are held now. They are read here, and nowhere else; what is
 * written holds kinds.
 */

const numberOf = (digits: string): number => Number(digits.replaceAll(',', ''));

const described: readonly (readonly [RegExp, Description['kind'], readonly string[]])[] = [
  [/^table, (\d+) × (\d+)$/, 'table', ['rows', 'columns']],
  [/^list, ([\d,]+) items?$/, 'list', ['count']],
  [/^picture, (\d+) × (\d+)(?: pt)?$/, 'picture', ['width', 'height']],
  [/^([\d,]+) paragraphs?$/, 'paragraphs', ['count']],
  [/^([\d,]+) blocks?$/, 'blocks', ['count']],
];

/** `table, 4 × 3` as its kind and measure; what is no such words stays as it is. */
export function readDescription(value: unknown): unknown {
  if (typeof value !== 'string') return value;
  const [pattern, kind, names] = described.find(([each]) => each.test(value)) ?? [];
  if (!pattern || !kind || !names) return { kind: value };
  const [, ...found] = pattern.exec(value) ?? [];
  return { kind, params: Object.fromEntries(names.map((name, index) => [name, numberOf(found[index] ?? '0')])) };
}

const actions: readonly (readonly [RegExp, string])[] = [
  [/^Kept ([\d,]+)/, 'kept'],
  [/^Cut ([\d,]+)/, 'cut'],
  [/^Moved the sequence/, 'sequence'],
  [/^Moved ([\d,]+)/, 'moved'],
  [/^Sorted ([\d,]+)/, 'sorted'],
  [/^Merged ([\d,]+)/, 'merged'],
  [/^Deleted ([\d,]+) secret/, 'erased'],
  [/^Deleted ([\d,]+)/, 'deleted'],
  [/^Appended/, 'appended'],
  [/^Edited/, 'edited'],
  [/^Split .* into ([\d,]+)/, 'split'],
  [/^Held ([\d,]+)/, 'held'],
  [/^Released ([\d,]+)/, 'released'],
  [/^Made ([\d,]+)/, 'hidden'],
  [/^Opened ([\d,]+)/, 'opened'],
  [/^Labelled ([\d,]+)/, 'labelled'],
  [/^Took the label off ([\d,]+)/, 'unlabelled'],
  [/^Set how long ([\d,]+)/, 'timed'],
  [/^Let ([\d,]+)/, 'expired'],
  [/^Changed the rules/, 'rules'],
  [/^Pasted ([\d,]+) secrets? for the only time/, 'spent'],
  [/^Pasted ([\d,]+) snippets?$/, 'pasted'],
];

/** The name of an action; where it is a text, those are the English words of before. */
export function readActionName(stored: string | Message): Message {
  if (typeof stored !== 'string') return stored;
  const [pattern, kind] = actions.find(([each]) => each.test(stored)) ?? [];
  if (!pattern || !kind) return { kind: 'other', params: { text: stored } };
  const count = pattern.exec(stored)?.[1];
  return { kind, ...(count !== undefined && { params: { count: numberOf(count) } }) };
}
