import {
  columnLetters,
  DrawerError,
  type Fragment,
  parseFragment,
  parsePlace,
  printFragment,
  printPlace,
} from 'drawer';
import * as fc from 'fast-check';
import { columnNumber, findAddress, findRange, printRange } from '../../src/places/index.ts';
import { words } from '../support/said.ts';

const name = fc
  .oneof(
    fc.string({ minLength: 1, unit: 'grapheme' }),
    fc.constantFrom('Hull condition', 'a=b', '50 %', '%41', 'B2', '3-5', "it's", ';2', 'x;2', 'Costs!', 'line=3'),
  )
  .filter((each) => each.trim() !== '' && each.isWellFormed());
const span = fc
  .tuple(fc.integer({ min: 1, max: 999 }), fc.integer({ min: 0, max: 99 }))
  .map(([from, more]) => ({ from, to: from + more }));
const position = fc.oneof(fc.integer({ min: 1, max: 9999 }), fc.constant('*' as const));
const optional = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined });
const defined = <T extends object>(value: T): T =>
  Object.fromEntries(Object.entries(value).filter(([, each]) => each !== undefined)) as T;

const fragment: fc.Arbitrary<Fragment> = fc
  .oneof(
    fc.constant({ kind: 'whole' as const }),
    fc.record({
      kind: fc.constantFrom('section' as const, 'bookmark' as const),
      name,
      nth: optional(fc.integer({ min: 1, max: 99 })),
    }),
    fc
      .tuple(fc.constantFrom('paragraph' as const, 'table' as const, 'list' as const, 'picture' as const), span)
      .map(([kind, each]) => ({ kind, ...each })),
    fc
      .tuple(optional(name), span, span, fc.constantFrom('both', 'rows', 'columns', 'sheet'))
      .map(([sheet, columns, rows, which]) => ({
        kind: 'cells' as const,
        ...(sheet !== undefined || which === 'sheet' ? { sheet: sheet ?? 'S' } : {}),
        ...(which === 'both' || which === 'columns' ? { columns } : {}),
        ...(which === 'both' || which === 'rows' ? { rows } : {}),
      })),
    name.map((each) => ({ kind: 'name' as const, name: each })),
    fc.record({
      kind: fc.constant('quote' as const),
      start: name,
      end: optional(name),
      prefix: optional(name),
      suffix: optional(name),
    }),
    fc.record({
      kind: fc.constantFrom('line' as const, 'char' as const),
      from: optional(fc.nat(999)),
      to: fc.nat(999),
      length: optional(fc.nat(999)),
      md5: optional(fc.constant('d41d8cd98f00b204e9800998ecf8427e')),
    }),
    fc.record({
      kind: fc.constantFrom('row' as const, 'col' as const),
      selections: fc.array(fc.record({ from: position.map((each) => [each]), to: position.map((each) => [each]) }), {
        minLength: 1,
        maxLength: 3,
      }),
    }),
    fc.record({
      kind: fc.constant('cell' as const),
      selections: fc.array(fc.record({ from: fc.tuple(position, position), to: fc.tuple(position, position) }), {
        minLength: 1,
        maxLength: 3,
      }),
    }),
    fc.record({ kind: fc.constant('snippets' as const), ranges: fc.array(span, { minLength: 1, maxLength: 3 }) }),
  )
  .map((each) => defined(each) as Fragment);

describe('a place', () => {
  it('is read back as it was printed', () => {
    fc.assert(
      fc.property(
        fc.oneof(fc.string({ unit: 'grapheme' }), fc.constantFrom('costs #2.xlsx', '100%.docx', 'a%23b')),
        fragment,
        (file, each) => {
          expect(parsePlace(printPlace({ file, fragment: each }))).toEqual({ file, fragment: each });
        },
      ),
      { numRuns: 5000 },
    );
  });

  it('is printed back as it was written, in the forms that people use', () => {
    const written = [
      'section=Hull condition',
      'section=Findings;2',
      'paragraph=4-6',
      'table=2',
      'Timber!B2:D9',
      "'Sources of money'!A1",
      'B2',
      'Timber!B:C',
      'Timber!3:5',
      'TimberPrices',
      'Tabella1',
      ':~:text=from%20here,to%20there',
      ':~:text=a-,b,c,-d',
      'line=3,9',
      'char=0,40',
      'line=,5',
      'line=10,;length=100',
      'row=5-7',
      'col=2',
      'cell=4,1-6,3',
      'row=1;5-*',
      '3-5,8',
    ];
    for (const each of written) expect(printFragment(parseFragment(each))).toBe(each);
    expect(written.map((each) => parseFragment(each).kind)).not.toContain('whole');
  });
});

describe('what a place says', () => {
  it('follows RFC 5147 for text and RFC 7111 for CSV', () => {
    expect(parseFragment('char=100')).toEqual({ kind: 'char', from: 100, to: 100 });
    expect(parseFragment('line=,1')).toEqual({ kind: 'line', to: 1 });
    expect(parseFragment('line=10,20;length=9876,UTF-8')).toEqual({ kind: 'line', from: 10, to: 20, length: 9876 });
    expect(parseFragment('row=5-*')).toEqual({ kind: 'row', selections: [{ from: [5], to: ['*'] }] });
    expect(parseFragment('cell=4,1-*,3')).toEqual({ kind: 'cell', selections: [{ from: [4, 1], to: ['*', 3] }] });
  });

  it('follows the grammar of text fragments', () => {
    expect(parseFragment(':~:text=an%20example,text%20fragment')).toEqual({
      kind: 'quote',
      start: 'an example',
      end: 'text fragment',
    });
    expect(parseFragment(':~:text=before-,start,-after')).toEqual({
      kind: 'quote',
      prefix: 'before',
      start: 'start',
      suffix: 'after',
    });
    expect(parseFragment(':~:text=a%2Cb%2Dc')).toEqual({ kind: 'quote', start: 'a,b-c' });
  });

  it('takes A1 notation in any direction, with dollar signs, and knows the largest sheet', () => {
    expect(findRange('$D$9:B2')).toEqual({ columns: { from: 2, to: 4 }, rows: { from: 2, to: 9 } });
    expect(findRange('c:A')).toEqual({ columns: { from: 1, to: 3 } });
    expect(findAddress('XFD1048576')).toEqual({ column: 16_384, row: 1_048_576 });
    expect([findAddress('XFE1'), findAddress('A1048577'), findAddress('A0'), findRange('A1:B2:C3')]).toEqual([
      undefined,
      undefined,
      undefined,
      undefined,
    ]);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 16_384 }), (column) => columnNumber(columnLetters(column)) === column),
    );
    expect(printRange({ columns: { from: 2, to: 2 }, rows: { from: 3, to: 3 } })).toBe('B3');
  });

  it.each([
    'colour=red',
    'section=',
    'paragraph=0',
    'table=3-1',
    'line=',
    'line=1,2;crc=3',
    'row=0',
    'cell=4',
    ':~:text=',
    ':~:text=%20',
    ':~:text=a,b,c',
    'Timber!frame',
  ])('refuses #%s with what would do', (each) => {
    let problem: unknown;
    try {
      parseFragment(each);
    } catch (error) {
      problem = error;
    }
    expect(problem).toBeInstanceOf(DrawerError);
    expect((problem as DrawerError).code).toBe('invalid');
    expect((problem as DrawerError).where).toBe(`#${each}`);
    expect(words.hint(problem as DrawerError)).toMatch(/such as|kinds are|RFC/);
  });
});
