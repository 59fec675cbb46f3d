import { DrawerError, grouped, type Join, landingStyles, plural, type Shape, shapes } from '../content/index.ts';
import { onBlank, onRepeat, plainSettings, type Settings, whenFull } from './settings.ts';

/** Rules by the names people use, each read from words and told in words. */
export interface DrawerRule {
  readonly name: string;
  readonly settings: keyof Settings;
  /** What can be said. */
  readonly takes: string;
  /** @throws DrawerError `usage` */
  parse(words: string): Partial<Settings>;
  /** What holds, in words. */
  tell(settings: Settings): string;
}

export const rules: readonly DrawerRule[] = [
  {
    name: 'most',
    settings: 'capacity',
    takes: 'a number of snippets',
    parse: (words) => ({ capacity: wholeNumber(words, 'most') }),
    tell: ({ capacity }) => `at most ${plural(capacity, 'snippet')}`,
  },
  {
    name: 'size',
    settings: 'size',
    takes: 'bytes, such as 500 MB or 2 GB',
    parse: (words) => ({ size: parseSize(words) }),
    tell: ({ size }) => `at most ${bytesInWords(size)} of words and pictures`,
  },
  {
    name: 'full',
    settings: 'full',
    takes: whenFull.join(' or '),
    parse: (words) => ({ full: oneOf(words, whenFull, 'full') }),
    tell: ({ full }) =>
      full === 'refuse'
        ? 'refuse: when it is full it takes no more, and lets nothing go'
        : 'let-go: when it is full the oldest goes that is not held, and that is said',
  },
  {
    name: 'repeats',
    settings: 'repeats',
    takes: onRepeat.join(', '),
    parse: (words) => ({ repeats: oneOf(words, onRepeat, 'repeats') }),
    tell: ({ repeats }) =>
      ({
        keep: 'keep: what is there already is kept once more',
        skip: 'skip: what is there already is not kept again',
        'to-end': 'to-end: what is there already moves to the end',
      })[repeats],
  },
  {
    name: 'blanks',
    settings: 'blanks',
    takes: onBlank.join(' or '),
    parse: (words) => ({ blanks: oneOf(words, onBlank, 'blanks') }),
    tell: ({ blanks }) => (blanks === 'skip' ? 'skip: what holds nothing is not kept' : 'keep: kept like all else'),
  },
  {
    name: 'lasts',
    settings: 'lasts',
    takes: 'how long, such as 30d, or by shape: picture:7d,run:2w; never',
    parse: (words) => ({ lasts: parseLasts(words) }),
    tell: ({ lasts }) => lastsInWords(lasts),
  },
  {
    name: 'ignore',
    settings: 'ignored',
    takes: 'parts of names, with commas between them; nothing',
    parse: (words) => ({ ignored: names(words) }),
    tell: ({ ignored }) =>
      ignored.length === 0 ? 'nothing is left out' : `nothing is kept from ${ignored.join(', ')}`,
  },
  {
    name: 'secret',
    settings: 'secretFrom',
    takes: 'parts of names, with commas between them; nothing',
    parse: (words) => ({ secretFrom: names(words) }),
    tell: ({ secretFrom }) =>
      secretFrom.length === 0 ? 'nothing is secret by itself' : `what comes from ${secretFrom.join(', ')} is secret`,
  },
  {
    name: 'join',
    settings: 'join',
    takes: 'nothing, space, line, paragraph or any text',
    parse: (words) => ({ join: joinNamed(words) }),
    tell: ({ join }) => `what is appended follows ${typeof join === 'string' ? joinWords[join] : `“${join.text}”`}`,
  },
  {
    name: 'style',
    settings: 'style',
    takes: landingStyles.join(', '),
    parse: (words) => ({ style: oneOf(words, landingStyles, 'style') }),
    tell: ({ style }) =>
      ({
        original: 'original: what is pasted looks as it did',
        local: 'local: what is pasted takes the styles of where it lands',
        plain: 'plain: only words are pasted',
      })[style],
  },
  {
    name: 'undo',
    settings: 'undoDepth',
    takes: 'a number of actions',
    parse: (words) => ({ undoDepth: wholeNumber(words, 'undo') }),
    tell: ({ undoDepth }) => `the last ${plural(undoDepth, 'action')} can be undone`,
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
  throw new DrawerError({
    code: 'usage',
    what: `“${words}” is no rule`,
    next: `Say NAME=VALUE, with one of ${rules.map((each) => each.name).join(', ')}`,
  });
}

const seconds = { s: 1, m: 60, h: 3_600, d: 86_400, w: 604_800 } as const;

/**
 * `10m`, `2h`, `7d` in seconds.
 * @throws DrawerError `usage`
 */
export function parseDuration(words: string): number {
  const [, count, unit] = /^(\d{1,6})\s*([smhdw])$/.exec(words.trim()) ?? [];
  if (count !== undefined && Number(count) > 0) return Number(count) * seconds[unit as keyof typeof seconds];
  throw new DrawerError({
    code: 'usage',
    what: `“${words}” is no time`,
    next: 'Say a number with s, m, h, d or w, such as 10m or 7d',
  });
}

/** `7 days`, in the largest unit that is whole. */
export function durationInWords(length: number): string {
  const units = [
    ['week', seconds.w],
    ['day', seconds.d],
    ['hour', seconds.h],
    ['minute', seconds.m],
  ] as const;
  const [name, size] = units.find(([, each]) => length % each === 0) ?? (['second', 1] as const);
  return plural(length / size, name);
}

/** `12 KB`, `1 GB`: by the thousand and twenty-four. */
export function bytesInWords(bytes: number): string {
  const power = bytes < 1024 ? 0 : Math.min(3, Math.floor(Math.log2(bytes) / 10));
  const value = bytes / 1024 ** power;
  return power === 0
    ? plural(bytes, 'byte')
    : `${value < 10 ? Number(value.toFixed(1)) : Math.round(value)} ${['', 'KB', 'MB', 'GB'][power]}`;
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

const shapeWords = { run: 'words', blocks: 'paragraphs', cells: 'cells', picture: 'pictures' } as const;

function lastsInWords(lasts: Settings['lasts']): string {
  const told = shapes.flatMap((shape) =>
    lasts[shape] === undefined ? [] : [`${shapeWords[shape]} ${durationInWords(lasts[shape])}`],
  );
  return told.length === 0
    ? 'what is gathered stays for good'
    : `what is gathered from now on stays: ${told.join(', ')}`;
}

const names = (words: string): string[] =>
  words === 'nothing'
    ? []
    : words
        .split(',')
        .map((each) => each.trim())
        .filter((each) => each !== '');

const joinWords = {
  nothing: 'at once',
  space: 'after a space',
  line: 'on a new line',
  paragraph: 'as a new paragraph',
} as const;

const joinNamed = (words: string): Join =>
  words in joinWords ? (words as keyof typeof joinWords) : { text: words.replaceAll('\\n', '\n') };

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
  new DrawerError({
    code: 'usage',
    what: `${name} does not take “${words}”`,
    next: `It takes ${rules.find((rule) => rule.name === name)?.takes}`,
  });

/** How full a drawer is: `5 of 250,000 snippets, 12 KB of 1 GB`. */
export const fullnessInWords = (snippets: number, bytes: number, { capacity, size }: Settings): string =>
  `${grouped(snippets)} of ${plural(capacity, 'snippet')}, ${bytesInWords(bytes)} of ${bytesInWords(size)}`;
