import { DrawerError, type Join, pasteStyles, type Shape, shapes } from '../content/index.ts';
import { onBlank, onRepeat, plainSettings, type Settings, whenFull } from './settings.ts';

/** Rules by the names people use, each read from words. */
export interface DrawerRule {
  readonly name: string;
  readonly settings: keyof Settings;
  /** @throws DrawerError `usage` */
  parse(words: string): Partial<Settings>;
}

export const rules: readonly DrawerRule[] = [
  {
    name: 'most',
    settings: 'capacity',
    parse: (words) => ({ capacity: wholeNumber(words, 'most') }),
  },
  {
    name: 'size',
    settings: 'size',
    parse: (words) => ({ size: parseSize(words) }),
  },
  {
    name: 'full',
    settings: 'full',
    parse: (words) => ({ full: oneOf(words, whenFull, 'full') }),
  },
  {
    name: 'repeats',
    settings: 'repeats',
    parse: (words) => ({ repeats: oneOf(words, onRepeat, 'repeats') }),
  },
  {
    name: 'blanks',
    settings: 'blanks',
    parse: (words) => ({ blanks: oneOf(words, onBlank, 'blanks') }),
  },
  {
    name: 'lasts',
    settings: 'lasts',
    parse: (words) => ({ lasts: parseLasts(words) }),
  },
  {
    name: 'ignore',
    settings: 'ignored',
    parse: (words) => ({ ignored: names(words) }),
  },
  {
    name: 'secret',
    settings: 'secretFrom',
    parse: (words) => ({ secretFrom: names(words) }),
  },
  {
    name: 'join',
    settings: 'join',
    parse: (words) => ({ join: joinNamed(words) }),
  },
  {
    name: 'style',
    settings: 'style',
    parse: (words) => ({ style: oneOf(words, pasteStyles, 'style') }),
  },
  {
    name: 'undo',
    settings: 'undoDepth',
    parse: (words) => ({ undoDepth: wholeNumber(words, 'undo') }),
  },
];

/**
 * What `most=500` or `lasts=picture:7d` asks for.
 * @throws DrawerError `usage` for a rule there is not, or a value it does not take.
 */
export function parseRules(words: readonly string[]): Partial<Settings> {
  return Object.assign({}, ...words.map(parseRule)) as Partial<Settings>;
}

function parseRule(words: string): Partial<Settings> {
  const [, name = '', value] = /^([a-z]+)=(.*)$/s.exec(words) ?? [];
  const rule = rules.find((each) => each.name === name);
  if (rule && value !== undefined) return rule.parse(value.trim());
  throw new DrawerError('usage/rule-invalid', { words, rules: rules.map((each) => each.name) });
}

const seconds = { s: 1, m: 60, h: 3_600, d: 86_400, w: 604_800 } as const;

/**
 * `10m`, `2h`, `7d` in seconds.
 * @throws DrawerError `usage`
 */
export function parseDuration(words: string): number {
  const [, count, unit] = /^(\d{1,6})\s*([smhdw])$/.exec(words.trim()) ?? [];
  if (count !== undefined && Number(count) > 0) return Number(count) * seconds[unit as keyof typeof seconds];
  throw new DrawerError('usage/duration-invalid', { words });
}

/** Seconds as `parseDuration` reads them: `7d`, in the largest unit that is whole. */
export function printDuration(length: number): string {
  const unit = (['w', 'd', 'h', 'm'] as const).find((each) => length % seconds[each] === 0) ?? 's';
  return `${length / seconds[unit]}${unit}`;
}

function parseSize(words: string): number {
  const [, count, unit = ''] = /^(\d{1,6})\s*(KB|MB|GB)$/i.exec(words) ?? [];
  const power = ['KB', 'MB', 'GB'].indexOf(unit.toUpperCase()) + 1;
  if (count !== undefined && Number(count) > 0) return Number(count) * 1024 ** power;
  throw notTaken(words, 'size');
}

function parseLasts(words: string): Settings['lasts'] {
  if (words === 'never' || words === 'for ever') return plainSettings.lasts;
  const lasts: { [K in Shape]?: number } = {};
  for (const part of words.split(',')) {
    const [first = '', second] = part.split(':').map((each) => each.trim());
    if (second === undefined) for (const shape of shapes) lasts[shape] = parseDuration(first);
    else lasts[oneOf(first, shapes, 'lasts')] = parseDuration(second);
  }
  return lasts;
}

const names = (words: string): string[] =>
  words === 'nothing'
    ? []
    : words
        .split(',')
        .map((each) => each.trim())
        .filter((each) => each !== '');

const joinNames = ['nothing', 'space', 'line', 'paragraph'] as const;

const joinNamed = (words: string): Join =>
  joinNames.find((name) => name === words) ?? { text: words.replaceAll('\\n', '\n') };

function wholeNumber(words: string, rule: string): number {
  const number = Number(words.replace(/[ ,_]/g, ''));
  if (Number.isSafeInteger(number) && number >= 1) return number;
  throw notTaken(words, rule);
}

function oneOf<T extends string>(words: string, choices: readonly T[], rule: string): T {
  const choice = choices.find((each) => each === words);
  if (choice !== undefined) return choice;
  throw notTaken(words, rule);
}

const notTaken = (words: string, name: string): DrawerError =>
  new DrawerError('usage/rule-value-invalid', { name, value: words, takes: { kind: `takes.${name}` } });
