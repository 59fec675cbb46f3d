import { inlineText } from '../content/index.ts';
import { findAmount } from './amounts.ts';
import type { Composable, ComposeOptions } from './options.ts';
import { findWords } from './pattern.ts';

/** The snippets in the order asked for; among equals as they were given. */
export function ordered<S extends Composable>(snippets: readonly S[], options: ComposeOptions): readonly S[] {
  const { order = 'given', language = 'en-GB' } = options;
  if (order === 'given') return snippets;
  if (order === 'reversed') return snippets.toReversed();
  const collator = new Intl.Collator(language, { numeric: true });
  const byWords = (wordsOf: (snippet: S) => string | undefined): readonly S[] =>
    sorted(snippets, wordsOf, (one, other) => collator.compare(one, other));
  switch (order) {
    case 'collected':
      return sorted(
        snippets,
        ({ order: key }) => key,
        (one, other) => (one < other ? -1 : one > other ? 1 : 0),
      );
    case 'label':
      return byWords(({ label }) => label);
    case 'origin':
      return byWords(
        ({ origin }) => origin && [origin.file ?? origin.title ?? origin.url ?? '', origin.place ?? ''].join('\n'),
      );
    case 'value':
      return sorted(snippets, (snippet) => worthOf(snippet, options), compareValues(collator));
    case 'date':
    case 'amount':
      return sorted(snippets, (snippet) => worthIf(order, snippet, options), compareValues(collator));
  }
}

/** What it is worth, where that is of the kind asked for. */
function worthIf(kind: 'date' | 'amount', snippet: Composable, options: ComposeOptions): Value | undefined {
  const worth = worthOf(snippet, options);
  return worth?.kind === (kind === 'date' ? 'day' : 'amount') ? worth : undefined;
}

/** Those without a key stand at the end. */
function sorted<T, K>(
  items: readonly T[],
  keyOf: (item: T) => K | undefined,
  compare: (one: K, other: K) => number,
): T[] {
  return items
    .map((item) => ({ item, key: keyOf(item) }))
    .sort((one, other) => {
      if (one.key === undefined || other.key === undefined)
        return Number(one.key === undefined) - Number(other.key === undefined);
      return compare(one.key, other.key);
    })
    .map(({ item }) => item);
}

/** What it is worth: an amount (its currency first, since they do not compare), a day, or its words. */
type Value =
  | { readonly kind: 'amount'; readonly unit: string; readonly value: number }
  | { readonly kind: 'day' | 'words'; readonly value: string };
const ranks = { day: 0, amount: 1, words: 2 } as const;

function worthOf(
  { content, language: own }: Composable,
  { findDate, readAs, language }: ComposeOptions,
): Value | undefined {
  const cell =
    content.shape === 'cells' && content.rows.length === 1 && content.rows[0]?.length === 1
      ? content.rows[0][0]
      : undefined;
  if (cell?.type === 'date') return { kind: 'day', value: cell.value };
  const amount = findAmount(content, readAs ?? own ?? language);
  if (amount) return { kind: 'amount', unit: amount.unit ?? '', value: amount.value };
  const words = inlineText(findWords(content) ?? []).trim();
  if (words === '') return undefined;
  const day = /^\d{4}-\d\d-\d\d/.test(words) ? words : findDate?.(words);
  return day === undefined ? { kind: 'words', value: words } : { kind: 'day', value: day };
}

const compareValues =
  (collator: Intl.Collator) =>
  (one: Value, other: Value): number => {
    if (one.kind !== other.kind) return ranks[one.kind] - ranks[other.kind];
    if (one.kind === 'amount' && other.kind === 'amount')
      return one.unit === other.unit ? one.value - other.value : collator.compare(one.unit, other.unit);
    return collator.compare(String(one.value), String(other.value));
  };
