import { decimalNumber } from './decimal.ts';
import type { BooleanCell, DateCell, NumberCell } from './model.ts';
import { type DateNames, dateNames, readDate } from './written-date.ts';
import { type NumberSigns, numberSigns, otherSigns, readNumber, type WrittenNumber } from './written-number.ts';

/** A cell whose value was written as words. */
export type WrittenCell = NumberCell | DateCell | BooleanCell;

/** Two words of one column that write decimals in different ways, so that its numbers cannot be told. */
export type Ambiguity = readonly [string, string];

/** What the words of one column, or of one place, are as values. */
export interface ColumnValues {
  /** A value for each of the words, in their order; `undefined` where they stay words. */
  readonly values: readonly (WrittenCell | undefined)[];
  /** The number behind each value that is one. */
  readonly numbers: readonly (WrittenNumber | undefined)[];
  readonly ambiguity?: Ambiguity;
}

/** How spreadsheets of a language write truth values; elsewhere than in English only in capitals, since they are words too. */
const truths: Readonly<Record<string, readonly [yes: string, no: string]>> = {
  de: ['WAHR', 'FALSCH'],
  es: ['VERDADERO', 'FALSO'],
  fr: ['VRAI', 'FAUX'],
  it: ['VERO', 'FALSO'],
  nl: ['WAAR', 'ONWAAR'],
  pt: ['VERDADEIRO', 'FALSO'],
};

/** Reads values that were written as words of one language: numbers, money, percentages, dates, times, truth values. */
export class ValueReader {
  readonly #language: string;
  readonly #signs: NumberSigns;
  #names: DateNames | undefined;

  /** @param language a BCP 47 tag; words that are right in another way of writing numbers only are read in that one. */
  constructor(language = 'en-GB') {
    this.#language = language;
    this.#signs = numberSigns(language);
  }

  /** The value that words write, all of them; `undefined` where they are words. */
  read(words: string): WrittenCell | undefined {
    return this.readColumn([words]).values[0];
  }

  /** The number that words write. */
  readNumber(words: string): WrittenNumber | undefined {
    return this.readColumn([words]).numbers[0];
  }

  /**
   * The values of words that stand together. They are read as the language writes numbers or, where none of its numbers
   * could mean anything else, the other way round; where some could, none is read: `1.200` beside `3,50`.
   */
  readColumn(words: readonly string[]): ColumnValues {
    const own = words.map((each) => readNumber(each, this.#signs));
    const others = words.map((each, at) => (mayDiffer(each) ? readNumber(each, otherSigns(this.#signs)) : own[at]));
    const foreign = words.findIndex((_, at) => !own[at] && others[at]);
    const doubtful = words.findIndex((_, at) => own[at] && !isSame(own[at], others[at]));
    const isAmbiguous = foreign >= 0 && doubtful >= 0;
    const numbers = isAmbiguous ? words.map(() => undefined) : foreign >= 0 ? others : own;
    return {
      values: words.map((each, at) => numberCell(each, numbers[at]) ?? this.#other(each)),
      numbers,
      ...(isAmbiguous && { ambiguity: [words[doubtful] ?? '', words[foreign] ?? ''] as const }),
    };
  }

  #other(words: string): DateCell | BooleanCell | undefined {
    const truth = this.#truth(words.trim());
    if (truth !== undefined) return { type: 'boolean', value: truth, text: words.trim() };
    if (!/\d/.test(words)) return undefined;
    this.#names ??= dateNames(this.#language);
    const date = readDate(words, this.#names);
    return date && { type: 'date', ...date, text: words.trim() };
  }

  #truth(words: string): boolean | undefined {
    if (/^(?:true|false)$/i.test(words)) return words.toLowerCase() === 'true';
    const at = truths[this.#language.slice(0, 2).toLowerCase()]?.indexOf(words) ?? -1;
    return at < 0 ? undefined : at === 0;
  }
}

/** Only words with a point or a comma can be read in two ways. */
const mayDiffer = (words: string): boolean => /[.,]/.test(words);

const isSame = (one: WrittenNumber, other: WrittenNumber | undefined): boolean =>
  one.exact.units === other?.exact.units && one.exact.places === other.exact.places;

function numberCell(words: string, number: WrittenNumber | undefined): NumberCell | undefined {
  return (
    number && {
      type: 'number',
      value: decimalNumber(number.exact),
      text: words.trim(),
      ...(number.format !== undefined && { format: number.format }),
    }
  );
}
