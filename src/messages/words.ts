import {
  bytesInWords,
  clipped,
  type Description,
  type DrawerError,
  grouped,
  type Message,
  type Note,
  type NoteKind,
  type Param,
  type Params,
  plural,
  type Reason,
  whatOf,
} from '../content/index.ts';
import type { Facts, KeepResult, Origin, Removed, SnippetSummary } from '../drawer/index.ts';
import type { Catalogue, Details, Phrase, PhraseName, SheetPhraseName } from './catalogue.ts';
import { placeInWords } from './place-in-words.ts';

/** Makes the sentences of one language, with numbers, lists, sizes and times in its conventions. */
export class Words {
  readonly catalogue: Catalogue;
  /** Additional phrases of a front end, which messages may name. */
  readonly #own: { readonly [name: string]: Phrase };
  #details: Details | undefined;
  #plural: Intl.PluralRules | undefined;
  #number: Intl.NumberFormat | undefined;
  #list: Intl.ListFormat | undefined;
  #age: Intl.RelativeTimeFormat | undefined;

  constructor(catalogue: Catalogue, own: { readonly [name: string]: Phrase } = {}) {
    this.catalogue = catalogue;
    this.#own = own;
  }

  /** Loads the rarer phrases: notes, errors and the panel's sheets. Until then their names stand in for them. */
  async load(): Promise<this> {
    this.#details ??= await this.catalogue.details();
    return this;
  }

  /** Fills in a phrase; `count` selects the plural form. */
  say(name: PhraseName | SheetPhraseName, values: Params = {}): string {
    const phrase = findOwn<Phrase>(this.catalogue.phrases, name) ?? findOwn<Phrase>(this.#details?.sheets, name);
    return this.fill(phrase ?? name, values);
  }

  /** Fills in a phrase from another source. */
  fill(phrase: Phrase, values: Params = {}): string {
    return this.#form(phrase, values.count).replace(/\{(\w+)\}/g, (whole, key: string) => {
      const value = values[key];
      return value === undefined ? whole : this.value(value);
    });
  }

  #form(phrase: Phrase, count: Param | undefined): string {
    if (typeof phrase === 'string') return phrase;
    this.#plural ??= new Intl.PluralRules(this.catalogue.language);
    return phrase[this.#plural.select(Number(count ?? 0))] ?? phrase.other;
  }

  /** The text of a parameter. */
  value(value: Param): string {
    if (typeof value === 'string') return value;
    if (typeof value === 'number') return this.number(value);
    return 'kind' in value ? this.part(value) : this.list(value.map((each) => this.value(each)));
  }

  /** A message as part of a sentence: its kind is the name of a phrase, or `problem.` and a reason. */
  part(message: Message | undefined): string {
    if (message === undefined) return '';
    const { kind, params = {} } = message;
    if (kind === 'place') return this.place(String(params.place));
    const part =
      findOwn(this.catalogue.phrases, kind) ?? findOwn(this.#own, kind) ?? findOwn(this.#details?.parts, kind);
    const problem = findOwn(this.#details?.problems, kind.replace(/^problem\./, ''))?.what;
    return this.#first(part ?? problem, params) ?? kind;
  }

  /** English avoids `Intl`, which takes longer to load than the command takes to list. */
  protected get isEnglish(): boolean {
    return this.catalogue.language.startsWith('en');
  }

  /** `12,500`. */
  number(value: number): string {
    if (this.isEnglish && Number.isInteger(value)) return grouped(value);
    this.#number ??= new Intl.NumberFormat(this.catalogue.language);
    return this.#number.format(value);
  }

  /** `B2, C4, D6` */
  list(items: readonly string[]): string {
    if (items.length < 2 || this.isEnglish) return items.join(', ');
    this.#list ??= new Intl.ListFormat(this.catalogue.language, { type: 'unit' });
    return this.#list.format(items);
  }

  /** A description of content: `table, 4 × 3`. */
  what(description: Description): string {
    return this.part(whatOf(description));
  }

  /** Kind and size, in a suitable unit: `section, 212 words`, `table, 4 × 3`. */
  size({ shape, what, words }: Facts): string {
    if (what.kind === 'secret') return this.what(what);
    const count = this.say('count.words', { count: words });
    if (shape === 'run') return count;
    return measured.has(what.kind) ? this.what(what) : this.say('what.long', { what: this.what(what), words: count });
  }

  /**
   * A place of a file in words: `table=2` becomes `table 2`, `section=Hull condition` its heading. Cell addresses, and words
   * that are no place, stay unchanged.
   */
  place(place: string): string {
    return placeInWords(place, (kind, range, count) => {
      const phrase = findOwn<Phrase>(this.catalogue.phrases, `place.${kind}`);
      return phrase && this.fill(phrase, { range, count });
    });
  }

  /** An origin: `costs.xlsx, Timber!B2:D5`; the empty string if nothing is known. */
  source({ file, title, url, program, place, piece }: Origin): string {
    return [
      file ?? title ?? url ?? program,
      place && this.place(place),
      piece && this.say('pieceOf', { number: piece.number, count: piece.of }),
    ]
      .filter((part) => part !== undefined && part !== '')
      .join(', ');
  }

  /** A snippet's origin, and the number of further ones. */
  origin({ origin, parts }: Pick<SnippetSummary, 'origin' | 'parts'>): string {
    const [first = origin, ...others] = (parts ?? []).map((part) => part.origin);
    const words = this.source(first);
    if (others.length === 0) return words;
    return words === ''
      ? this.say('places', { count: others.length + 1 })
      : this.say('andMore', { origin: words, count: others.length });
  }

  /** The words that composing adds to documents, for its option `words`. Call `load` first. */
  inDocuments() {
    const named = (kind: 'count' | 'sum' | 'smallest' | 'largest' | 'mean'): string => {
      const [first = '', ...rest] = this.say(`total.${kind}`);
      return first.toLocaleUpperCase(this.catalogue.language) + rest.join('');
    };
    return {
      sources: this.say('sources.title'),
      totals: {
        count: named('count'),
        sum: named('sum'),
        smallest: named('smallest'),
        largest: named('largest'),
        mean: named('mean'),
      },
      source: (origin: Origin) => this.source(origin),
      place: (place: string) => this.place(place),
    };
  }

  /** A time relative to now: `3 minutes ago`, `in 9 minutes`. */
  age(moment: string, now: Date): string {
    const seconds = Math.round((Date.parse(moment) - now.getTime()) / 1000);
    const [unit, length] = units.find(([, each]) => Math.abs(seconds) >= each) ?? ['second', 1];
    if (unit === 'second' && seconds <= 0) return this.say('justNow');
    const count = seconds < 0 ? Math.trunc(seconds / length) : Math.round(seconds / length);
    const isNamed = length >= day && Math.abs(count) === 1; // as yesterday is, or next week
    if (this.isEnglish && !isNamed) return count < 0 ? `${plural(-count, unit)} ago` : `in ${plural(count, unit)}`;
    this.#age ??= new Intl.RelativeTimeFormat(this.catalogue.language, { numeric: 'auto' });
    return this.#age.format(count, unit);
  }

  /** A duration in the largest whole unit up to weeks: `7 days`. `length` is in seconds. */
  duration(length: number): string {
    const [unit, size] = units.slice(2).find(([, each]) => length % each === 0) ?? ['second', 1];
    if (this.isEnglish) return plural(length / size, unit);
    const format = { style: 'unit', unit, unitDisplay: 'long' } as const;
    return new Intl.NumberFormat(this.catalogue.language, format).format(length / size);
  }

  /** When a snippet expires: `in 9 minutes`, `any moment now`. */
  timeLeft(until: string, now: Date): string {
    return Date.parse(until) <= now.getTime() ? this.say('anyMoment') : this.age(until, now);
  }

  /** `12 KB`. */
  bytes(bytes: number): string {
    if (this.isEnglish) return bytesInWords(bytes);
    const power = bytes < 1024 ? 0 : Math.min(3, Math.floor(Math.log2(bytes) / 10));
    const unit = (['byte', 'kilobyte', 'megabyte', 'gigabyte'] as const)[power] ?? 'byte';
    return new Intl.NumberFormat(this.catalogue.language, {
      style: 'unit',
      unit,
      unitDisplay: power === 0 ? 'long' : 'short',
      maximumFractionDigits: bytes / 1024 ** power < 10 && power > 0 ? 1 : 0,
    }).format(bytes / 1024 ** power);
  }

  /** The result of keeping: `Kept as 5: table, 4 × 3, from costs.xlsx, Timber!B2:D5`, with further remarks. */
  kept(result: KeepResult): string {
    if (result.kind === 'blank') {
      const origin = this.source(result.origin);
      return `${this.say('notKeptBlank')}${origin === '' ? '' : `: ${origin}`}`;
    }
    if (result.kind === 'ignored') return this.say('notKeptIgnored', { origin: this.source(result.origin) });
    const position = String(result.position);
    if (result.kind === 'repeat') return this.say('notKeptRepeat', { position });
    const { summary, sameAs, room, letGo, nextToGo } = result;
    const origin = this.origin(summary);
    const facts = [
      ...(sameAs === undefined ? [] : [this.say('keptSame', { position: String(sameAs) })]),
      ...(letGo ? [this.say('keptLetGo', { snippets: letGo.map(named) })] : []),
      ...(room === undefined ? [] : [room <= 0 ? this.say('keptFull') : this.say('keptRoom', { count: room })]),
      ...(nextToGo ? [this.say('keptNextGoes', { snippet: named(nextToGo) })] : []),
    ];
    const name = ({ kept: 'kept', moved: 'keptMoved', appended: 'keptAppended' } as const)[result.kind];
    return this.say(name, {
      position,
      what: this.size(summary.facts),
      from: origin === '' ? '' : this.say('keptFrom', { origin }),
      facts: facts.join(''),
    });
  }

  /** An action's name, as undo tells it; `did.other` for an application's own action without words. */
  action({ kind, params }: Message): string {
    return this.fill(findOwn(this.catalogue.phrases, `did.${kind}`) ?? this.catalogue.phrases['did.other'], {
      text: this.say('did.unnamed'),
      ...params,
    });
  }

  /** Remarks after a removal: snippets that are held and stay, and secrets that cannot be restored. */
  leaving({ held, erased }: Pick<Removed, 'held' | 'erased'>): readonly string[] {
    return [
      ...(held > 0 ? [this.say('deletedHeld', { count: held })] : []),
      ...(erased > 0 ? [this.say('erased', { count: erased })] : []),
    ];
  }

  /** All notes on one line; `undefined` if there are none. */
  notes(
    notes: readonly Note[],
    { lead = 'simplified', hints = {} }: { readonly lead?: 'simplified' | 'noted'; readonly hints?: NoteHints } = {},
  ): string | undefined {
    const counts = new Map<string, number>();
    for (const note of notes) {
      const words = this.note(note, hints[note.kind]);
      counts.set(words, (counts.get(words) ?? 0) + note.count);
    }
    if (counts.size === 0) return undefined;
    const all = [...counts].map(([what, count]) => (count === 1 ? what : this.say('times', { what, count })));
    return this.say(lead, { notes: all.join('; ') });
  }

  /** One note, without its count; `hint` is a front end's addition. */
  note({ kind, params }: Note, hint?: string): string {
    const phrase = this.#details?.notes[kind];
    return `${phrase === undefined ? kind : this.fill(phrase, params)}${hint === undefined ? '' : ` (${hint})`}`;
  }

  /** What went wrong and where, without the next step. */
  problem(error: DrawerError): string {
    const { reason, params, where } = error;
    const what = this.#first(this.#details?.problems[reason]?.what, params) ?? reason;
    return where === undefined ? what : `${where}: ${what}`;
  }

  /** The next step after an error; `undefined` if there is none. A front end's own `hints` take precedence. */
  hint({ reason, params }: DrawerError, hints: Hints = {}): string | undefined {
    return this.#first(hints[reason], params) ?? this.#first(this.#details?.problems[reason]?.next, params);
  }

  /** An error in full: what, where, and the next step. */
  error(error: DrawerError, hints?: Hints): string {
    const next = this.hint(error, hints);
    return `${this.problem(error)}.${next === undefined ? '' : ` ${next}.`}`;
  }

  /** The first phrase whose blanks can all be filled. */
  #first(phrases: Phrase | readonly Phrase[] | undefined, values: Params): string | undefined {
    if (phrases === undefined) return undefined;
    const all = isList(phrases) ? phrases : [phrases];
    const fits = all.find((phrase) => blanksOf(phrase).every((name) => name in values));
    return fits === undefined ? undefined : this.fill(fits, values);
  }
}

/** A front end's next steps, by the reason of an error. */
export type Hints = { readonly [K in Reason]?: Phrase | readonly Phrase[] };

/** A front end's additions to notes. */
export type NoteHints = { readonly [K in NoteKind]?: string };

const isList = (phrases: Phrase | readonly Phrase[]): phrases is readonly Phrase[] => Array.isArray(phrases);

const blanksOf = (phrase: Phrase): string[] =>
  [...(typeof phrase === 'string' ? phrase : phrase.other).matchAll(/\{(\w+)\}/g)].map(([, name = '']) => name);

const findOwn = <T>(values: { readonly [name: string]: T } | undefined, name: string): T | undefined =>
  values && Object.hasOwn(values, name) ? values[name] : undefined;

const named = ({ label, facts }: SnippetSummary): string => `“${clipped(label ?? facts.preview, 40)}”`;

/** Kinds whose phrases already include the amount. */
const measured = new Set(['table', 'list', 'picture', 'cell', 'rule', 'nothing']);

const day = 86_400;
const units = [
  ['year', 365 * day],
  ['month', 30 * day],
  ['week', 7 * day],
  ['day', day],
  ['hour', 3_600],
  ['minute', 60],
] as const;
