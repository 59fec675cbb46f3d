import { clipped, DrawerError } from '../../content/index.ts';
import { type Facts, type KeepResult, originInWords, type Removed, type SnippetHead } from '../../drawer/index.ts';
import type { Catalogue, PhraseName } from './catalogue.ts';

type Values = Readonly<Record<string, string | number>>;

/** The panel's sentences in one language, with numbers, sizes and times as people write them there. */
export class Words {
  readonly catalogue: Catalogue;
  readonly #plural: Intl.PluralRules;
  readonly #number: Intl.NumberFormat;
  readonly #age: Intl.RelativeTimeFormat;

  constructor(catalogue: Catalogue) {
    this.catalogue = catalogue;
    this.#plural = new Intl.PluralRules(catalogue.language);
    this.#number = new Intl.NumberFormat(catalogue.language);
    this.#age = new Intl.RelativeTimeFormat(catalogue.language, { numeric: 'auto' });
  }

  /** A phrase with its values filled in; `count` decides the form. */
  say(name: PhraseName, values: Values = {}): string {
    const phrase = this.catalogue.phrases[name];
    const form =
      typeof phrase === 'string' ? phrase : (phrase[this.#plural.select(Number(values.count ?? 0))] ?? phrase.other);
    return form.replace(/\{(\w+)\}/g, (whole, key: string) => {
      const value = values[key];
      return value === undefined ? whole : typeof value === 'number' ? this.#number.format(value) : value;
    });
  }

  /** `table, 4 × 3`: what content is, from how the core names it. */
  what(what: string): string {
    for (const [pattern, phrase] of whats) {
      const found = pattern.exec(what);
      if (found)
        return this.say(
          phrase,
          Object.fromEntries(
            Object.entries(found.groups ?? {}).map(([key, value]) => [key, Number(value.replaceAll(',', ''))]),
          ),
        );
    }
    const plain = `what.${what}` as PhraseName;
    return plain in this.catalogue.phrases ? this.say(plain) : what;
  }

  /** What it is and how long, in the unit that suits it: `section, 212 words`, `table, 4 × 3`. */
  size({ shape, what, words }: Facts): string {
    if (what === 'secret') return this.what(what);
    const count = this.say('what.words', { count: words });
    if (shape === 'run') return count;
    return /^(?:table|list|picture|cell|rule|nothing)/.test(what)
      ? this.what(what)
      : this.say('what.long', { what: this.what(what), words: count });
  }

  /** Where it is from: `costs.xlsx, Timber!B2:D5`, and how many places beside. */
  origin({ origin, parts }: Pick<SnippetHead, 'origin' | 'parts'>): string {
    const [first = origin, ...others] = (parts ?? []).map((part) => part.origin);
    const words = originInWords(first);
    if (others.length === 0) return words;
    return words === ''
      ? this.say('places', { count: others.length + 1 })
      : this.say('andMore', { origin: words, count: others.length });
  }

  /** `3 minutes ago`, `in 9 minutes`. */
  age(moment: string, now: Date): string {
    const seconds = Math.round((Date.parse(moment) - now.getTime()) / 1000);
    const [unit, length] = units.find(([, each]) => Math.abs(seconds) >= each) ?? ['second', 1];
    if (unit === 'second' && seconds <= 0) return this.say('justNow');
    return this.#age.format(Math.trunc(seconds / length), unit);
  }

  /** `12 KB`. */
  bytes(bytes: number): string {
    const power = bytes < 1024 ? 0 : Math.min(3, Math.floor(Math.log2(bytes) / 10));
    const unit = (['byte', 'kilobyte', 'megabyte', 'gigabyte'] as const)[power] ?? 'byte';
    return new Intl.NumberFormat(this.catalogue.language, {
      style: 'unit',
      unit,
      unitDisplay: power === 0 ? 'long' : 'short',
      maximumFractionDigits: bytes / 1024 ** power < 10 && power > 0 ? 1 : 0,
    }).format(bytes / 1024 ** power);
  }

  /** `Kept as 5: table, 4 × 3, from costs.xlsx, Timber!B2:D5`, and whatever else there is to know. */
  kept(result: KeepResult): string {
    if (result.kind === 'blank') {
      const origin = originInWords(result.origin);
      return `${this.say('notKeptBlank')}${origin === '' ? '' : `: ${origin}`}`;
    }
    if (result.kind === 'ignored') return this.say('notKeptIgnored', { origin: originInWords(result.origin) });
    if (result.kind === 'repeat') return this.say('notKeptRepeat', { position: result.position });
    const { position, head, sameAs, room, letGo, nextToGo } = result;
    const origin = this.origin(head);
    const facts = [
      ...(sameAs === undefined ? [] : [this.say('keptSame', { position: sameAs })]),
      ...(letGo ? [this.say('keptLetGo', { slips: letGo.map(named).join(', ') })] : []),
      ...(room === undefined ? [] : [room <= 0 ? this.say('keptFull') : this.say('keptRoom', { count: room })]),
      ...(nextToGo ? [this.say('keptNextGoes', { slip: named(nextToGo) })] : []),
    ];
    const name = ({ kept: 'kept', moved: 'keptMoved', appended: 'keptAppended' } as const)[result.kind];
    return this.say(name, {
      position,
      what: this.size(head.facts),
      from: origin === '' ? '' : this.say('keptFrom', { origin }),
      facts: facts.join(''),
    });
  }

  /** An action by its name, as undo tells it. */
  action(name: string): string {
    for (const [pattern, phrase] of actions) {
      const found = pattern.exec(name);
      if (found) return this.say(phrase, found[1] === undefined ? {} : { count: Number(found[1].replaceAll(',', '')) });
    }
    return this.say('did.other');
  }

  /** What of some snippets that left the drawer stays in it all the same, and what cannot be brought back. */
  leaving({ held, erased }: Pick<Removed, 'held' | 'erased'>): readonly string[] {
    return [
      ...(held > 0 ? [this.say('deletedHeld', { count: held })] : []),
      ...(erased > 0 ? [this.say('erased', { count: erased })] : []),
    ];
  }

  /** What went wrong and what to do next; in English with what the library knows of it. */
  problem(error: unknown): string {
    if (isQuota(error)) return this.say('problem.quota');
    if (!DrawerError.is(error)) return this.say('problem.unknown');
    const { code, details } = error;
    if (code === 'not-found' && /place to paste/.test(details.what)) return this.say('problem.noPlace');
    if (code === 'usage' && /Nothing is selected/.test(details.what)) return this.say('problem.nothingSelected');
    if (code === 'refused' && /paused/.test(details.what)) return this.say('problem.paused');
    if (code === 'full' || code === 'changed' || !this.catalogue.language.startsWith('en'))
      return this.say(`problem.${code}`);
    // What to do next in a terminal is of no use here.
    const next = details.next !== undefined && !/\bdrawer [a-z]+|--[a-z]/.test(details.next) ? ` ${details.next}.` : '';
    return `${details.where === undefined ? '' : `${details.where}: `}${details.what}.${next}`;
  }
}

const isQuota = (error: unknown): boolean =>
  (error instanceof DOMException && error.name === 'QuotaExceededError') ||
  (error instanceof Error && error.cause instanceof DOMException && error.cause.name === 'QuotaExceededError');

const named = ({ label, facts }: SnippetHead): string => `“${clipped(label ?? facts.preview, 40)}”`;

const whats: readonly (readonly [RegExp, PhraseName])[] = [
  [/^table, (?<rows>\d+) × (?<columns>\d+)$/, 'what.table'],
  [/^list, (?<count>[\d,]+) items?$/, 'what.list'],
  [/^picture, (?<width>\d+) × (?<height>\d+) pt$/, 'what.pictureSized'],
  [/^(?<count>[\d,]+) paragraphs?$/, 'what.paragraphs'],
  [/^(?<count>[\d,]+) blocks?$/, 'what.blocks'],
];

const actions: readonly (readonly [RegExp, PhraseName])[] = [
  [/^Kept ([\d,]+)/, 'did.kept'],
  [/^Cut ([\d,]+)/, 'did.cut'],
  [/^Moved the sequence/, 'did.sequence'],
  [/^Moved ([\d,]+)/, 'did.moved'],
  [/^Sorted ([\d,]+)/, 'did.sorted'],
  [/^Merged ([\d,]+)/, 'did.merged'],
  [/^Deleted ([\d,]+)/, 'did.deleted'],
  [/^Appended/, 'did.appended'],
  [/^Edited/, 'did.edited'],
  [/^Split .* into ([\d,]+)/, 'did.split'],
  [/^Held ([\d,]+)/, 'did.held'],
  [/^Released ([\d,]+)/, 'did.released'],
  [/^Made ([\d,]+)/, 'did.hidden'],
  [/^Opened ([\d,]+)/, 'did.opened'],
  [/^Labelled ([\d,]+)/, 'did.labelled'],
  [/^Took the label off ([\d,]+)/, 'did.unlabelled'],
  [/^Changed the rules/, 'did.rules'],
  [/^Pasted ([\d,]+)/, 'did.pasted'],
];

const units = [
  ['year', 365 * 86_400],
  ['month', 30 * 86_400],
  ['week', 7 * 86_400],
  ['day', 86_400],
  ['hour', 3_600],
  ['minute', 60],
] as const;
