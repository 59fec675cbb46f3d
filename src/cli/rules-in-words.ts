import { shapes } from '../content/index.ts';
import type { Settings } from '../drawer/index.ts';
import { type CommandWords, snippetCount } from './command-words.ts';

/** What each rule says, by its name. */
export const ruleInWords: { readonly [name: string]: (settings: Settings, words: CommandWords) => string } = {
  most: ({ capacity }, words) => words.tell('rule.most', { snippets: snippetCount(capacity) }),
  size: ({ size }, words) => words.tell('rule.size', { bytes: words.bytes(size) }),
  full: ({ full }, words) => words.tell(`rule.full.${full}`),
  repeats: ({ repeats }, words) => words.tell(`rule.repeats.${repeats}`),
  blanks: ({ blanks }, words) => words.tell(`rule.blanks.${blanks}`),
  lasts: ({ lasts }, words) => lastsInWords(lasts, words),
  ignore: ({ ignored }, words) =>
    ignored.length === 0 ? words.tell('rule.ignore.none') : words.tell('rule.ignore', { sources: ignored }),
  secret: ({ secretFrom }, words) =>
    secretFrom.length === 0 ? words.tell('rule.secret.none') : words.tell('rule.secret', { sources: secretFrom }),
  join: ({ join }, words) =>
    words.tell('rule.join', { how: typeof join === 'string' ? words.tell(`rule.join.${join}`) : `“${join.text}”` }),
  style: ({ style }, words) => words.tell(`rule.style.${style}`),
  undo: ({ undoDepth }, words) => words.tell('rule.undo', { count: undoDepth }),
};

function lastsInWords(lasts: Settings['lasts'], words: CommandWords): string {
  const told = shapes.flatMap((shape) =>
    lasts[shape] === undefined
      ? []
      : [words.tell('lastsTime', { shape: words.tell(`shape.${shape}`), time: words.duration(lasts[shape]) })],
  );
  return told.length === 0 ? words.tell('rule.lasts.ever') : words.tell('rule.lasts', { times: told });
}

/** How full a drawer is: `5 of 250,000 snippets, 12 KB of 1 GB`. */
export const fullnessInWords = (
  snippets: number,
  bytes: number,
  { capacity, size }: Settings,
  words: CommandWords,
): string =>
  words.say('fullness', {
    count: snippets,
    capacity,
    bytes: words.bytes(bytes),
    size: words.bytes(size),
  });
