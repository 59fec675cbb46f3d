import colorString from 'color-string';
import parsePhoneNumber, { type CountryCode } from 'libphonenumber-js/min';
import { LinkifyIt } from 'linkify-it';
import { asBlocks, blocksText, type Cell, type Content, inlineText } from '../content/index.ts';
import { amount, findDate, isNumber } from './dates.ts';
import { type Trait, traits } from './snippet.ts';

/** Longer words are prose, whatever stands in them. */
const longest = 120;

/**
 * What a content is as a whole, such as a date or an address of the web: what a field of a form may ask for. `language`
 * says how dates and telephone numbers are written there.
 */
export function traitsOf(content: Content, language = 'en-GB'): Trait[] {
  const cell =
    content.shape === 'cells' && content.rows.length === 1 && content.rows[0]?.length === 1
      ? content.rows[0][0]
      : undefined;
  const words = wordsOf(content).trim();
  const found = new Set<Trait>(cell ? cellTraits(cell) : []);
  if (isCode(content)) found.add('code');
  if (words !== '' && words.length <= longest && !words.includes('\n'))
    for (const trait of traits) if (tests[trait]?.(words, language)) found.add(trait);
  return traits.filter((trait) => found.has(trait));
}

/** Words enough to tell by, without writing out a long document. */
function wordsOf(content: Content): string {
  if (content.shape === 'run') return inlineText(content.inlines);
  if (content.shape === 'cells' && (content.rows.length > 1 || (content.rows[0]?.length ?? 0) > 1)) return '';
  const [only, ...others] = asBlocks(content);
  const isShort = others.length === 0 && (only?.type !== 'table' || content.shape === 'cells') && only?.type !== 'list';
  return only && isShort ? blocksText([only]) : '';
}

function cellTraits(cell: Cell): Trait[] {
  if (cell.type === 'date') return ['date'];
  if (cell.type !== 'number') return [];
  return /[$£€¥₹]|\[\$/.test(cell.format ?? '') ? ['money', 'number'] : ['number'];
}

function isCode(content: Content): boolean {
  if (content.shape === 'run')
    return (
      content.inlines.length > 0 && content.inlines.every((inline) => inline.type === 'text' && inline.marks?.code)
    );
  return content.shape === 'blocks' && content.blocks.length > 0 && content.blocks.every(({ type }) => type === 'code');
}

const links = new LinkifyIt();

/** Whether one link of a kind takes all the words. */
function isLink(words: string, isOfKind: (schema: string) => boolean): boolean {
  if (/\s/.test(words)) return false; // which is soon seen
  const [only] = links.match(words) ?? [];
  return only !== undefined && only.index === 0 && only.lastIndex === words.length && isOfKind(only.schema);
}

const signs = '[$£€¥₹₽₩]|CHF|kr|zł|Kč';
const isMoney = new RegExp(
  `^(?:(?:${signs}|[A-Z]{3})\\s?${amount}|${amount}\\s?(?:${signs}|[A-Z]{3}))(?:\\s?(?:k|m|bn|million|billion))?$`,
);
const isQuantity = new RegExp(
  `^${amount}\\s?(%|‰|°[CF]?|[kmcµnMG]?(?:m|g|l|L|s|W|V|A|Hz|Wh|Pa|J|N|B|bit)|[kmc]?m[²³23]|t|h|min|d|ha|km/h|mph|in|ft|yd|mi|oz|lb|st|gal|pt|px|kn|bar|dpi|hours?|minutes?|days?|weeks?|months?|years?|metres?|meters?|miles?|feet|tonnes?|tons?|litres?|liters?)$`,
);

const currencies: ReadonlySet<string> = new Set(Intl.supportedValuesOf('currency'));

const tests: { readonly [T in Trait]?: (words: string, language: string) => boolean } = {
  date: (words, language) => findDate(words, language) !== undefined,
  money: (words) => {
    if (!isMoney.test(words)) return false;
    const [code] = /[A-Z]{3}/.exec(words) ?? [];
    return code === undefined || currencies.has(code);
  },
  number: (words) => isNumber.test(words),
  quantity: (words) => isQuantity.test(words),
  email: (words) => isLink(words, (schema) => schema === 'mailto:'),
  url: (words) => isLink(words, (schema) => schema !== 'mailto:'),
  phone: isPhone,
  colour: (words) => /^(?:#|rgb|hsl|hwb)/i.test(words) && colorString.get(words.toLowerCase()) !== null,
};

function isPhone(words: string, language: string): boolean {
  if (!/^(?:\+|tel:|\(?0|\d)[\d\s().\-/]{5,22}$/.test(words.replace(/^tel:/, ''))) return false;
  const country = new Intl.Locale(language).maximize().region as CountryCode | undefined;
  return parsePhoneNumber(words, country)?.isValid() === true;
}
