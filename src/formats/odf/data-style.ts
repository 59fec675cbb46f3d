import { nullPrototype } from '../xml/element.ts';
import type { Attributes, XmlHandler } from '../xml/read-xml.ts';

/** A number format that other formats may refer to under a condition (ISO/IEC 26300-1, section 16.29). */
interface DataStyle {
  code: string;
  readonly maps: { readonly condition: string; readonly style: string }[];
}

const styleElements = new Set([
  'number:number-style',
  'number:currency-style',
  'number:percentage-style',
  'number:date-style',
  'number:time-style',
  'number:boolean-style',
  'number:text-style',
]);

/** Reads data styles as number format codes (ISO/IEC 29500-1, 18.8.31), one notation for both families of formats. */
export class DataStyleReader implements XmlHandler {
  readonly #styles = new Map<string, DataStyle>();
  #current: DataStyle | undefined;
  #words = '';
  #collects = false;
  /** Of a currency: the language that it is written in. */
  #locale = '';
  #truncates = true;

  open(name: string, a: Attributes): void {
    if (styleElements.has(name)) {
      this.#current = { code: '', maps: [] };
      this.#truncates = a['number:truncate-on-overflow'] !== 'false';
      this.#styles.set(a['style:name'] ?? '', this.#current);
      return;
    }
    if (!this.#current) return;
    if (name === 'style:map')
      this.#current.maps.push({ condition: a['style:condition'] ?? '', style: a['style:apply-style-name'] ?? '' });
    else if (name === 'style:text-properties') this.#current.code += colourOf(a['fo:color']);
    else if (name === 'number:text' || name === 'number:currency-symbol') {
      const id = localeId(a['number:language'], a['number:country']);
      this.#locale = id === undefined ? '' : `-${id}`;
      this.#collects = true;
      this.#words = '';
    } else this.#current.code += codes[name]?.(a, this.#truncates) ?? '';
  }

  close(name: string): void {
    if (styleElements.has(name)) this.#current = undefined;
    if (!this.#collects || !this.#current || (name !== 'number:text' && name !== 'number:currency-symbol')) return;
    this.#collects = false;
    this.#current.code += name === 'number:text' ? literal(this.#words) : `[$${this.#words}${this.#locale}]`;
  }

  text(words: string): void {
    if (this.#collects) this.#words += words;
  }

  /** The code, the formats for other conditions in front. */
  codeOf(name: string): string | undefined {
    const style = this.#styles.get(name);
    if (!style) return undefined;
    const sections = style.maps.flatMap(({ condition, style: other }) => {
      const [, comparison] = /^value\(\)\s*([<>=!]+\s*-?[\d.]+)$/.exec(condition) ?? [];
      const code = this.#styles.get(other)?.code;
      return comparison === undefined || code === undefined
        ? []
        : [`[${comparison.replace('!=', '<>').replace(/\s/g, '')}]${code}`];
    });
    return [...sections, style.code].join(';') || undefined;
  }
}

const colourNames: Readonly<Record<string, string>> = nullPrototype({
  '#000000': '[Black]',
  '#0000ff': '[Blue]',
  '#00ffff': '[Cyan]',
  '#00ff00': '[Green]',
  '#ff00ff': '[Magenta]',
  '#ff0000': '[Red]',
  '#ffffff': '[White]',
  '#ffff00': '[Yellow]',
});
const colourOf = (value: string | undefined): string => colourNames[value?.toLowerCase() ?? ''] ?? '';

/** Words in a format: signs that mean themselves stay, all else is quoted. */
const literal = (words: string): string =>
  words
    .split('%')
    .map((part) => (/^[ $+\-/():]*$/.test(part) ? part : `"${part.replaceAll('"', "''")}"`))
    .join('%');

const isLong = (a: Attributes): boolean => a['number:style'] === 'long';
const count = (a: Attributes, name: string, otherwise = 0): number => {
  const value = Number(a[name] ?? otherwise);
  return value >= 0 && value <= 30 ? value : otherwise;
};

/** How a number is shown as a truth value; a truth value is shown so without it. */
export const truthCode = '"TRUE";"TRUE";"FALSE"';

/** One reader an element (sections 16.29.3 to 16.29.24). */
const codes: Readonly<Record<string, (a: Attributes, truncates: boolean) => string>> = nullPrototype({
  'number:number': numberCode,
  'number:scientific-number': (a) =>
    `${numberCode(a)}E${a['number:forced-exponent-sign'] === 'false' ? '-' : '+'}${'0'.repeat(Math.max(1, count(a, 'number:min-exponent-digits', 2)))}`,
  'number:fraction': (a) =>
    `${a['number:min-integer-digits'] === undefined ? '' : `${'0'.repeat(count(a, 'number:min-integer-digits')) || '#'} `}${'?'.repeat(Math.max(1, count(a, 'number:min-numerator-digits', 1)))}/${a['number:denominator-value'] ?? '?'.repeat(Math.max(1, count(a, 'number:min-denominator-digits', 1)))}`,
  'number:boolean': () => truthCode,
  'number:text-content': () => '@',
  'number:day': (a) => (isLong(a) ? 'dd' : 'd'),
  'number:month': (a) => (a['number:textual'] === 'true' ? (isLong(a) ? 'mmmm' : 'mmm') : isLong(a) ? 'mm' : 'm'),
  'number:year': (a) => (isLong(a) ? 'yyyy' : 'yy'),
  'number:day-of-week': (a) => (isLong(a) ? 'dddd' : 'ddd'),
  'number:hours': (a, truncates) => overflowing(isLong(a) ? 'hh' : 'h', truncates),
  'number:minutes': (a) => (isLong(a) ? 'mm' : 'm'),
  'number:seconds': (a) => {
    const places = count(a, 'number:decimal-places');
    return `${isLong(a) ? 'ss' : 's'}${places > 0 ? `.${'0'.repeat(places)}` : ''}`;
  },
  'number:am-pm': () => 'AM/PM',
});

/** A length of time may have more hours than a day. */
const overflowing = (code: string, truncates: boolean): string => (truncates ? code : `[${code}]`);

/** Grouped by thousands: `#,##0` for at least one digit. */
const grouped = (digits: string): string =>
  digits.length <= 3 ? `#,${digits.padStart(3, '#')}` : `${digits.slice(0, -3)},${digits.slice(-3)}`;

function numberCode(a: Attributes): string {
  const least = count(a, 'number:min-integer-digits', 1);
  const digits = '0'.repeat(least);
  const whole = a['number:grouping'] === 'true' ? grouped(digits) : digits || '#';
  const places = count(a, 'number:decimal-places');
  const fixed = Math.min(places, count(a, 'number:min-decimal-places', places));
  const decimals = '0'.repeat(fixed) + '#'.repeat(places - fixed);
  const factor = Number(a['number:display-factor'] ?? 1);
  const scaled = factor >= 1000 ? ','.repeat(Math.round(Math.log10(factor) / 3)) : '';
  return `${whole}${decimals === '' ? '' : `.${decimals}`}${scaled}`;
}

/** The identifiers that number formats have for languages (ISO/IEC 29500-1, 18.8.31), of those with a currency of their own. */
const identifiers: readonly (readonly [id: string, tag: string])[] = [
  ['401', 'ar-SA'],
  ['402', 'bg-BG'],
  ['404', 'zh-TW'],
  ['405', 'cs-CZ'],
  ['406', 'da-DK'],
  ['407', 'de-DE'],
  ['408', 'el-GR'],
  ['409', 'en-US'],
  ['40A', 'es-ES'],
  ['40B', 'fi-FI'],
  ['40C', 'fr-FR'],
  ['40D', 'he-IL'],
  ['40E', 'hu-HU'],
  ['40F', 'is-IS'],
  ['410', 'it-IT'],
  ['411', 'ja-JP'],
  ['412', 'ko-KR'],
  ['413', 'nl-NL'],
  ['414', 'nb-NO'],
  ['415', 'pl-PL'],
  ['416', 'pt-BR'],
  ['418', 'ro-RO'],
  ['419', 'ru-RU'],
  ['41A', 'hr-HR'],
  ['41B', 'sk-SK'],
  ['41D', 'sv-SE'],
  ['41E', 'th-TH'],
  ['41F', 'tr-TR'],
  ['421', 'id-ID'],
  ['422', 'uk-UA'],
  ['424', 'sl-SI'],
  ['425', 'et-EE'],
  ['426', 'lv-LV'],
  ['427', 'lt-LT'],
  ['42A', 'vi-VN'],
  ['439', 'hi-IN'],
  ['804', 'zh-CN'],
  ['807', 'de-CH'],
  ['809', 'en-GB'],
  ['80A', 'es-MX'],
  ['80C', 'fr-BE'],
  ['810', 'it-CH'],
  ['813', 'nl-BE'],
  ['816', 'pt-PT'],
  ['C01', 'ar-EG'],
  ['C07', 'de-AT'],
  ['C09', 'en-AU'],
  ['C0A', 'es-ES'],
  ['C0C', 'fr-CA'],
  ['1009', 'en-CA'],
  ['100C', 'fr-CH'],
  ['1407', 'de-LI'],
  ['1409', 'en-NZ'],
  ['1809', 'en-IE'],
  ['1C09', 'en-ZA'],
  ['2C0A', 'es-AR'],
  ['3801', 'ar-AE'],
  ['4009', 'en-IN'],
];

const tags = new Map(identifiers);
const ids = new Map(identifiers.toReversed().map(([id, tag]) => [tag, id]));

/** The language and country of an identifier, such as `407`: de and DE. */
export function localeOf(id: string): { readonly language: string; readonly country: string } | undefined {
  const [language, country] = tags.get(id.replace(/^0+/, '').toUpperCase())?.split('-') ?? [];
  return language === undefined || country === undefined ? undefined : { language, country };
}

/** The identifier of a language and country; `undefined` where there is none. */
export const localeId = (language = '', country = ''): string | undefined => ids.get(`${language}-${country}`);
