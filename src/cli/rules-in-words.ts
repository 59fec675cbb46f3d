import { grouped, plural, shapes } from '../content/index.ts';
import { bytesInWords, type Settings } from '../drawer/index.ts';

/** What each rule says, by its name. */
export const ruleInWords: { readonly [name: string]: (settings: Settings) => string } = {
  most: ({ capacity }) => `at most ${plural(capacity, 'snippet')}`,
  size: ({ size }) => `at most ${bytesInWords(size)} of words and pictures`,
  full: ({ full }) =>
    full === 'refuse'
      ? 'refuse: when it is full it takes no more, and lets nothing go'
      : 'let-go: when it is full the oldest goes that is not held, and that is said',
  repeats: ({ repeats }) =>
    ({
      keep: 'keep: what is there already is kept once more',
      skip: 'skip: what is there already is not kept again',
      'to-end': 'to-end: what is there already moves to the end',
    })[repeats],
  blanks: ({ blanks }) => (blanks === 'skip' ? 'skip: what holds nothing is not kept' : 'keep: kept like all else'),
  lasts: ({ lasts }) => lastsInWords(lasts),
  ignore: ({ ignored }) =>
    ignored.length === 0 ? 'nothing is left out' : `nothing is kept from ${ignored.join(', ')}`,
  secret: ({ secretFrom }) =>
    secretFrom.length === 0 ? 'nothing is secret by itself' : `what comes from ${secretFrom.join(', ')} is secret`,
  join: ({ join }) => `what is appended follows ${typeof join === 'string' ? joinWords[join] : `“${join.text}”`}`,
  style: ({ style }) =>
    ({
      original: 'original: what is pasted looks as it did',
      local: 'local: what is pasted takes the styles of where it lands',
      plain: 'plain: only words are pasted',
    })[style],
  undo: ({ undoDepth }) => `the last ${plural(undoDepth, 'action')} can be undone`,
};

/** `7 days`, in the largest unit that is whole. */
function durationInWords(length: number): string {
  const units = [
    ['week', 604_800],
    ['day', 86_400],
    ['hour', 3_600],
    ['minute', 60],
  ] as const;
  const [name, size] = units.find(([, each]) => length % each === 0) ?? (['second', 1] as const);
  return plural(length / size, name);
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

const joinWords = {
  nothing: 'at once',
  space: 'after a space',
  line: 'on a new line',
  paragraph: 'as a new paragraph',
} as const;

/** How full a drawer is: `5 of 250,000 snippets, 12 KB of 1 GB`. */
export const fullnessInWords = (snippets: number, bytes: number, { capacity, size }: Settings): string =>
  `${grouped(snippets)} of ${plural(capacity, 'snippet')}, ${bytesInWords(bytes)} of ${bytesInWords(size)}`;
