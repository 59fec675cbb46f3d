import { asBlocks, type Block, bullets, numbers, paragraph, parseFragment, run, table, text } from 'drawer';
import { type Excerpt, sourceOf } from 'drawer/formats';
import { html } from 'drawer/formats/html';
import { markdown } from 'drawer/formats/markdown';
import { bold, italic, item, lineBreak, link, quote } from '../../src/content/index.ts';
import { samplePictures } from '../support/pictures.ts';
import { inWords } from '../support/said.ts';

const take = (markup: string | Uint8Array, place = ''): Promise<Excerpt> =>
  html.read(
    sourceOf(typeof markup === 'string' ? new TextEncoder().encode(markup) : markup, 'x.html'),
    parseFragment(place),
  );
it.each<[string, string, boolean]>([
  ['the whole page', '', true],
  ['a paragraph that is open', 'paragraph=1', false],
  ['a paragraph that is secret', 'paragraph=2', true],
  ['a paragraph with a secret part', 'paragraph=3', true],
  ['open words of it', ':~:text=part%20of', false],
  ['secret words of it', ':~:text=4712', true],
  ['a section that is open', 'section=Fares', false],
  ['a section with a secret heading', 'section=Codes', true],
  ['a picture in a secret part', 'picture=1', true],
])('keeps %s as a secret where the page says so', async (_, place, isSecret) => {
  const source = `<p>Open.</p><p data-drawer="secret">The safe opens with 4711.</p>
    <p>A part of it: <b data-drawer="secret">4712</b>.</p><h2>Fares</h2><p>Two pence.</p>
    <div data-drawer="secret"><h2>Codes</h2><p><img src="data:image/png;base64,AAAA" alt="plan"></p></div>`;
  expect((await take(source, place)).secret).toBe(isSecret ? true : undefined);
});

const blocksOf = async (markup: string): Promise<readonly Block[]> => asBlocks((await take(markup)).content);

describe('reading', () => {
  it.each<[string, string, Block[]]>([
    [
      'white space as a browser shows it',
      '<p>\n a  <b>b </b>  c<br>\n d </p>',
      [paragraph('a ', bold('b '), 'c', lineBreak, 'd')],
    ],
    ['spaces that count', '<p><span style="white-space:pre-wrap"> a  b</span></p>', [paragraph(' a  b')]],
    ['no-break spaces', '<p>&nbsp;a&nbsp;&nbsp;b</p>', [paragraph('\u00a0a\u00a0\u00a0b')]],
    ['words beside blocks', 'a<p>b</p>c<div>d</div>', [paragraph('a'), paragraph('b'), paragraph('c'), paragraph('d')]],
    [
      'an empty line, and what is not one',
      '<p>a<br></p><p></p><p><br></p><p>b</p>',
      [paragraph('a'), paragraph(), paragraph('b')],
    ],
    [
      'elements and styles that mean emphasis',
      '<p><em>a</em><span style="font-weight:700;text-decoration:underline">b</span><b style="font-weight:normal">c</b></p>',
      [paragraph(italic('a'), text('b', { bold: true, underline: true }), 'c')],
    ],
    [
      'colours and sizes',
      '<p><span style="color:rgb(255,0,0);background:#ff0;font:x;font-size:16px;font-family:\'Liberation Mono\', serif">a</span></p>',
      [paragraph(text('a', { colour: '#ff0000', background: '#ffff00', size: 12, font: 'Liberation Mono' }))],
    ],
    [
      'the ground of a block as paper, not as a highlight of its words',
      '<div style="background:#fdfcf7"><p style="background-color:#eee">a<kbd style="background:#ddd">b</kbd></p><ul style="background:#fff"><li>c</li></ul></div>',
      [paragraph('a', text('b', { code: true, background: '#dddddd' })), bullets(item('c'))],
    ],
    [
      'names that every object has, as the words they are',
      '<constructor>a</constructor><ol type="constructor" style="list-style:toString"><li align="valueOf">b</li></ol><p style="font-size:1constructor">c</p>',
      [paragraph('a'), numbers(item('b')), paragraph('c')],
    ],
    [
      'lists in lists, also where they do not belong',
      '<ol start="3" type="a"><li>a<ul><li>b</ul></li><li>c</li><ul><li>d</ul></ol>',
      [{ ...numbers(item('a', bullets('b')), item('c', bullets('d'))), start: 3, marker: 'lower-alpha' }],
    ],
    [
      'tables with spans',
      '<table><caption>T</caption><thead><tr><th colspan=2>a</thead><tr><td rowspan="2" style="text-align:right">b<td>c<tr><td><p>d<p>e</table>',
      [
        paragraph('T'),
        {
          type: 'table',
          headerRows: 1,
          rows: [
            { cells: [{ blocks: [paragraph('a')], columnSpan: 2 }] },
            { cells: [{ blocks: [{ ...paragraph('b'), align: 'end' }], rowSpan: 2 }, { blocks: [paragraph('c')] }] },
            { cells: [{ blocks: [paragraph('d'), paragraph('e')] }] },
          ],
        },
      ],
    ],
    [
      'quotes and code',
      '<blockquote><p>a</blockquote><pre><code class="language-sql">a\n  b</code></pre>',
      [quote('a'), { type: 'code', text: 'a\n  b', syntax: 'sql' }],
    ],
    [
      'nothing that runs, hides or asks',
      '<script>x()</script><style>p{}</style><p hidden>h</p><p style="display:none">h</p><form>a<input value="v"><button>b</button></form><template>t</template>',
      [paragraph('a')],
    ],
    [
      'links, but none that runs',
      '<base href="https://ferry.example/"><p><a href="/a">a</a><a href="javascript:x()">b</a><a href="mailto:t@ferry.example">c</a></p>',
      [paragraph(link('a', 'https://ferry.example/a'), 'b', link('c', 'mailto:t@ferry.example'))],
    ],
    [
      'languages and directions',
      '<html lang=en><p dir=rtl>a<span lang=ar>b</span></p>',
      [{ ...paragraph('a', text('b', { language: 'ar' })), direction: 'rtl' }],
    ],
  ])('%s', async (_, markup, expected) => {
    expect(await blocksOf(markup)).toEqual(expected);
  });

  it('keeps pictures that are in the page, and fetches none', async () => {
    const [sample] = samplePictures as [(typeof samplePictures)[0]];
    const uri = `data:image/png;base64,${Buffer.from(sample.bytes).toString('base64')}`;
    const taken = await take(
      `<p>a<img src="${uri}" alt="ferry" width="40"></p><img src="https://tracker.example/x.gif" alt=""><img src="data:image/png;base64,@@" alt="broken">`,
    );
    expect(asBlocks(taken.content)).toEqual([
      paragraph('a', {
        type: 'picture',
        media: sample.hash,
        mediaType: 'image/png',
        width: 30,
        height: 30,
        alt: 'ferry',
      }),
      paragraph('broken'),
    ]);
    expect(taken.notes).toEqual([{ kind: 'picture-as-description', count: 2 }]);
  });

  it.each<[string, Uint8Array, string]>([
    ['UTF-8 without a word of it', new TextEncoder().encode('<p>£é</p>'), '£é'],
    ['what the page declares', Uint8Array.from([...Buffer.from('<meta charset=iso-8859-2><p>'), 0xb1]), 'ą'],
    ['Windows-1252 when it is not UTF-8', Uint8Array.from([...Buffer.from('<p>'), 0x93, 0xa3, 0x94]), '“£”'],
    ['a byte order mark', Uint8Array.from([0xff, 0xfe, ...Buffer.from('<p>é', 'utf16le')]), 'é'],
  ])('decodes %s', async (_, bytes, expected) => {
    expect(asBlocks((await take(bytes)).content)).toEqual([paragraph(expected)]);
  });

  it('refuses elements nested without end, and reads a page of deep ones', async () => {
    await expect(take('<div>'.repeat(100_000))).rejects.toMatchObject({ code: 'too-large' });
    expect(await blocksOf(`${'<div>'.repeat(200)}a`)).toEqual([paragraph('a')]);
  });

  it('gives the page’s title and language', async () => {
    expect(await take('<html lang="cy"><title> Letters\n about </title><p>a')).toMatchObject({
      title: 'Letters about',
      language: 'cy',
    });
  });
});

describe('places in running text', () => {
  const page =
    '<h1>Hull</h1><p>one two</p><h2>Findings</h2><p>three</p><table><tr><td>x</table><h1>Deck</h1><p>The first  <b>crossing</b> of the\nyear.</p><h2>Findings</h2><ul><li>nails</ul><p>Last words that morning. The end.</p>';

  it.each<[string, unknown]>([
    [
      'section=Deck',
      {
        shape: 'blocks',
        blocks: [
          expect.objectContaining({ type: 'heading' }),
          expect.anything(),
          expect.objectContaining({ level: 2 }),
          bullets('nails'),
          expect.anything(),
        ],
      },
    ],
    ['section=hull', { shape: 'blocks', blocks: expect.arrayContaining([table(0, ['x'])]) }],
    ['section=Findings;1', { shape: 'blocks', blocks: [expect.anything(), paragraph('three'), table(0, ['x'])] }],
    ['paragraph=2', { shape: 'blocks', blocks: [paragraph('one two')] }],
    ['paragraph=3-4', { shape: 'blocks', blocks: [expect.objectContaining({ type: 'heading' }), paragraph('three')] }],
    ['table=1', { shape: 'blocks', blocks: [table(0, ['x'])] }],
    ['list=1', { shape: 'blocks', blocks: [bullets('nails')] }],
    [':~:text=first%20Crossing%20of', run('first ', bold('crossing'), ' of')],
    [
      ':~:text=crossing,morning',
      {
        shape: 'blocks',
        blocks: [
          paragraph(bold('crossing'), ' of the year.'),
          expect.objectContaining({ level: 2 }),
          bullets('nails'),
          paragraph('Last words that morning'),
        ],
      },
    ],
    [':~:text=that%20morning.-,The,end', run('The end')],
    [':~:text=The,-%20end', run('The')],
  ])('%s', async (place, expected) => {
    expect((await take(page, place)).content).toEqual(expected);
  });

  it.each([
    ['section=Dekc', 'not-found', { near: 'Deck' }],
    ['section=Findings', 'ambiguous', { name: 'Findings', count: 2 }],
    ['section=Findings;3', 'not-found', { count: 2 }],
    ['table=2', 'not-found', { place: 'table', from: 2, last: 1 }],
    ['paragraph=3-99', 'not-found', { place: 'paragraph', from: 3, to: 99 }],
    [':~:text=ross', 'not-found', { start: 'ross' }],
    ['Timber!B2', 'unsupported', { place: 'Timber!B2' }],
    ['bookmark=x', 'not-found', { name: 'x' }],
    ['line=1,2', 'unsupported', { place: 'line=1,2' }],
    ['row=1', 'unsupported', { place: 'row=1' }],
  ])('%s is an error that says what would do', async (place, code, next) => {
    await expect(take(page, place)).rejects.toMatchObject({ code, params: next });
  });

  it('are listed with what each holds', async () => {
    const outline = await html.outline(sourceOf(new TextEncoder().encode(page), 'x.html'));
    expect(outline.entries.map(({ place, depth, size }) => [place, depth, inWords(size)])).toEqual([
      ['section=Hull', 0, '6 words'],
      ['section=Findings;1', 1, '3 words'],
      ['table=1', 2, '1 × 1'],
      ['section=Deck', 0, '15 words'],
      ['section=Findings;2', 1, '8 words'],
      ['list=1', 2, '1 item'],
    ]);
    for (const { place } of outline.entries) expect((await take(page, place)).content).toBeDefined();
  });
});

describe('writing', () => {
  it('makes a page of its own that holds no script and no address to fetch', async () => {
    const bytes = await html.write(
      { shape: 'blocks', blocks: [paragraph('<script>alert(1)</script> & "quotes"')] },
      { media: new Map(), title: '</title><script>' },
    );
    const markup = new TextDecoder().decode(bytes);
    expect(markup).toMatch(/^<!doctype html><html lang="en-GB">/);
    expect(markup).not.toMatch(/<script|<link|<iframe|src="http/);
  });

  it('writes Markdown that says the same', async () => {
    const content = {
      shape: 'blocks' as const,
      blocks: [
        paragraph(
          'a ',
          bold(' b '),
          text('c', { bold: true, italic: true }),
          link('d', 'https://ferry.example'),
          text('2', { position: 'superscript' }),
        ),
        bullets(item('e', numbers('f'))),
        table(1, ['g', 'h'], ['i|j', '']),
      ],
    };
    const bytes = await markdown.write(content, { media: new Map() });
    expect(new TextDecoder().decode(bytes)).toBe(
      'a  **b** **_c_**[d](https://ferry.example)<sup>2</sup>\n\n- e\n  1. f\n\n| g    | h |\n| ---- | - |\n| i\\|j |   |\n',
    );
  });
});
