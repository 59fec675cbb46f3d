import { jest } from '@jest/globals';
import {
  asBlocks,
  type Block,
  bullets,
  type Cell,
  type ComposeOptions,
  type Content,
  compose,
  doc,
  heading,
  numbers,
  paragraph,
  plainText,
  run,
  table,
  text,
} from 'drawer';
import * as fc from 'fast-check';
import {
  type Amount,
  amountText,
  type Composable,
  type ComposeJoin,
  neighbourRules,
  parseAmount,
} from '../../src/compose/index.ts';
import { blocksText, inlinesIn, item, quote } from '../../src/content/index.ts';
import { blocks } from '../support/arbitrary.ts';

const pieces = (...contents: Content[]): Composable[] => contents.map((content) => ({ content }));
const composed = (contents: readonly Content[], options?: ComposeOptions): Content =>
  compose(pieces(...contents), options).content;
const blocksOf = (content: Content): readonly Block[] => (content.shape === 'blocks' ? content.blocks : []);
const words = (...each: string[]): Content[] => each.map((one) => run(one));
const inWords = (contents: readonly Content[], options?: ComposeOptions): string =>
  plainText(composed(contents, options));

describe('joins', () => {
  it.each<[ComposeOptions, string]>([
    [{}, 'oak larch elm'],
    [{ join: 'nothing' }, 'oaklarchelm'],
    [{ join: 'line' }, 'oak\nlarch\nelm'],
    [{ join: 'paragraph' }, 'oak\n\nlarch\n\nelm'],
    [{ join: 'blank-line' }, 'oak\n\n\n\nlarch\n\n\n\nelm'],
    [{ join: 'sentence' }, 'oak, larch and elm'],
    [{ join: 'sentence', last: 'or' }, 'oak, larch or elm'],
    [{ join: 'sentence', language: 'de' }, 'oak, larch und elm'],
    [{ join: 'bullets' }, '- oak\n- larch\n- elm'],
    [{ join: 'numbers' }, '1. oak\n2. larch\n3. elm'],
    [{ join: 'checks' }, '- [ ] oak\n- [ ] larch\n- [ ] elm'],
    [{ join: { text: ' / ' } }, 'oak / larch / elm'],
  ])('by %j', (options, expected) => {
    expect(inWords(words('oak', 'larch', 'elm'), options)).toBe(expected);
  });

  it('make words of words alone, and leave what is more in paragraphs of its own', () => {
    expect(composed(words('a', 'b'), { join: 'space' }).shape).toBe('run');
    expect(inWords([run('a'), run('b'), doc(bullets('x')), run('c')], { join: 'space' })).toBe('a b\n\n- x\n\nc');
  });

  it('make rows of a range, of words, and of lists along a row', () => {
    const range: Content = {
      shape: 'cells',
      rows: [
        [
          { type: 'text', value: 'x' },
          { type: 'text', value: 'y' },
        ],
      ],
    };
    expect(composed([range, run('z')], { join: 'rows' })).toEqual({
      shape: 'cells',
      rows: [range.rows[0], [{ type: 'text', value: 'z' }, { type: 'empty' }]],
    });
    expect(inWords([doc(bullets('a', 'b')), doc('c')], { join: 'rows' })).toBe('a\tb\nc\t');
  });

  it.each([[words('Deeds', 'https://example.org/deeds')], [words('https://example.org/deeds', 'Deeds')]])(
    'make a link of words and an address, in either order',
    (contents) => {
      expect(composed(contents, { join: 'link' })).toEqual(
        run(text('Deeds', { link: { href: 'https://example.org/deeds' } })),
      );
    },
  );

  it.each([
    [words('a', 'b'), 'link'],
    [words('a', 'javascript:alert(1)'), 'link'],
    [[doc(table(0, ['a']))], 'sentence'],
  ] as const)('are refused where they make no sense', (contents, join) => {
    expect(() => composed(contents, { join })).toThrow(expect.objectContaining({ code: 'usage' }));
  });

  it('are associative where the documentation says so', () => {
    fc.assert(
      fc.property(
        fc.array(fc.string({ minLength: 1 }), { minLength: 3, maxLength: 3 }),
        fc.constantFrom<ComposeJoin>('nothing', 'space', 'line', { text: '; ' }),
        (three, join) => {
          const [a, b, c] = words(...three) as [Content, Content, Content];
          expect(composed([composed([a, b], { join }), c], { join })).toEqual(
            composed([a, composed([b, c], { join })], { join }),
          );
        },
      ),
    );
    fc.assert(
      fc.property(fc.array(blocks, { minLength: 3, maxLength: 3 }), (three) => {
        const untabled = three.map((each) => ({ ...each, blocks: each.blocks.filter(({ type }) => type !== 'table') }));
        const [a, b, c] = untabled as Content[] as [Content, Content, Content];
        expect(composed([composed([a, b]), c])).toEqual(composed([a, composed([b, c])]));
      }),
    );
  });
});

it('keeps every piece, in order', () => {
  fc.assert(
    fc.property(fc.array(blocks, { maxLength: 6 }), (contents) => {
      const letters = (content: Content): string =>
        [...inlinesIn(asBlocks(content))]
          .map((inline) => (inline.type === 'text' ? inline.text : inline.type))
          .join('');
      const untabled = contents.map((each) => ({
        ...each,
        blocks: each.blocks.filter(({ type }) => type !== 'table'),
      }));
      expect(letters(composed(untabled))).toBe(untabled.map(letters).join(''));
    }),
  );
});

describe('neighbours', () => {
  const costs = (...rows: string[][]): Content => doc(table(1, ['Timber', 'Cost'], ...rows));

  it('run lists of a kind together', () => {
    expect(composed([doc(numbers('a')), doc(numbers('b'), 'c')])).toEqual(doc(numbers('a', 'b'), 'c'));
    expect(composed([doc(numbers('a')), doc(bullets('b'))])).toEqual(doc(numbers('a'), bullets('b')));
  });

  it('stack tables under one heading, columns matched by name, and say what has no match', () => {
    const other = doc(table(1, ['Cost', 'Note', 'Timber'], ['£2', 'dry', 'elm']));
    expect(composed([costs(['oak', '£1']), costs(['ash', '£3'])])).toEqual(costs(['oak', '£1'], ['ash', '£3']));
    const { content, notes } = compose(pieces(costs(['oak', '£1']), other), { join: 'rows' });
    expect(content).toEqual(doc(table(1, ['Timber', 'Cost', 'Note'], ['oak', '£1', ''], ['elm', '£2', 'dry'])));
    expect(notes).toContainEqual(expect.objectContaining({ params: { name: 'note' }, count: 1 }));
    const unlike = doc(table(1, ['Name', 'Hours'], ['x', '2']));
    expect(blocksOf(composed([costs(['oak', '£1']), unlike]))).toHaveLength(2);
  });

  it('stack ranges, typed, and keep a caption with its picture', () => {
    const range = (...rows: Cell[][]): Content => ({ shape: 'cells', rows });
    const name = (value: string): Cell => ({ type: 'text', value });
    const number = (value: number): Cell => ({ type: 'number', value, text: String(value) });
    expect(
      composed([
        range([name('a'), name('b')], [number(1), number(2)]),
        range([name('b'), name('a')], [number(3), number(4)]),
      ]),
    ).toEqual(range([name('a'), name('b')], [number(1), number(2)], [number(4), number(3)]));
    const picture: Content = { shape: 'picture', picture: { media: 'x', mediaType: 'image/png' } };
    const captioned = composed([picture, doc('Figure 1: the hull'), doc('Words')], { join: 'blank-line' });
    expect(blocksOf(captioned).map(({ type }) => type)).toEqual(['picture', 'paragraph', 'paragraph', 'paragraph']);
  });

  it('meet by a rule of the caller’s first', () => {
    const meet = jest.fn(() => [paragraph('met')]);
    expect(composed([doc('a'), doc('b')], { neighbours: [meet] })).toEqual(doc('met'));
    expect(neighbourRules.length).toBeGreaterThan(1);
  });

  it('shift headings together', () => {
    expect(composed([doc(heading(1, 'a'), heading(2, 'b')), doc(heading(6, 'c'))], { headingLevel: 3 })).toEqual(
      doc(heading(3, 'a'), heading(4, 'b'), heading(6, 'c')),
    );
  });
});

describe('each piece', () => {
  const snippets: Composable[] = [
    {
      content: run('Sound.'),
      label: 'hull',
      origin: { file: 'survey.docx', place: 'Hull' },
      takenAt: '2026-05-03T09:00:00Z',
      order: 'b',
    },
    { content: doc('Rot.', 'More.'), origin: { title: 'Letters', url: 'https://example.org/' }, order: 'a' },
    { content: run('Sound.'), origin: { file: 'survey.docx', place: 'Hull' }, order: 'c' },
  ];
  const all = (options: ComposeOptions): string => plainText(compose(snippets, options).content);

  it('stands in a pattern', () => {
    expect(
      all({
        around: '{number}/{count} {label}: {content} [{origin}, {date}, {words}]',
        join: 'line',
        language: 'en-GB',
      }),
    ).toBe(
      '1/3 hull: Sound. [survey.docx, Hull, 3 May 2026, 1]\n\n2/3 :\n\nRot.\n\nMore.\n\n[Letters, , 2]\n\n3/3 : Sound. [survey.docx, Hull, , 1]',
    );
  });

  it('says where it is from, inline, in footnotes, or once in a list', () => {
    expect(all({ attribution: 'inline' })).toBe(
      'Sound. (survey.docx, Hull)\n\nRot.\n\nMore. (Letters)\n\nSound. (survey.docx, Hull)',
    );
    expect(all({ attribution: 'footnotes' })).toContain('More. [Letters]');
    expect(all({ attribution: 'list' })).toMatch(/Sources\n\n1\. survey\.docx, Hull\n2\. Letters$/);
    expect(JSON.stringify(compose(snippets, { attribution: 'list' }))).toContain('"href":"https://example.org/"');
  });

  it('comes in the order asked for', () => {
    const order = (contents: string[], options: ComposeOptions): string =>
      inWords(words(...contents), { ...options, join: 'line' });
    expect(order(['b', 'a'], { order: 'reversed' })).toBe('a\nb');
    expect(order(['£10', '£9.50', 'x', '€3', '2026-01-02', '2025-12-31'], { order: 'value' })).toBe(
      '2025-12-31\n2026-01-02\n£9.50\n£10\n€3\nx',
    );
    expect(all({ order: 'collected', join: 'paragraph' })).toBe('Rot.\n\nMore.\n\nSound.\n\nSound.');
    expect(all({ order: 'origin', join: 'paragraph' })).toMatch(/^Rot/);
    expect(all({ order: 'label', join: 'paragraph' })).toMatch(/^Sound/);
  });
});

describe('tidying', () => {
  it.each<[NonNullable<ComposeOptions['tidy']>[number], Content, string]>([
    ['trim', run('  oak \n'), 'oak'],
    ['blanks', doc('', 'a', '', '', 'b', ''), 'a\n\n\n\nb'],
    ['spaces', run('a  b ', text(' c', { bold: true })), 'a b c'],
    [
      'lines',
      run('The planking of the hull is of oak and was re-\npaired in the yard at the lower quay in spring\nby hand.'),
      'The planking of the hull is of oak and was repaired in the yard at the lower quay in spring by hand.',
    ],
    ['lines', run('3 Quay Row\nLower Landing\nKeel'), '3 Quay Row\nLower Landing\nKeel'],
    ['curly-quotes', run("\"It's 'oak'\", she said"), '“It’s ‘oak’”, she said'],
    ['straight-quotes', run('“It’s oak”'), '"It\'s oak"'],
  ])('%s', (tidy, content, expected) => {
    expect(inWords([content], { tidy: [tidy] })).toBe(expected);
  });

  it('reaches into lists, quotes and the cells of tables, and leaves what is code there', () => {
    const content = doc(
      bullets('a  b', item('c  d', quote('e  f'))),
      table(1, ['g  h'], ['i  j']),
      { type: 'code', text: 'k  l' },
      { type: 'rule' },
    );
    expect(composed([content], { tidy: ['spaces'] })).toEqual(
      doc(
        bullets('a b', item('c d', quote('e f'))),
        table(1, ['g h'], ['i j']),
        { type: 'code', text: 'k  l' },
        { type: 'rule' },
      ),
    );
  });

  it('drops repeats and blanks, and leaves program text alone', () => {
    expect(inWords(words('a', 'b', 'a', ' '), { tidy: ['repeats', 'blanks'] })).toBe('a b');
    expect(inWords([run(text('a  "b"', { code: true }))], { tidy: ['spaces', 'curly-quotes'] })).toBe('a  "b"');
  });
});

describe('totals', () => {
  it('stand under the columns of a table, currencies apart', () => {
    const content = doc(table(1, ['Timber', 'Cost'], ['oak', '£1,250.00'], ['elm', '£0.10'], ['ash', '€7']));
    expect(inWords([content], { totals: ['sum', 'count'] })).toMatch(/Sum\t£1,250\.10; €7\nCount\t2; 1$/);
  });

  it('are lines under words, and numbers in a range', () => {
    expect(
      inWords(words('£0.10', '£0.20', 'oak'), { join: 'line', totals: ['sum', 'mean', 'largest', 'smallest'] }),
    ).toMatch(/Sum: £0\.30\n\nMean: £0\.15\n\nLargest: £0\.20\n\nSmallest: £0\.10$/);
    const number = (value: number): Cell => ({ type: 'number', value, text: `${value}` });
    expect(
      composed(
        [
          {
            shape: 'cells',
            rows: [
              [{ type: 'text', value: 'a' }, number(0.1)],
              [{ type: 'text', value: 'b' }, number(0.2)],
            ],
          },
        ],
        { totals: ['sum'] },
      ),
    ).toMatchObject({
      rows: [{}, {}, [{ value: 'Sum' }, { type: 'number', value: 0.3, text: '0.3' }]],
    });
  });

  it.each<[string, number, string | undefined]>([
    ['£1,250.00', 1250, '£'],
    ['1.250,50 €', 1250.5, '€'],
    ['-12', -12, undefined],
    ['1,000', 1000, undefined],
    ['0.125', 0.125, undefined],
    ['EUR 3.5', 3.5, 'EUR'],
  ])('read %s', (shown, value, currency) => {
    expect(parseAmount(shown)).toMatchObject({ value, ...(currency !== undefined && { unit: currency }) });
  });

  it('read back what they write', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -1e9, max: 1e9 }),
        fc.constantFrom('£', '€', 'CHF'),
        fc.boolean(),
        (pence, currency, signFirst) => {
          const exact = { units: BigInt(pence), places: 2 };
          const amount: Amount = { value: pence / 100, exact, unit: currency, unitFirst: signFirst, places: 2 };
          expect(parseAmount(amountText(amount, 'en-GB'))?.value).toBeCloseTo(amount.value, 2);
        },
      ),
    );
  });
});

it('joins by a function of one’s own, which gets the pieces ordered and tidied, and has to give content', () => {
  const contents = [doc(paragraph('elm ')), run('oak'), doc('1')];
  const seen: string[][] = [];
  const join = (all: readonly Content[]): Content => {
    seen.push(all.map((content) => plainText(content)));
    return run(all.map((content) => plainText(content)).join(' | '));
  };
  expect(composed(contents, { join, order: 'reversed', tidy: ['trim'] })).toEqual(run('1 | oak | elm'));
  expect(composed([doc('elm')], { join })).toEqual(run('elm'));
  expect(seen).toEqual([['1', 'oak', 'elm'], ['elm']]);
  const wrong = () => composed(contents, { join: (() => 'words') as unknown as ComposeJoin });
  expect(wrong).toThrow(expect.objectContaining({ reason: 'value-invalid' }));
});

it('makes items of several blocks', () => {
  expect(composed([doc('a', 'b')], { join: 'bullets' })).toEqual(doc(bullets(item('a', 'b'))));
  expect(blocksText(blocksOf(composed([], { join: 'bullets' })))).toBe('');
});
