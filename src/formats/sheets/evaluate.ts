import type { Cell } from '../../content/index.ts';
import { type CellsFragment, columnNumber, type Fragment } from '../../places/index.ts';
import { momentSerial } from './display.ts';

/** What a formula gives. */
export type Result = number | string | boolean | ErrorResult;
/** Such as `#DIV/0!` (ISO/IEC 29500-1, 18.17.2). */
export interface ErrorResult {
  readonly error: string;
}

/** What formulas ask of their workbook. */
export interface Workbook {
  /** The cells of a place, as they are now; `undefined` where it is no range of cells. */
  cells(place: Fragment): Promise<readonly (readonly Cell[])[] | undefined>;
  /** The formulas of an area that are being worked out anew, and what they give; `undefined` where nobody knows. */
  waiting(
    sheet: string,
    area: Pick<CellsFragment, 'rows' | 'columns'>,
  ): readonly { readonly formula: string; result(): Promise<Result | undefined> }[];
  readonly epoch1904: boolean;
}

/** A formula and where it stands. */
export interface Formula {
  readonly text: string;
  readonly sheet: string;
}

/** Something that this evaluator does not know for certain: then it gives no result at all. */
class Unknown extends Error {}

type Scalar = Result | undefined;
interface Range {
  readonly values: readonly { readonly value: Scalar; readonly isSubtotal: boolean }[];
}
type Value = Scalar | Range;

const isRange = (value: Value): value is Range => typeof value === 'object' && value !== null && 'values' in value;
const isError = (value: Value): value is ErrorResult => typeof value === 'object' && value !== null && 'error' in value;

/**
 * What a formula gives, of those that can be told for certain: arithmetic, comparisons, words put together, references and
 * ranges, and the commonest functions (ISO/IEC 29500-1, 18.17).
 * @returns `undefined` for everything else, so that a wrong result is never given.
 */
export async function evaluate({ text, sheet }: Formula, workbook: Workbook): Promise<Result | undefined> {
  try {
    const reader = new Reader(text, sheet, workbook);
    const value = await reader.expression(0);
    if (!reader.isAtEnd) return undefined;
    const result = one(value);
    return result === undefined
      ? 0
      : typeof result === 'number' && !Number.isFinite(result)
        ? { error: '#NUM!' }
        : result;
  } catch (error) {
    if (error instanceof Unknown) return undefined;
    throw error;
  }
}

const token =
  /\s*(?:(\d+(?:\.\d*)?(?:E[+-]?\d+)?|\.\d+)|"((?:[^"]|"")*)"|((?:'(?:[^']|'')+'|[A-Za-z_][\w.]*)!)?(\$?[A-Z]{1,3}\$?\d{1,7}(?::\$?[A-Z]{1,3}\$?\d{1,7})?|\$?[A-Z]{1,3}:\$?[A-Z]{1,3}|\$?\d{1,7}:\$?\d{1,7})(?![\w(.])|([A-Za-z_][\w.]*)\s*(\()?|(<>|<=|>=|[-+*/^&=<>%(),]))/y;

interface Token {
  readonly kind: 'number' | 'text' | 'reference' | 'function' | 'name' | 'sign' | 'end';
  readonly words: string;
  readonly sheet?: string | undefined;
}

const binding: Readonly<Record<string, number>> = {
  '=': 1,
  '<>': 1,
  '<': 1,
  '>': 1,
  '<=': 1,
  '>=': 1,
  '&': 2,
  '+': 3,
  '-': 3,
  '*': 4,
  '/': 4,
  '^': 5,
};

/** Reads a formula by how tightly its signs bind, and works it out on the way. */
class Reader {
  readonly #text: string;
  readonly #sheet: string;
  readonly #workbook: Workbook;
  #at = 0;
  #next: Token;

  constructor(text: string, sheet: string, workbook: Workbook) {
    this.#text = text;
    this.#sheet = sheet;
    this.#workbook = workbook;
    this.#next = this.#read();
  }

  get isAtEnd(): boolean {
    return this.#next.kind === 'end';
  }

  #read(): Token {
    if (this.#text.slice(this.#at).trim() === '') return { kind: 'end', words: '' };
    token.lastIndex = this.#at;
    const match = token.exec(this.#text);
    if (!match) throw new Unknown();
    this.#at = token.lastIndex;
    const [, number, text, sheet, reference, name, isCall, sign = ''] = match;
    if (number !== undefined) return { kind: 'number', words: number };
    if (text !== undefined) return { kind: 'text', words: text.replaceAll('""', '"') };
    if (reference !== undefined) return { kind: 'reference', words: reference, sheet };
    if (name !== undefined) return { kind: isCall ? 'function' : 'name', words: name.toUpperCase() };
    return { kind: 'sign', words: sign };
  }

  #take(): Token {
    const taken = this.#next;
    this.#next = this.#read();
    return taken;
  }

  #isSign(words: string): boolean {
    return this.#next.kind === 'sign' && this.#next.words === words;
  }

  #expect(words: string): void {
    if (!this.#isSign(words)) throw new Unknown();
    this.#take();
  }

  async expression(least: number): Promise<Value> {
    let left = await this.#prefix();
    for (;;) {
      const { kind, words } = this.#next;
      const power = kind === 'sign' ? binding[words] : undefined;
      if (power === undefined || power <= least) return left;
      this.#take();
      const right = await this.expression(power);
      left = calculated(words, one(left), one(right));
    }
  }

  async #prefix(): Promise<Value> {
    if (this.#isSign('-') || this.#isSign('+')) {
      const { words } = this.#take();
      // A sign in front binds more tightly than a power.
      const value = await this.expression(5);
      return words === '-' ? calculated('-', 0, one(value)) : value;
    }
    let value = await this.#operand();
    while (this.#isSign('%')) {
      this.#take();
      value = calculated('/', one(value), 100);
    }
    return value;
  }

  async #operand(): Promise<Value> {
    const { kind, words, sheet } = this.#take();
    switch (kind) {
      case 'number':
        return Number(words);
      case 'text':
        return words;
      case 'reference':
        return this.#reference(words, sheet);
      case 'function':
        return this.#call(words);
      case 'name':
        if (words === 'TRUE' || words === 'FALSE') return words === 'TRUE';
        throw new Unknown();
      default: {
        if (words !== '(') throw new Unknown();
        const value = await this.expression(0);
        this.#expect(')');
        return value;
      }
    }
  }

  async #call(name: string): Promise<Value> {
    const given: Value[] = [];
    while (!this.#isSign(')')) {
      given.push(this.#isSign(',') ? undefined : await this.expression(0));
      if (!this.#isSign(')')) this.#expect(',');
    }
    this.#take();
    const work = Object.hasOwn(functions, name) ? functions[name] : undefined;
    if (!work) throw new Unknown();
    return work(given);
  }

  async #reference(words: string, written: string | undefined): Promise<Value> {
    const sheet = written?.slice(0, -1).replace(/^'|'$/g, '').replaceAll("''", "'") ?? this.#sheet;
    const [first = '', last = first] = words.replaceAll('$', '').split(':');
    const [from, to] = [corner(first), corner(last)];
    const span = (one: number | undefined, other: number | undefined) =>
      one === undefined || other === undefined ? undefined : { from: Math.min(one, other), to: Math.max(one, other) };
    const [rows, columns] = [span(from.row, to.row), span(from.column, to.column)];
    const cells = await this.#workbook.cells({
      kind: 'cells',
      sheet,
      ...(rows && { rows }),
      ...(columns && { columns }),
    });
    if (!cells) throw new Unknown();
    const waiting = this.#workbook.waiting(sheet, { ...(rows && { rows }), ...(columns && { columns }) });
    const values: Range['values'][number][] = [];
    let blank = 0;
    for (const cell of cells.flat()) {
      if (cell.type === 'empty' && cell.formula !== undefined && !cell.formula.includes('""')) blank++;
      else values.push({ value: this.#valueOf(cell), isSubtotal: isSubtotal(cell.formula) });
    }
    // Those that have no result and are not being worked out had none before either.
    if (blank > waiting.length) throw new Unknown();
    for (const { formula, result } of waiting) {
      const value = await result();
      if (value === undefined) throw new Unknown();
      values.push({ value, isSubtotal: isSubtotal(formula) });
    }
    return words.includes(':') ? { values } : values[0]?.value;
  }

  #valueOf(cell: Cell): Scalar {
    switch (cell.type) {
      case 'empty':
        return cell.formula === undefined ? undefined : '';
      case 'error':
        return { error: cell.value };
      case 'date':
        return momentSerial(cell.value, this.#workbook.epoch1904);
      default:
        return cell.value;
    }
  }
}

const isSubtotal = (formula = ''): boolean => /\bSUBTOTAL\(/i.test(formula);

function corner(words: string): { readonly row?: number; readonly column?: number } {
  const [, letters = '', digits = ''] = /^([A-Z]*)(\d*)$/.exec(words) ?? [];
  return { ...(digits !== '' && { row: Number(digits) }), ...(letters !== '' && { column: columnNumber(letters) }) };
}

/** A single value; a range in its place means one of its cells, by a rule that is not known here. */
function one(value: Value): Scalar {
  if (isRange(value)) throw new Unknown();
  return value;
}

/** A number, where that is certain: words that could be read as one are not. */
function numberOf(value: Scalar): number {
  if (value === undefined) return 0;
  if (typeof value === 'number') return value;
  if (typeof value === 'boolean') return Number(value);
  throw new Unknown();
}

function calculated(sign: string, left: Scalar, right: Scalar): Scalar {
  if (isError(left)) return left;
  if (isError(right)) return right;
  if (sign === '&') return textOf(left) + textOf(right);
  if (binding[sign] === 1) return compared(sign, left, right);
  const [one, other] = [numberOf(left), numberOf(right)];
  switch (sign) {
    case '+':
      return one + other;
    case '-':
      return one - other;
    case '*':
      return one * other;
    case '/':
      return other === 0 ? { error: '#DIV/0!' } : one / other;
    default:
      return one ** other;
  }
}

function textOf(value: Scalar): string {
  if (value === undefined) return '';
  if (typeof value === 'string') return value;
  if (typeof value === 'number' && Number.isInteger(value)) return String(value);
  throw new Unknown(); // how others are written is a matter of language
}

function compared(sign: string, left: Scalar, right: Scalar): boolean {
  const [one, other] = [left ?? (typeof right === 'string' ? '' : 0), right ?? (typeof left === 'string' ? '' : 0)];
  if (typeof one !== typeof other) throw new Unknown();
  const [a, b] = typeof one === 'string' ? [one.toLowerCase(), String(other).toLowerCase()] : [one, other];
  switch (sign) {
    case '=':
      return a === b;
    case '<>':
      return a !== b;
    case '<':
      return a < b;
    case '>':
      return a > b;
    case '<=':
      return a <= b;
    default:
      return a >= b;
  }
}

// --- Functions ---------------------------------------------------------------------------------------------------------

/** The numbers among arguments: in ranges words, truth values and blanks do not count. An error anywhere is the result. */
function numbersIn(given: readonly Value[]): readonly number[] | ErrorResult {
  const numbers: number[] = [];
  for (const value of given) {
    if (!isRange(value)) {
      if (isError(value)) return value;
      numbers.push(numberOf(value));
      continue;
    }
    for (const { value: each } of value.values) {
      if (isError(each)) return each;
      if (typeof each === 'number') numbers.push(each);
    }
  }
  return numbers;
}

type Work = (given: readonly Value[]) => Value;

const overNumbers =
  (work: (numbers: readonly number[]) => Scalar): Work =>
  (given) => {
    const numbers = numbersIn(given);
    return isError(numbers as Value) ? (numbers as ErrorResult) : work(numbers as readonly number[]);
  };

const sum = (numbers: readonly number[]): number => numbers.reduce((whole, each) => whole + each, 0);
const mean = (numbers: readonly number[]): Scalar =>
  numbers.length === 0 ? { error: '#DIV/0!' } : sum(numbers) / numbers.length;
const least = (numbers: readonly number[]): number => (numbers.length === 0 ? 0 : Math.min(...numbers));
const most = (numbers: readonly number[]): number => (numbers.length === 0 ? 0 : Math.max(...numbers));

/** Halves away from zero, of the fifteen digits that count. */
function rounded(value: number, places: number, how: (size: number) => number): number {
  if (!Number.isInteger(places) || Math.abs(places) > 15) throw new Unknown();
  const scale = 10 ** Math.abs(places);
  const scaled = places >= 0 ? Math.abs(value) * scale : Math.abs(value) / scale;
  const whole = how(Number(scaled.toPrecision(15)));
  return Math.sign(value) * (places >= 0 ? whole / scale : whole * scale);
}

const rounding =
  (how: (size: number) => number): Work =>
  (given) => {
    const [value, places] = given.map(one);
    if (isError(value)) return value;
    return rounded(numberOf(value), numberOf(places), how);
  };

const truths = (given: readonly Value[]): boolean[] =>
  given.map((value) => {
    const single = one(value);
    if (isError(single) || typeof single === 'string') throw new Unknown();
    return numberOf(single) !== 0;
  });

/** By the number of what SUBTOTAL works out (18.17.7.319). */
const subtotals: Readonly<Record<number, Work>> = {
  1: overNumbers(mean),
  2: overNumbers((numbers) => numbers.length),
  4: overNumbers(most),
  5: overNumbers(least),
  9: overNumbers(sum),
};

const functions: Readonly<Record<string, Work>> = {
  SUM: overNumbers(sum),
  AVERAGE: overNumbers(mean),
  MIN: overNumbers(least),
  MAX: overNumbers(most),
  COUNT: (given) =>
    given
      .flatMap((value) => (isRange(value) ? value.values.map((each) => each.value) : [value]))
      .filter((value) => typeof value === 'number').length,
  COUNTA: (given) =>
    given
      .flatMap((value) => (isRange(value) ? value.values.map((each) => each.value) : [value]))
      .filter((value) => value !== undefined).length,
  PRODUCT: overNumbers((numbers) => numbers.reduce((whole, each) => whole * each, 1)),
  ABS: overNumbers(([value = 0]) => Math.abs(value)),
  ROUND: rounding(Math.round),
  ROUNDUP: rounding(Math.ceil),
  ROUNDDOWN: rounding(Math.floor),
  AND: (given) => truths(given).every(Boolean),
  OR: (given) => truths(given).some(Boolean),
  NOT: (given) => !truths(given)[0],
  IF(given) {
    const condition = one(given[0]);
    if (isError(condition)) return condition;
    if (typeof condition === 'string') throw new Unknown();
    const isSo = numberOf(condition) !== 0;
    return isSo ? (given[1] ?? 0) : given.length > 2 ? (given[2] ?? 0) : false;
  },
  SUBTOTAL(given) {
    const [kind, ...ranges] = given;
    const work = subtotals[numberOf(one(kind)) % 100];
    if (!work) throw new Unknown();
    return work(
      ranges.map((range) =>
        isRange(range) ? { values: range.values.filter(({ isSubtotal }) => !isSubtotal) } : range,
      ),
    );
  },
};
