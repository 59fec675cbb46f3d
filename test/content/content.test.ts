import {
  asBlocks,
  bullets,
  type Content,
  compose,
  describe as describeContent,
  doc,
  heading,
  numbers,
  paragraph,
  parseContent,
  picturesIn,
  plainText,
  preview,
  run,
  table,
  text,
} from 'drawer';
import * as fc from 'fast-check';
import {
  bold,
  cell,
  checkItem,
  code,
  columnCount,
  footnote,
  isSafeHref,
  item,
  lineBreak,
  link,
  mapPictures,
  measure,
  quote,
  rule,
  tableGrid,
} from '../../src/content/index.ts';
import { table as anyTable, blocks } from '../support/arbitrary.ts';
import { samplePictures } from '../support/pictures.ts';

const survey = doc(
  heading(1, 'Hull'),
  paragraph('Sound ', bold('oak'), ', see ', link('the yard', 'https://ferry.example/yard'), '.', footnote('In May.')),
  bullets('keel', item('planks', numbers('port', 'starboard')), checkItem(true, 'nails')),
  table(1, ['Frame', 'State'], ['2', 'soft']),
  quote('She sails.'),
  code('a\n  b'),
  rule,
);

describe('the validator', () => {
  it('accepts whatever the builders make', () => {
    fc.assert(
      fc.property(blocks, (content) => expect(parseContent(JSON.parse(JSON.stringify(content)))).toEqual(content)),
      { numRuns: 200 },
    );
  });

  it.each<[string, unknown, RegExp]>([
    ['a wrong shape', { shape: 'blob' }, /shape/],
    ['an unknown block', { shape: 'blocks', blocks: [{ type: 'iframe' }] }, /blocks\.0\.type/],
    ['an extra key', { shape: 'run', inlines: [{ type: 'break', onclick: 'x' }] }, /inlines\.0\.onclick/],
    ['a link that runs', run(text('x', { link: { href: 'javascript:alert(1)' } })), /inlines\.0\.marks\.link\.href/],
    ['a line end in text', { shape: 'run', inlines: [{ type: 'text', text: 'a\nb' }] }, /inlines\.0\.text/],
    [
      'a picture by another name',
      { shape: 'picture', picture: { media: 'abc', mediaType: 'image/png' } },
      /picture\.media/,
    ],
    [
      'a number that is none',
      { shape: 'cells', rows: [[{ type: 'number', value: Number.NaN, text: '' }]] },
      /rows\.0\.0\.value/,
    ],
    [
      'a level that is none',
      { shape: 'blocks', blocks: [{ type: 'heading', level: 7, inlines: [] }] },
      /blocks\.0\.level/,
    ],
    ['nothing', null, /value-invalid/],
  ])('refuses %s and says where', (_, value, where) => {
    expect(() => parseContent(value)).toThrow(
      expect.objectContaining({ code: 'invalid', message: expect.stringMatching(where) }),
    );
  });

  it('refuses what is nested past reason, without running out of stack', () => {
    let deep = doc('x');
    for (let level = 0; level < 5_000; level++) deep = doc(quote(...deep.blocks));
    expect(() => parseContent(deep)).toThrow(
      expect.objectContaining({ code: 'invalid', message: expect.stringContaining('deep') }),
    );
  });

  it('knows addresses that can run nothing', () => {
    expect(['https://a.example/x', 'mailto:a@b.example', 'tel:+441234', '#x'].filter(isSafeHref)).toHaveLength(4);
    expect(
      [
        'javascript:x',
        ' JaVaScRiPt:x',
        'data:text/html,x',
        'vbscript:x',
        'file:///etc',
        'https://a b',
        '//a.example',
        'x',
      ].filter(isSafeHref),
    ).toEqual([]);
  });
});

describe('plain text and counts', () => {
  it('writes each block the way text has it', () => {
    expect(plainText(survey)).toBe(
      [
        'Hull',
        'Sound oak, see the yard. [In May.]',
        '- keel\n- planks\n  1. port\n  2. starboard\n- [x] nails',
        'Frame\tState\n2\tsoft',
        '> She sails.',
        'a\n  b',
        '* * *',
      ].join('\n\n'),
    );
  });

  it('numbers items as their lists say', () => {
    const list = (marker: 'lower-alpha' | 'upper-roman', start: number) => doc({ ...numbers('x'), marker, start });
    expect([
      plainText(list('lower-alpha', 27)),
      plainText(list('upper-roman', 1994)),
      plainText(doc({ ...numbers('x'), start: 0 })),
    ]).toEqual(['aa. x', 'MCMXCIV. x', '0. x']);
  });

  it('counts characters as people do, and words as the language does', () => {
    expect(measure(run('a👩‍🚀e\u0301 b'))).toMatchObject({ characters: 5, words: 3, bytes: 17, lines: 1 });
    expect(measure(run('東京都に行く'), 'ja').words).toBeGreaterThan(2);
    expect(measure(run('one two,three'), 'en').words).toBe(3);
    expect(measure(doc('a', 'b', paragraph('c', lineBreak, 'd'))).lines).toBe(4);
  });

  it('never counts more words than characters, nor more characters than bytes', () => {
    fc.assert(
      fc.property(blocks, (content) => {
        const { characters, words, bytes, lines } = measure(content);
        expect(words).toBeLessThanOrEqual(characters);
        expect(characters).toBeLessThanOrEqual(bytes);
        expect(lines).toBe(
          plainText(content)
            .split('\n')
            .filter((line) => line.trim() !== '').length,
        );
      }),
    );
  });

  it('says what content is and how it begins', () => {
    expect(
      [survey, doc('a', 'b'), doc(table(0, ['a', 'b'])), doc(bullets('a')), run('x')].map(describeContent),
    ).toEqual([
      { kind: 'section' },
      { kind: 'paragraphs', params: { count: 2 } },
      { kind: 'table', params: { rows: 1, columns: 2 } },
      { kind: 'list', params: { count: 1 } },
      { kind: 'words' },
    ]);
    expect(preview(survey)).toMatch(/^Hull Sound oak/);
    fc.assert(fc.property(blocks, (content) => expect(preview(content, 20).length).toBeLessThanOrEqual(20)));
  });
});

describe('ranges and grids', () => {
  it('shows a range as its sheet does', () => {
    const [shown] = asBlocks({
      shape: 'cells',
      rows: [
        [{ type: 'text', value: 'Item', columnSpan: 2 }, { type: 'empty' }, { type: 'text', value: 'Price' }],
        [
          { type: 'text', value: 'Oak' },
          { type: 'boolean', value: true, text: 'TRUE' },
          { type: 'number', value: 1250, text: '£1,250.00' },
        ],
      ],
    });
    expect(shown).toMatchObject({
      type: 'table',
      headerRows: 1,
      rows: [
        { cells: [{ columnSpan: 2 }, { blocks: [paragraph('Price')] }] },
        { cells: [{}, { blocks: [{ align: 'center' }] }, { blocks: [{ ...paragraph('£1,250.00'), align: 'end' }] }] },
      ],
    });
  });

  it('covers each place of a table once', () => {
    fc.assert(
      fc.property(anyTable, (each) => {
        const grid = tableGrid(each);
        expect(
          grid.every((line) => line.length === columnCount(each) && line.every((placed) => placed !== undefined)),
        ).toBe(true);
        expect(new Set(grid.flat()).size).toBe(each.rows.flatMap(({ cells }) => cells).length);
      }),
    );
    expect(tableGrid(table(0, ['a', { ...cell('b'), rowSpan: 9 }], ['c'])).map((line) => line.length)).toEqual([2, 2]);
  });
});

describe('pictures and composing', () => {
  const [sample] = samplePictures as [(typeof samplePictures)[0]];
  const picture = { type: 'picture' as const, media: sample.hash, mediaType: 'image/png' as const };

  it('finds and replaces pictures wherever they are', () => {
    const content = doc(
      paragraph('a', picture),
      quote(picture),
      bullets(item(paragraph('b', footnote(paragraph('n', picture))))),
      table(0, [cell(picture)]),
    );
    expect([...picturesIn(content)]).toHaveLength(4);
    const words = mapPictures(content, () => 'ferry');
    expect([...picturesIn(words)]).toHaveLength(0);
    expect(plainText(words).match(/ferry/g)).toHaveLength(4);
  });

  it('gives back the same object when nothing was replaced', () => {
    fc.assert(
      fc.property(blocks, (content) =>
        expect(mapPictures(content, (each) => each).shape === 'blocks' && mapPictures(survey, (each) => each)).toBe(
          survey,
        ),
      ),
      { numRuns: 5 },
    );
  });

  it('composes in order, and leaves one alone as it is', () => {
    const range: Content = { shape: 'cells', rows: [[{ type: 'text', value: 'x' }]] };
    expect(compose([{ content: survey }]).content).toBe(survey);
    expect(compose([]).content).toEqual(doc());
    expect(compose([run('a'), survey, range].map((content) => ({ content }))).content).toEqual(
      doc(paragraph('a'), ...survey.blocks, ...asBlocks(range)),
    );
  });
});

it('counts words as the language parts them, also where that need not be asked', () => {
  const signs = fc.array(fc.constantFrom(...'abzAZ019 ."\'(),:;!?&-éßж字ไท'), { maxLength: 30 });
  fc.assert(
    fc.property(signs, fc.constantFrom('en', 'de', 'sv', 'fr', 'ja', 'th', 'fi'), (characters, language) => {
      const words = characters.join('');
      const segments = [...new Intl.Segmenter(language, { granularity: 'word' }).segment(words)];
      const counted = segments.filter(({ isWordLike }) => isWordLike).length;
      expect(measure(run(words), language).words).toBe(counted);
    }),
    { numRuns: Number(process.env.RUNS ?? 2_000) },
  );
});

it('counts characters and words as the segmenter does, whatever stands beside what', () => {
  const signs = [
    'a',
    'B',
    '7',
    ' ',
    ' ',
    '\t',
    '.',
    ',',
    "'",
    '-',
    'é',
    'e\u0301',
    '\u0301',
    '\u0600',
    'ß',
    '–',
    '’',
    'ש',
    'ل',
    'م',
    '日',
    '本',
    'ก',
    'า',
    '👩‍🚀',
    '🇫🇷',
    '\u200d',
    '\u00ad',
    'क',
    '्',
    'ष',
    '\u00a0',
    '𝒳',
  ];
  const words = fc.array(fc.constantFrom(...signs), { maxLength: 40 }).map((all) => all.join(''));
  fc.assert(
    fc.property(words, fc.constantFrom('en', 'de', 'ar', 'th'), (text, language) => {
      const all = (granularity: 'grapheme' | 'word') => [
        ...new Intl.Segmenter(language, { granularity }).segment(text),
      ];
      expect(measure(run(text), language)).toMatchObject({
        characters: all('grapheme').length,
        words: all('word').filter(({ isWordLike }) => isWordLike).length,
      });
    }),
    { numRuns: Number(process.env.RUNS ?? 500) },
  );
});
