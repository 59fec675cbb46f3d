import { type Content, inlineText, plainText } from '../content/index.ts';
import type { Facts, Origin, Trait } from '../drawer/index.ts';
import { parseAmount } from './amounts.ts';
import { findWords } from './pattern.ts';

/** A place of a form, as far as matching needs to know it. */
export interface MatchableSlot {
  readonly key: string;
  readonly names: readonly string[];
  readonly kind: 'text' | 'date' | 'number' | 'email' | 'url' | 'phone' | 'check' | 'choice';
  readonly choices?: readonly string[];
  readonly isGuess?: true;
}

/** A snippet that may fill a field of a form. */
export interface MatchableSnippet {
  readonly id: string;
  readonly content: Content;
  readonly label?: string;
  readonly origin?: Origin;
  readonly facts: Pick<Facts, 'traits'>;
  /** Told nowhere, though it fills a slot. */
  readonly secret?: true | 'once';
}

/** A field of a form, and the snippet that fills it. */
export interface Match<S extends MatchableSlot> {
  readonly slot: S;
  readonly snippet: MatchableSnippet;
  readonly by: 'name' | 'label' | 'trait';
}

/** Which snippet goes into which slot; nothing is guessed between two. */
export interface Matching<S extends MatchableSlot> {
  readonly matches: readonly Match<S>[];
  readonly empty: readonly S[];
  readonly unused: readonly MatchableSnippet[];
  /** Slots that more than one snippet would fit, or the other way round. */
  readonly ambiguous: readonly { readonly slot: S; readonly snippets: readonly MatchableSnippet[] }[];
  /** Names in the map that no slot has. */
  readonly unknown: readonly string[];
}

/** How snippets are matched to the fields of a form. */
export interface MatchOptions {
  /** Snippets by the name of their slot. */
  readonly map?: ReadonlyMap<string, MatchableSnippet>;
  /** Only this way beside the map; both, label first, when not given. */
  readonly by?: 'label' | 'trait';
}

/** Matches by the map, then by label, then by trait (the one date to the one slot for a date). */
export function matchSlots<S extends MatchableSlot>(
  slots: readonly S[],
  snippets: readonly MatchableSnippet[],
  { map = new Map(), by }: MatchOptions = {},
): Matching<S> {
  const matches: Match<S>[] = [];
  const ambiguous: { slot: S; snippets: readonly MatchableSnippet[] }[] = [];
  const unknown: string[] = [];
  for (const [name, snippet] of map) {
    const slot = slots.find((each) => isNamed(each, name));
    if (slot) matches.push({ slot, snippet, by: 'name' });
    else unknown.push(name);
  }
  const free = (): S[] =>
    slots.filter(
      (slot) => !matches.some((match) => match.slot === slot) && !ambiguous.some((each) => each.slot === slot),
    );
  const left = (): MatchableSnippet[] =>
    snippets.filter((snippet) => !matches.some((match) => match.snippet.id === snippet.id));
  if (by !== 'trait')
    pair(free(), (slot) => left().filter(({ label }) => label !== undefined && isNamed(slot, label)), 'label');
  if (by !== 'label') pairTraits();
  const settled = free().filter(({ isGuess }) => !isGuess);
  return { matches, empty: settled, unused: left(), ambiguous, unknown };

  function pair(among: readonly S[], fitting: (slot: S) => readonly MatchableSnippet[], how: 'label' | 'trait'): void {
    for (const slot of among) {
      const [snippet, ...others] = fitting(slot);
      if (!snippet) continue;
      if (others.length > 0) ambiguous.push({ slot, snippets: [snippet, ...others] });
      else matches.push({ slot, snippet, by: how });
    }
  }

  function pairTraits(): void {
    for (const traits of Object.values(traitsOfKinds)) {
      const asking = free().filter((slot) => !slot.isGuess && traitsAsked(slot) === traits);
      const offered = left().filter(({ facts }) => facts.traits?.some((trait) => traits.includes(trait)));
      if (asking.length === 0 || offered.length === 0) continue;
      const [slot] = asking;
      if (asking.length === 1 && slot) pair([slot], () => offered, 'trait');
      else for (const each of asking) ambiguous.push({ slot: each, snippets: offered });
    }
  }
}

const folded = (words: string): string =>
  words
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[\s_*-]+/g, ' ')
    .replace(/\s*[:.…?]+\s*$/, '')
    .trim();

const isNamed = ({ key, names }: MatchableSlot, name: string): boolean =>
  key === name || names.some((each) => folded(each) === folded(name));

const traitsOfKinds: Readonly<Record<string, readonly Trait[]>> = {
  date: ['date'],
  number: ['money', 'number', 'quantity'],
  email: ['email'],
  url: ['url'],
  phone: ['phone'],
};

/** What a slot for words asks for by its name: `Date of birth`, `Amount claimed`. */
const asked: readonly (readonly [RegExp, keyof typeof traitsOfKinds])[] = [
  [/\bdate\b/, 'date'],
  [/\b(?:amount|sum|total|price|cost|fee)\b/, 'number'],
  [/\be ?mail\b/, 'email'],
  [/\b(?:website|web address|url|link)\b/, 'url'],
  [/\b(?:phone|telephone|mobile|tel)\b/, 'phone'],
];

function traitsAsked({ kind, names }: MatchableSlot): readonly Trait[] | undefined {
  if (kind !== 'text') return traitsOfKinds[kind];
  const words = names.map(folded);
  const found = asked.find(([pattern]) => words.some((each) => pattern.test(each)));
  return found && traitsOfKinds[found[1]];
}

/** A value in the slot's own form; `undefined` when the snippet has none that fits. */
export function slotValue(
  slot: MatchableSlot,
  content: Content,
  findDate: (words: string) => string | undefined,
  language?: string,
): string | number | boolean | undefined {
  const cell =
    content.shape === 'cells' && content.rows.length === 1 && content.rows[0]?.length === 1
      ? content.rows[0][0]
      : undefined;
  const inlines = findWords(content);
  const words = (inlines ? inlineText(inlines) : plainText(content)).trim();
  switch (slot.kind) {
    case 'date':
      return cell?.type === 'date'
        ? cell.value.slice(0, 10)
        : /^\d{4}-\d\d-\d\d$/.test(words)
          ? words
          : findDate(words);
    case 'number':
      return cell?.type === 'number' ? cell.value : parseAmount(words, language)?.value;
    case 'check':
      if (cell?.type === 'boolean') return cell.value;
      return /^(?:yes|y|true|1|x|on|ticked|☒|☑|✓|✔)$/i.test(words)
        ? true
        : /^(?:no|n|false|0|off|☐|)$/i.test(words)
          ? false
          : undefined;
    case 'choice':
      return slot.choices?.find((choice) => folded(choice) === folded(words));
    default:
      return words;
  }
}
