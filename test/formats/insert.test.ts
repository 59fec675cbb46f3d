import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  asBlocks,
  type Block,
  bullets,
  type Content,
  doc,
  heading,
  type Marks,
  noMedia,
  numbers,
  paragraph,
  parseFragment,
  plainText,
  run,
  table,
  text,
} from 'drawer';
import { type Format, formatNamed, type Inserted, type Insertion, type Side, sourceOf } from 'drawer/formats';
import * as fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import { blocksText, bold, footnote, item, link, quote } from '../../src/content/index.ts';
import { allMedia, blocks } from '../support/arbitrary.ts';
import { demoFiles } from '../support/cli.ts';
import { documentBytes, openDocument, zipOf } from '../support/office.ts';
import { samplePictures } from '../support/pictures.ts';

const runs = Number(process.env.RUNS ?? 15);
const demo = (name: string): Uint8Array => new Uint8Array(readFileSync(join(demoFiles, name)));
type Able = Required<Pick<Format, 'read' | 'insert' | 'outline'>>;
const load = async (name: Parameters<typeof formatNamed>[0]): Promise<Able> =>
  (await formatNamed(name).load()) as Required<Format>;

interface Asked extends Partial<Insertion> {
  readonly side?: Side;
}
async function insert(
  name: Parameters<typeof formatNamed>[0],
  bytes: Uint8Array | string,
  place: string,
  content: Content,
  asked: Asked = {},
): Promise<Inserted> {
  const source = sourceOf(typeof bytes === 'string' ? new TextEncoder().encode(bytes) : bytes, `x.${name}`);
  return (await load(name)).insert(source, parseFragment(place), { content, media: noMedia, style: 'local', ...asked });
}
const insertText = async (...words: Parameters<typeof insert>): Promise<string> =>
  strFromU8((await insert(...words)).bytes);
const blocksOf = (content: Content): readonly Block[] => (content.shape === 'blocks' ? content.blocks : []);
const taken = async (name: Parameters<typeof formatNamed>[0], bytes: Uint8Array): Promise<readonly Block[]> =>
  blocksOf((await (await load(name)).read(sourceOf(bytes, 'x'), parseFragment(''))).content);

describe('Markdown', () => {
  const log = '# One\n\nOak is *sound*.\n\n* a\n* b\n\n## Two\n\nLast line.\n';

  it.each<[string, Side, Content, string]>([
    ['section=Two', 'after', doc(heading(1, 'New'), 'x'), `${log}\n## New\n\nx\n`],
    ['section=Two', 'start', doc('x'), log.replace('Last', 'x\n\nLast')],
    ['section=Two', 'end', run('And more.'), log.replace('line.', 'line. And more.')],
    ['section=One', 'before', doc('x'), `x\n\n${log}`],
    [':~:text=sound', 'after', run('and ', bold('dry')), log.replace('sound', 'sound and **dry**')],
    [':~:text=Oak', 'replace', run('Elm'), log.replace('Oak', 'Elm')],
    [':~:text=Last', 'after', doc('A', 'B'), log.replace('Last line', 'Last\n\nA\n\nB\n\nline')],
    ['list=1', 'end', run('c'), log.replace('* b\n', '* b\n* c\n')],
    ['list=1', 'start', doc(bullets('z')), log.replace('* a\n', '* z\n* a\n')],
    ['paragraph=2', 'replace', doc('X', 'Y'), log.replace('Oak is *sound*.', 'X\n\nY')],
    ['line=2,3', 'replace', run('Ash.'), log.replace('Oak is *sound*.', 'Ash.')],
    ['list=1', 'end', doc('c', table(1, ['x'], ['y'])), log.replace('* b\n', '* b\n\nc\n\n| x |\n| - |\n| y |\n')],
    ['', 'end', doc(paragraph('x', footnote('n'))), `${log}\nx[^1]\n\n[^1]: n\n`],
  ])('#%s, %s', async (place, side, content, expected) => {
    expect(await insertText('markdown', log, place, content, { side })).toBe(expected);
  });

  it('goes on with the numbers, the notes and the line ends that are there', async () => {
    expect(await insertText('markdown', '3) x\r\n4) y\r\n', 'list=1', run('z'), { side: 'end' })).toBe(
      '3) x\r\n4) y\r\n5) z\r\n',
    );
    expect(
      await insertText('markdown', 'a[^2]\n\n[^2]: n\n', 'paragraph=1', doc(paragraph('b', footnote('m')))),
    ).toContain('b[^3]');
    expect(await insertText('markdown', '', '', doc('first'))).toBe('first\n');
  });
});

describe('a page', () => {
  const page =
    '<!doctype html><body>\n  <h1 id="h">One</h1>\n  <p class="c">Oak is <b>sound</b> here.</p>\n  <ul>\n    <li>a</li>\n  </ul>\n</body>\n';

  it.each<[string, Side, Content, string]>([
    ['section=One', 'end', doc('A', 'B'), page.replace('  </ul>\n', '  </ul>\n  <p>A</p>\n  <p>B</p>\n')],
    ['list=1', 'end', run('c'), page.replace('<li>a</li>', '<li>a</li>\n    <li>c</li>')],
    [':~:text=sound', 'after', run('dry'), page.replace('sound', 'sound dry')],
    [':~:text=Oak', 'after', doc('A', 'B'), page.replace('Oak is', 'Oak</p><p>A</p><p>B</p><p class="c">is')],
    ['paragraph=2', 'replace', doc('A'), page.replace(/<p.*<\/p>/, '<p>A</p>')],
    ['paragraph=1', 'before', doc('A'), page.replace('<h1', '<p>A</p>\n  <h1')],
  ])('#%s, %s', async (place, side, content, expected) => {
    expect(await insertText('html', page, place, content, { side })).toBe(expected);
  });

  it('takes a note into the list of notes that it has', async () => {
    const once = await insertText('html', page, 'paragraph=2', doc(paragraph('x', footnote('first'))));
    const twice = await insertText('html', once, 'paragraph=2', doc(paragraph('y', footnote('second'))));
    expect(twice.match(/id="note-\d"/g)).toEqual(['id="note-1"', 'id="note-2"']);
    expect(twice.match(/doc-endnotes/g)).toHaveLength(1);
  });
});

describe('plain text', () => {
  it.each<[string, string, Side, Content, string]>([
    ['One.\r\n\r\nTwo is here.', 'paragraph=1', 'after', doc('X', 'Y'), 'One.\r\n\r\nX\r\n\r\nY\r\n\r\nTwo is here.'],
    ['One.\n\nTwo is here.', ':~:text=Two', 'after', run('and three'), 'One.\n\nTwo and three is here.'],
    ['a\nb\nc\n', 'line=1,2', 'after', run('x'), 'a\nb\nx\nc\n'],
    ['a\nb\nc\n', 'line=1,2', 'before', run('x'), 'a\nx\nb\nc\n'],
    ['', '', 'end', doc('x'), 'x\n'],
  ])('%j #%s, %s', async (before, place, side, content, expected) => {
    expect(await insertText('text', before, place, content, { side })).toBe(expected);
  });
});

describe('a document', () => {
  const p = (words: string, properties = ''): string => `<w:p>${properties}<w:r><w:t>${words}</w:t></w:r></w:p>`;
  const body = async (inside: string, place: string, content: Content, asked: Asked = {}): Promise<string> => {
    const { bytes } = await insert('docx', documentBytes({ body: inside }), place, content, asked);
    return /<w:body>(.*)<\/w:body>/s.exec(strFromU8(unzipSync(bytes)['word/document.xml'] as Uint8Array))?.[1] ?? '';
  };
  const t = (words: string): string => `<w:t xml:space="preserve">${words}</w:t>`;

  it.each<[string, string, string, Content, Asked, string]>([
    ['words into words', p('one three'), ':~:text=one', run('two'), {}, `<w:p><w:r>${t('one two three')}</w:r></w:p>`],
    [
      'marked words into a run of their own, that looks like the one around it',
      '<w:p><w:r><w:rPr><w:i/></w:rPr><w:t>one three</w:t></w:r></w:p>',
      ':~:text=one',
      run(bold('two')),
      {},
      `<w:p><w:r><w:rPr><w:i/></w:rPr>${t('one')}</w:r><w:r><w:rPr><w:b/><w:i/></w:rPr>${t(' two')}</w:r><w:r><w:rPr><w:i/></w:rPr>${t(' three')}</w:r></w:p>`,
    ],
    [
      'words beside a link, and not into it',
      '<w:p><w:hyperlink w:anchor="x"><w:r><w:t>one</w:t></w:r></w:hyperlink></w:p>',
      ':~:text=one',
      run(bold('two')),
      {},
      `<w:p><w:hyperlink w:anchor="x"><w:r><w:t>one</w:t></w:r></w:hyperlink><w:r><w:rPr><w:b/></w:rPr>${t(' two')}</w:r></w:p>`,
    ],
    [
      'paragraphs into the middle of one, which parts',
      p('one two', '<w:pPr><w:jc w:val="right"/></w:pPr>'),
      ':~:text=one',
      doc('a', 'b'),
      { style: 'original' },
      `<w:p><w:pPr><w:jc w:val="right"/></w:pPr><w:r><w:t>one</w:t></w:r></w:p><w:p><w:r>${t('a')}</w:r></w:p><w:p><w:r>${t('b')}</w:r></w:p><w:p><w:pPr><w:jc w:val="right"/></w:pPr><w:r>${t('two')}</w:r></w:p>`,
    ],
    [
      'instead of words',
      p('one two three'),
      ':~:text=two',
      run('2'),
      { side: 'replace' },
      `<w:p><w:r>${t('one 2 three')}</w:r></w:p>`,
    ],
    [
      'into an empty paragraph of one tag',
      `<w:p w:rsidR="1"/>${p('x')}`,
      'paragraph=1',
      run('a'),
      { side: 'start' },
      `<w:p w:rsidR="1"/><w:p><w:r>${t('a x')}</w:r></w:p>`,
    ],
    [
      'in the look of the paragraph beside it',
      p('one', '<w:pPr><w:pStyle w:val="Body"/><w:spacing w:after="99"/></w:pPr>'),
      'paragraph=1',
      doc('a'),
      {},
      `${p('one', '<w:pPr><w:pStyle w:val="Body"/><w:spacing w:after="99"/></w:pPr>')}<w:p><w:pPr><w:pStyle w:val="Body"/><w:spacing w:after="99"/></w:pPr><w:r>${t('a')}</w:r></w:p>`,
    ],
    [
      'as a tracked insertion, its paragraph’s end too',
      p('one'),
      'paragraph=1',
      doc('a'),
      { author: 'Trust', date: '2026-05-03T09:00:00.000Z' },
      `${p('one')}<w:p><w:pPr><w:rPr><w:ins w:id="2" w:author="Trust" w:date="2026-05-03T09:00:00Z"/></w:rPr></w:pPr><w:ins w:id="1" w:author="Trust" w:date="2026-05-03T09:00:00Z"><w:r>${t('a')}</w:r></w:ins></w:p>`,
    ],
    [
      'a table behind a table, with a paragraph between',
      `<w:tbl><w:tr><w:tc>${p('x')}</w:tc></w:tr></w:tbl><w:p/>`,
      'table=1',
      doc('a'),
      {},
      `<w:tbl><w:tr><w:tc>${p('x')}</w:tc></w:tr></w:tbl><w:p><w:r>${t('a')}</w:r></w:p><w:p/>`,
    ],
  ])('gets %s', async (_, before, place, content, asked, after) => {
    expect(await body(before, place, content, asked)).toBe(after);
  });

  it('speaks the Strict namespaces in a Strict document, in the parts it gets too', async () => {
    const strict = 'http://purl.oclc.org/ooxml';
    const paragraphs = '<w:p><w:r><w:t>Oak</w:t></w:r></w:p>';
    const bytes = zipOf({
      '[Content_Types].xml': '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>',
      '_rels/.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="${strict}/officeDocument/relationships/officeDocument" Target="word/document.xml"/></Relationships>`,
      'word/document.xml': `<w:document xmlns:w="${strict}/wordprocessingml/main" w:conformance="strict"><w:body>${paragraphs}</w:body></w:document>`,
    });
    const [picture] = samplePictures;
    const content = doc(paragraph('x', footnote('n')), bullets('a'), {
      type: 'picture',
      media: picture?.hash ?? '',
      mediaType: 'image/png',
    });
    const after = (await insert('docx', bytes, '', content, { media: allMedia })).bytes;
    const parts = unzipSync(after);
    const own = Object.keys(parts).filter((name) => /^word\/.*(?:xml|rels)$/.test(name));
    expect(own).toEqual(expect.arrayContaining(['word/footnotes.xml', 'word/numbering.xml']));
    const spoken = own.map((name) => strFromU8(parts[name] as Uint8Array)).join('');
    expect(spoken.match(/http:\/\/schemas\.openxmlformats\.org\/(?!package|markup-compatibility)[^"]*/g)).toBe(null);
    expect((await taken('docx', after)).map(({ type }) => type)).toEqual(['paragraph', 'paragraph', 'list', 'picture']);
  });

  it('grows at its end, not in a box that hangs on its last paragraph', async () => {
    const box =
      '<w:pict><v:shape><v:textbox><w:txbxContent><w:p><w:r><w:t>boxed</w:t></w:r></w:p></w:txbxContent></v:textbox></v:shape></w:pict>';
    const anchor = `<w:p><w:r><w:t>last</w:t></w:r><w:r>${box}</w:r></w:p>`;
    expect(await body(anchor, '', doc('a', 'b'))).toMatch(/<w:t>boxed<.*<\/w:pict><\/w:r><\/w:p><w:p>.*>a<.*>b</);
    const frame = '<draw:frame><draw:text-box><text:p>boxed</text:p></draw:text-box></draw:frame>';
    const source = openDocument('text', { body: `<text:p>first</text:p><text:p>last${frame}</text:p>` });
    const { bytes } = await insert('odt', await source.read(0, source.size), '', doc('a', 'b'));
    const onPage = openDocument('text', { body: `${frame}<text:p>last</text:p>` });
    const other = await insert('odt', await onPage.read(0, onPage.size), '', doc('a'));
    expect(strFromU8(unzipSync(other.bytes)['content.xml'] as Uint8Array)).toMatch(
      /last<\/text:p><text:p[^<>]*>a<\/text:p>/,
    );
    expect(strFromU8(unzipSync(bytes)['content.xml'] as Uint8Array)).toMatch(
      /boxed<\/text:p><\/draw:text-box><\/draw:frame><\/text:p><text:p[^<>]*>a<\/text:p><text:p[^<>]*>b<\/text:p>/,
    );
  });

  it('leaves the paragraph that a table needs behind it without the number that its style gives', async () => {
    const styles =
      '<w:style w:type="paragraph" w:default="1" w:styleId="Normal"><w:name w:val="Normal"/><w:pPr><w:numPr><w:numId w:val="1"/></w:numPr></w:pPr></w:style>';
    const numbering =
      '<w:abstractNum w:abstractNumId="0"><w:lvl w:ilvl="0"><w:start w:val="1"/><w:numFmt w:val="decimal"/><w:lvlText w:val="%1."/></w:lvl></w:abstractNum><w:num w:numId="1"><w:abstractNumId w:val="0"/></w:num>';
    const bytes = documentBytes({ styles, numbering, body: p('one') });
    const after = await insert('docx', bytes, 'list=1', doc(table(0, ['x'])), { side: 'after' });
    expect((await taken('docx', after.bytes)).map(({ type }) => type)).toEqual(['list', 'table']);
    expect(strFromU8(unzipSync(after.bytes)['word/document.xml'] as Uint8Array)).toContain(
      '</w:tbl><w:p><w:pPr><w:numPr><w:numId w:val="0"/></w:numPr></w:pPr></w:p></w:body>',
    );
  });

  it('goes on with its list, and shifts headings to where they land', async () => {
    const bytes = demo('application.docx');
    const grown = (await insert('docx', bytes, 'list=1', doc(bullets('x', item('y', bullets('z')))), { side: 'end' }))
      .bytes;
    const list = (await taken('docx', grown)).at(-1);
    expect(list).toMatchObject({ type: 'list', items: [{}, {}, { blocks: [{}, { type: 'list' }] }] });
    const headed = (await insert('docx', bytes, 'section=Background', doc(heading(1, 'New')), { side: 'end' })).bytes;
    expect(await taken('docx', headed)).toContainEqual(heading(2, 'New'));
  });

  it('changes no part that it need not, and nothing of the main part but the place', async () => {
    const bytes = demo('application.docx');
    const content = doc(
      paragraph('x ', link('y', 'https://ferry.example/'), footnote('n')),
      numbers('a'),
      table(1, ['a'], ['b']),
      quote('q'),
    );
    const after = (await insert('docx', bytes, 'section=Costs', content)).bytes;
    const [old, now] = [unzipSync(bytes), unzipSync(after)];
    const changed = Object.keys(now).filter(
      (name) => old[name] === undefined || strFromU8(old[name]) !== strFromU8(now[name] as Uint8Array),
    );
    expect(changed.sort()).toEqual(
      [
        '[Content_Types].xml',
        'word/_rels/document.xml.rels',
        'word/document.xml',
        'word/footnotes.xml',
        'word/numbering.xml',
      ].sort(),
    );
    const [before, main] = [old, now].map((parts) => strFromU8(parts['word/document.xml'] as Uint8Array)) as [
      string,
      string,
    ];
    let start = 0;
    while (before[start] === main[start]) start++;
    expect(main.endsWith(before.slice(start))).toBe(true);
  });

  it('is left alone when it is protected or signed', async () => {
    const parts = unzipSync(demo('application.docx'));
    const { zipSync } = await import('fflate');
    const signed = zipSync({ ...parts, '_xmlsignatures/sig1.xml': new Uint8Array() });
    await expect(insert('docx', signed, '', doc('x'))).rejects.toMatchObject({ code: 'unsupported' });
  });
});

describe.each(['markdown', 'html', 'docx', 'odt'] as const)('any content pasted into %s', (name) => {
  const files = { markdown: 'log.md', html: 'letters.html', docx: 'application.docx', odt: 'history.odt' } as const;
  const words = (all: readonly Block[]): string => blocksText(all).replace(/[\s>]+/g, '');

  it('lands whole, between the same blocks as before', async () => {
    const bytes = demo(files[name]);
    const before = await taken(name, bytes);
    const numbered = before.filter((block) => block.type === 'paragraph' && block.inlines.length > 0);
    await fc.assert(
      fc.asyncProperty(blocks, fc.nat(), fc.constantFrom<Side>('before', 'after'), async (content, pick, side) => {
        const among = before.map((block, index) => ({ block, index })).filter(({ block }) => numbered.includes(block));
        const at = among[pick % among.length]?.index ?? 0;
        const place = `paragraph=${before.slice(0, at + 1).filter((block) => ['paragraph', 'heading', 'quote', 'code'].includes(block.type) && !('inlines' in block && block.inlines.length === 0)).length}`;
        const { bytes: after } = await insert(name, bytes, place, content, {
          side,
          media: allMedia,
          style: 'original',
        });
        const cutAt = side === 'before' ? at : at + 1;
        const written = await (await formatNamed(name).load()).write?.(content, { media: allMedia });
        const alone = await taken(name, written as Uint8Array);
        expect(words(await taken(name, after))).toBe(
          words(before.slice(0, cutAt)) + words(alone) + words(before.slice(cutAt)),
        );
      }),
      { numRuns: runs },
    );
  });
});

describe('an open text', () => {
  const p = (words: string): string => `<text:p text:style-name="P1">${words}</text:p>`;
  const body = async (inside: string, place: string, content: Content, asked: Asked = {}): Promise<string> => {
    const source = openDocument('text', { body: inside });
    const { bytes } = await insert('odt', await source.read(0, source.size), place, content, asked);
    return (
      /<office:text>(.*)<\/office:text>/s.exec(strFromU8(unzipSync(bytes)['content.xml'] as Uint8Array))?.[1] ?? ''
    );
  };

  it.each<[string, string, string, Content, Asked, string]>([
    ['words into words', p('one three'), ':~:text=one', run('two'), {}, p('one two three')],
    [
      'marked words in a span',
      p('one'),
      ':~:text=one',
      run(bold('two')),
      {},
      p('one<text:span text:style-name="DrawerT1"><text:s/>two</text:span>'),
    ],
    [
      'paragraphs into the middle of one, which parts',
      p('one two'),
      ':~:text=one',
      doc('a', 'b'),
      {},
      [p('one'), p('a'), p('b'), p('two')].join(''),
    ],
    [
      'words into an empty paragraph',
      `<text:p/>${p('x')}`,
      'paragraph=1',
      run('a'),
      { side: 'end' },
      `<text:p/>${p('x a')}`,
    ],
    [
      'items into its list',
      `<text:list text:style-name="L"><text:list-item>${p('one')}</text:list-item></text:list>`,
      'list=1',
      doc('two'),
      { side: 'end' },
      `<text:list text:style-name="L"><text:list-item>${p('one')}</text:list-item><text:list-item>${p('two')}</text:list-item></text:list>`,
    ],
  ])('gets %s', async (_, before, place, content, asked, after) => {
    expect(await body(before, place, content, asked)).toBe(after);
  });

  const change = (id: number): string =>
    `<text:changed-region xml:id="drawer-change-${id}" text:id="drawer-change-${id}"><text:insertion><office:change-info xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:creator>Trust</dc:creator><dc:date>2026-05-03T09:00:00Z</dc:date></office:change-info></text:insertion></text:changed-region>`;
  const mark = (name: 'start' | 'end', id: number): string =>
    `<text:change-${name} text:change-id="drawer-change-${id}"/>`;
  const earlier = `<text:tracked-changes>${change(4)}</text:tracked-changes>`;

  it.each<[string, string, string, Content, Asked, string]>([
    [
      'words',
      p('one three'),
      ':~:text=one',
      run('two'),
      {},
      `<text:tracked-changes>${change(1)}</text:tracked-changes>${p(`one${mark('start', 1)} two${mark('end', 1)} three`)}`,
    ],
    [
      'paragraphs, behind changes that are there',
      `${earlier}${p('one')}`,
      '',
      doc('a', 'b'),
      {},
      `<text:tracked-changes>${change(4)}${change(5)}</text:tracked-changes>${p('one')}${mark('start', 5)}${p('a')}${p('b')}${mark('end', 5)}`,
    ],
    [
      'items, in whose words the marks stand',
      `<text:list text:style-name="L"><text:list-item>${p('one')}</text:list-item></text:list>`,
      'list=1',
      doc('two'),
      { side: 'end' },
      `<text:tracked-changes>${change(1)}</text:tracked-changes><text:list text:style-name="L"><text:list-item>${p('one')}</text:list-item><text:list-item>${p(`${mark('start', 1)}two${mark('end', 1)}`)}</text:list-item></text:list>`,
    ],
  ])('gets as a tracked insertion %s', async (_, before, place, content, asked, after) => {
    const tracked = { ...asked, author: 'Trust', date: '2026-05-03T09:00:00.000Z' };
    expect(await body(before, place, content, tracked)).toBe(after);
  });

  it('changes only its content, and the list of parts when a picture comes', async () => {
    const bytes = demo('history.odt');
    const changedBy = async (content: Content): Promise<string[]> => {
      const now = unzipSync((await insert('odt', bytes, '', content, { media: allMedia })).bytes);
      const old = unzipSync(bytes);
      return Object.keys(now)
        .filter((name) => !old[name] || strFromU8(old[name]) !== strFromU8(now[name] as Uint8Array))
        .sort();
    };
    expect(await changedBy(doc(heading(1, 'x'), table(1, ['a'], ['b']), bullets('c')))).toEqual(['content.xml']);
    const [hash] = [...allMedia.keys()] as [string];
    const picture: Content = { shape: 'picture', picture: { media: hash, mediaType: 'image/png' } };
    expect(await changedBy(picture)).toEqual([
      'META-INF/manifest.xml',
      expect.stringMatching(/^Pictures\//),
      'content.xml',
    ]);
  });
});

it('says what gave way, and where it landed', async () => {
  const landed = await insert('markdown', 'Oak is sound.\n', ':~:text=Oak', run('Elm'), { side: 'replace' });
  expect(landed).toMatchObject({
    where: { kind: 'landed.replace', params: { place: { kind: 'place', params: { place: ':~:text=Oak' } } } },
    replaced: 'Oak',
  });
  const table = '| Item | Cost |\n| --- | --- |\n| Oak | 12 |\n';
  for (const [place, replaced] of [
    ['table=1!A2', 'Oak'],
    ['table=1', 'Item\tCost\nOak\t12'],
  ] as const)
    expect(await insert('markdown', table, place, run('Elm'), { side: 'replace' })).toMatchObject({ replaced });
  await expect(insert('markdown', 'x', 'section=Nowhere', run('a'))).rejects.toMatchObject({ code: 'not-found' });
});

it.each([
  ['a tag', '<p>More on <a href="h>the page</a>.</p>\n</body>\n'],
  ['a comment', '<p>More on <!-- the page.</p>\n'],
  ['a heading’s tag', '<h1>More</h1><h2>On <b class="x></h2>\n'],
])('what lands at the end of a page that does not finish %s is part of it', async (_, page) => {
  for (const content of [run('Pasted'), doc(paragraph('Pasted'))]) {
    const { bytes } = await insert('html', page, '', content, { side: 'end' });
    const back = await (await formatNamed('html').load()).read?.(sourceOf(bytes, 'x.html'), parseFragment(''));
    expect(JSON.stringify(back?.content)).toContain('Pasted');
    const cut = Buffer.from(bytes).toString();
    for (const part of page.split(/(?=<a|<!--|<b)/)) expect(cut).toContain(part);
  }
});

it.each(['original', 'local', 'plain'] as const)('%s: carries as much look as that', async (style) => {
  const content = doc(
    heading(1, 'H'),
    paragraph(text('x', { bold: true, font: 'Arial', colour: '#ff0000' })),
    bullets('b'),
  );
  const { bytes } = await insert('docx', documentBytes({ body: '<w:p><w:r><w:t>one</w:t></w:r></w:p>' }), '', content, {
    style,
  });
  const landed = (await taken('docx', bytes)).slice(1);
  const kept: Readonly<Record<typeof style, Marks | undefined>> = {
    original: { bold: true, font: 'Arial', colour: '#ff0000' },
    local: { bold: true },
    plain: undefined,
  };
  const marks = kept[style];
  expect(landed.map(({ type }) => type)).toEqual(
    style === 'plain' ? ['paragraph', 'paragraph', 'paragraph'] : ['heading', 'paragraph', 'list'],
  );
  expect(landed[1]).toEqual(paragraph(marks ? text('x', marks) : text('x')));
  expect(plainText({ shape: 'blocks', blocks: asBlocks({ shape: 'blocks', blocks: landed }) })).toContain('x');
});

it.each([
  ['docx', 'survey.docx'],
  ['odt', 'history.odt'],
  ['html', 'letters.html'],
  ['markdown', 'log.md'],
] as const)(
  'puts a cell into a cell of a table of %s as its words, and blocks instead of all that it held',
  async (name, file) => {
    const cellOf = async (bytes: Uint8Array): Promise<readonly Block[]> => {
      const [found] = (await taken(name, bytes)).filter(({ type }) => type === 'table');
      return found?.type === 'table' ? (found.rows[1]?.cells[1]?.blocks ?? []) : [];
    };
    const number: Content = { shape: 'cells', rows: [[{ type: 'number', value: 1250, text: '£1,250.00' }]] };
    const before = blocksText(await cellOf(demo(file)));
    const behind = await cellOf((await insert(name, demo(file), 'table=1!B2', number)).bytes);
    expect([behind.length, blocksText(behind)]).toEqual([1, `${before} £1,250.00`]);
    const instead = await insert(name, demo(file), 'table=1!B2', number, { side: 'replace' });
    expect(blocksText(await cellOf(instead.bytes))).toBe('£1,250.00');
    if (name === 'markdown') return; // a line of a table holds no blocks
    const both = doc('one', bullets('two', 'three'));
    const { bytes } = await insert(name, demo(file), 'table=1!B2', both, { side: 'replace' });
    expect((await cellOf(bytes)).map(({ type }) => type)).toEqual(['paragraph', 'list']);
  },
);
