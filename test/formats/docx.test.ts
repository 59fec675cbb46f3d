import { asBlocks, type Block, bullets, numbers, paragraph, plainText, table, text } from 'drawer';
import { sourceOf } from 'drawer/formats';
import { docx } from 'drawer/formats/docx';
import { bold, item, lineBreak, link } from '../../src/content/index.ts';
import { type DocumentParts, documentBytes, documentSource } from '../support/office.ts';
import { samplePictures } from '../support/pictures.ts';

const take = (parts: DocumentParts) => docx.read(documentSource(parts), { kind: 'whole' });
const blocksOf = async (parts: DocumentParts): Promise<readonly Block[]> => asBlocks((await take(parts)).content);

const p = (words: string, properties = '') => `<w:p><w:pPr>${properties}</w:pPr><w:r><w:t>${words}</w:t></w:r></w:p>`;
const run = (words: string, properties: string) =>
  `<w:r><w:rPr>${properties}</w:rPr><w:t xml:space="preserve">${words}</w:t></w:r>`;
const style = (id: string, inside: string, type = 'paragraph') =>
  `<w:style w:type="${type}" w:styleId="${id}">${inside}</w:style>`;

it('joins cells as older files do, leaves room before the first of a row, and takes no deleted row', async () => {
  const cell = (words: string, properties = ''): string => `<w:tc><w:tcPr>${properties}</w:tcPr>${p(words)}</w:tc>`;
  const body = `<w:tbl>
    <w:tr>${cell('a', '<w:hMerge w:val="restart"/>')}${cell('', '<w:hMerge/>')}${cell('b')}</w:tr>
    <w:tr><w:trPr><w:gridBefore w:val="1"/></w:trPr>${cell('c')}${cell('d')}</w:tr>
    <w:tr><w:trPr><w:del w:author="A"/></w:trPr>${cell('never')}${cell('never')}${cell('never')}</w:tr>
    <w:tr><w:trPr><w:del w:author="A"/></w:trPr>${cell('never')}${cell('never', '<w:vMerge w:val="restart"/>')}</w:tr>
    <w:tr>${cell('e')}${cell('f', '<w:vMerge/>')}${cell('g')}</w:tr>
  </w:tbl>`;
  const [found] = await blocksOf({ body });
  expect(
    found?.type === 'table' &&
      found.rows.map(({ cells }) => cells.map((each) => [wordsOf(each.blocks), each.columnSpan])),
  ).toEqual([
    [
      ['a', 2],
      ['b', undefined],
    ],
    [
      ['', undefined],
      ['c', undefined],
      ['d', undefined],
    ],
    [
      ['e', undefined],
      ['f', undefined],
      ['g', undefined],
    ],
  ]);
});

const wordsOf = (blocks: readonly Block[]): string =>
  blocks.map((block) => plainText({ shape: 'blocks', blocks: [block] })).join('|');

describe('styles', () => {
  it('know headings by name, by outline level, and through what they are based on', async () => {
    const styles =
      style('H', '<w:name w:val="heading 2"/>') +
      style('Chapter', '<w:name w:val="Kapitel"/><w:pPr><w:outlineLvl w:val="0"/></w:pPr>') +
      style('Sub', '<w:name w:val="Unterkapitel"/><w:basedOn w:val="Chapter"/>') +
      style('T', '<w:name w:val="Title"/>');
    const body =
      p('a', '<w:pStyle w:val="H"/>') +
      p('b', '<w:pStyle w:val="Chapter"/>') +
      p('c', '<w:pStyle w:val="Sub"/>') +
      p('d', '<w:outlineLvl w:val="3"/>') +
      p('e', '<w:pStyle w:val="T"/>');
    expect(
      (await blocksOf({ body, styles })).map((block) => block.type === 'heading' && [block.level, block.style]),
    ).toEqual([
      [2, undefined],
      [1, 'Kapitel'],
      [1, 'Unterkapitel'],
      [4, undefined],
      [1, 'Title'],
    ]);
  });

  it('hand their look down, and toggles flip between paragraph and character styles', async () => {
    const styles =
      '<w:docDefaults><w:rPrDefault><w:rPr><w:sz w:val="22"/><w:lang w:val="en-GB"/></w:rPr></w:rPrDefault></w:docDefaults>' +
      style('Base', '<w:name w:val="Base"/><w:rPr><w:b/><w:color w:val="1F3A4D"/></w:rPr>') +
      style('Derived', '<w:name w:val="Derived"/><w:basedOn w:val="Base"/><w:rPr><w:sz w:val="28"/></w:rPr>') +
      style('Strong', '<w:name w:val="Strong"/><w:rPr><w:b/></w:rPr>', 'character');
    const body = `<w:p><w:pPr><w:pStyle w:val="Derived"/></w:pPr>${run('a', '')}${run('b', '<w:rStyle w:val="Strong"/>')}${run('c', '<w:b w:val="0"/>')}${run('d', '<w:rStyle w:val="Strong"/><w:b/>')}</w:p>`;
    const look = { colour: '#1f3a4d', size: 14 };
    expect(await blocksOf({ body, styles })).toEqual([
      {
        type: 'paragraph',
        style: 'Derived',
        inlines: [text('a', { bold: true, ...look }), text('bc', look), text('d', { bold: true, ...look })],
      },
    ]);
  });

  it('do not count the document’s own font, size and language as marks', async () => {
    const styles =
      '<w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:ascii="Arial"/><w:sz w:val="20"/><w:lang w:val="de-DE"/></w:rPr></w:rPrDefault></w:docDefaults>';
    const body = `<w:p>${run('a', '<w:rFonts w:ascii="Arial"/><w:sz w:val="20"/><w:lang w:val="de-DE"/>')}${run('b', '<w:lang w:val="fr-FR"/>')}</w:p>`;
    const taken = await take({ body, styles });
    expect([taken.language, asBlocks(taken.content)]).toEqual([
      'de-DE',
      [paragraph('a', text('b', { language: 'fr-FR' }))],
    ]);
  });

  it('survive a style that is based on itself', async () => {
    const styles =
      style('A', '<w:name w:val="A"/><w:basedOn w:val="B"/>') +
      style('B', '<w:name w:val="B"/><w:basedOn w:val="A"/><w:rPr><w:i/></w:rPr>');
    expect(await blocksOf({ body: p('a', '<w:pStyle w:val="A"/>'), styles })).toEqual([
      { ...paragraph(text('a', { italic: true })), style: 'A' },
    ]);
  });
});

describe('lists', () => {
  const numbering =
    '<w:abstractNum w:abstractNumId="1"><w:lvl w:ilvl="0"><w:start w:val="1"/><w:numFmt w:val="decimal"/></w:lvl><w:lvl w:ilvl="1"><w:start w:val="1"/><w:numFmt w:val="lowerLetter"/></w:lvl></w:abstractNum>' +
    '<w:abstractNum w:abstractNumId="2"><w:lvl w:ilvl="0"><w:numFmt w:val="bullet"/><w:lvlText w:val="o"/></w:lvl></w:abstractNum>' +
    '<w:num w:numId="1"><w:abstractNumId w:val="1"/></w:num><w:num w:numId="2"><w:abstractNumId w:val="2"/></w:num>' +
    '<w:num w:numId="3"><w:abstractNumId w:val="1"/><w:lvlOverride w:ilvl="0"><w:startOverride w:val="5"/></w:lvlOverride></w:num>';
  const li = (words: string, list: number, level = 0) =>
    p(words, `<w:numPr><w:ilvl w:val="${level}"/><w:numId w:val="${list}"/></w:numPr>`);
  const letters = (...items: string[]) => ({ ...numbers(...items), marker: 'lower-alpha' as const });

  it('nest by level, go on after an interruption, and start where they are told', async () => {
    const body =
      li('a', 1) +
      li('b', 1, 1) +
      li('c', 1, 1) +
      li('d', 1) +
      p('between') +
      li('e', 1) +
      li('f', 1, 1) +
      li('g', 3) +
      li('h', 3) +
      li('i', 2);
    expect(await blocksOf({ body, numbering })).toEqual([
      numbers(item('a', letters('b', 'c')), 'd'),
      paragraph('between'),
      { ...numbers(item('e', letters('f'))), start: 3 },
      { ...numbers('g', 'h'), start: 5 },
      { ...bullets('i'), marker: 'circle' },
    ]);
  });

  it.each(['constructor', '__proto__', 'toString'])('count as ever where they are told to by “%s”', async (name) => {
    const named = numbering.replace('"decimal"', `"${name}"`).replace('w:val="o"', `w:val="${name}"`);
    const body =
      li('a', 1) + li('b', 2) + p('c', `<w:jc w:val="${name}"/>`) + run('d', `<w:highlight w:val="${name}"/>`);
    const read = await blocksOf({ body, numbering: named });
    expect(read.slice(0, 3)).toEqual([numbers('a'), bullets('b'), paragraph('c')]);
    expect(plainText({ shape: 'blocks', blocks: read })).toContain('1. a');
  });

  it('take their numbering from a style too, and lose it by number 0', async () => {
    const styles = style('L', '<w:name w:val="L"/><w:pPr><w:numPr><w:numId w:val="1"/></w:numPr></w:pPr>');
    const body =
      p('a', '<w:pStyle w:val="L"/>') + p('b', '<w:pStyle w:val="L"/><w:numPr><w:numId w:val="0"/></w:numPr>');
    expect((await blocksOf({ body, numbering, styles })).map(({ type }) => type)).toEqual(['list', 'paragraph']);
  });
});

describe('tables', () => {
  const tc = (inside: string, properties = '') => `<w:tc><w:tcPr>${properties}</w:tcPr>${inside}</w:tc>`;

  it('keep spans, shading, header rows and tables within', async () => {
    const inner = `<w:tbl><w:tr>${tc(p('x'))}</w:tr></w:tbl><w:p/>`;
    const body = `<w:tbl><w:tblGrid><w:gridCol w:w="1000"/><w:gridCol w:w="2000"/></w:tblGrid>
      <w:tr><w:trPr><w:tblHeader/></w:trPr>${tc(p('a'), '<w:gridSpan w:val="2"/><w:shd w:fill="E6ECEF"/>')}</w:tr>
      <w:tr>${tc(p('b'), '<w:vMerge w:val="restart"/>')}${tc(inner)}</w:tr>
      <w:tr>${tc(p(''), '<w:vMerge/>')}${tc('<w:p/>')}</w:tr></w:tbl>`;
    expect(await blocksOf({ body })).toEqual([
      {
        type: 'table',
        headerRows: 1,
        columnWidths: [50, 100],
        rows: [
          { cells: [{ blocks: [paragraph('a')], columnSpan: 2, background: '#e6ecef' }] },
          { cells: [{ blocks: [paragraph('b')], rowSpan: 2 }, { blocks: [table(0, ['x'])] }] },
          { cells: [{ blocks: [] }] },
        ],
      },
    ]);
  });
});

describe('words', () => {
  it('come with tabs, breaks, special hyphens and links, and without what was deleted or hidden', async () => {
    const body = `<w:p><w:r><w:t>a</w:t><w:tab/><w:t>b</w:t><w:br/><w:t>c</w:t><w:noBreakHyphen/><w:t>d</w:t></w:r>
      <w:hyperlink r:id="l1"><w:r><w:t>yard</w:t></w:r></w:hyperlink><w:hyperlink w:anchor="hull"><w:r><w:t>hull</w:t></w:r></w:hyperlink>
      <w:del><w:r><w:delText>gone</w:delText></w:r></w:del><w:ins><w:r><w:t>new</w:t></w:r></w:ins>${run('secret', '<w:vanish/>')}
      <w:r><w:instrText>PAGE</w:instrText></w:r>${run('bold', '<w:b/>')}</w:p>`;
    const taken = await take({ body, links: { l1: 'hyperlink https://ferry.example/yard' } });
    expect(asBlocks(taken.content)).toEqual([
      paragraph(
        'a\tb',
        lineBreak,
        'c\u2011d',
        link('yard', 'https://ferry.example/yard'),
        link('hull', '#hull'),
        'new',
        bold('bold'),
      ),
    ]);
    expect(taken.notes).toEqual([
      { kind: 'deletion-left', count: 1 },
      { kind: 'insertion-taken', count: 1 },
    ]);
  });

  it('keep links to where something could run as plain words, and say so', async () => {
    const taken = await take({
      body: '<w:p><w:hyperlink r:id="l1"><w:r><w:t>run</w:t></w:r></w:hyperlink></w:p>',
      links: { l1: 'hyperlink javascript:alert(1)' },
    });
    expect(asBlocks(taken.content)).toEqual([paragraph('run')]);
    expect(taken.notes).toHaveLength(1);
  });

  it('are read from any prefix, and from the strict namespaces', async () => {
    const strict =
      '<q:document xmlns:q="http://purl.oclc.org/ooxml/wordprocessingml/main"><q:body><q:p><q:r><q:rPr><q:b/></q:rPr><q:t>a</q:t></q:r></q:p></q:body></q:document>';
    expect(await blocksOf({ body: '', parts: { 'word/document.xml': strict } })).toEqual([paragraph(bold('a'))]);
  });

  it('bring pictures with their bytes, and a description where the kind is unknown', async () => {
    const [sample] = samplePictures as [(typeof samplePictures)[0]];
    const drawing = (id: string) =>
      `<w:p><w:r><w:drawing><wp:inline xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing"><wp:extent cx="127000" cy="254000"/><wp:docPr id="1" descr="a ferry"/><a:graphic xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"><a:blip r:embed="${id}"/></a:graphic></wp:inline></w:drawing></w:r></w:p>`;
    const taken = await take({
      body: drawing('i1') + drawing('i2'),
      links: { i1: 'image media/a.png', i2: 'image media/b.emf' },
      parts: { 'word/media/a.png': sample.bytes, 'word/media/b.emf': 'EMF' },
    });
    expect(asBlocks(taken.content)).toEqual([
      { type: 'picture', media: sample.hash, mediaType: 'image/png', width: 10, height: 20, alt: 'a ferry' },
      paragraph('a ferry'),
    ]);
    expect([...taken.media.keys()]).toEqual([sample.hash]);
    expect(taken.notes).toEqual([{ kind: 'picture-as-description', count: 1 }]);
  });
});

describe('damage', () => {
  const whole = documentBytes({ body: p('words '.repeat(2000)) });

  it.each<[string, Uint8Array, string]>([
    ['cut short', whole.subarray(0, whole.length - 60), 'unreadable'],
    [
      'with a flipped byte in its packed text',
      whole.map((byte, index) => (index > 600 && index < 700 ? byte ^ 0x55 : byte)),
      'unreadable',
    ],
    ['that is not well formed', documentBytes({ body: '<w:p><w:r>' }), 'unreadable'],
    [
      'with a document type',
      documentBytes({
        body: '',
        parts: {
          'word/document.xml':
            '<!DOCTYPE x [<!ENTITY a "b">]><w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"/>',
        },
      }),
      'unreadable',
    ],
    ['nested without end', documentBytes({ body: '<w:sdt>'.repeat(3000) + '</w:sdt>'.repeat(3000) }), 'too-large'],
  ])('a document %s is one clear error', async (_, bytes, code) => {
    await expect(docx.read(sourceOf(bytes, 'x.docx'), { kind: 'whole' })).rejects.toMatchObject({
      name: 'DrawerError',
      code,
    });
  });

  it('never gets past as another kind of error, wherever it strikes', async () => {
    for (let at = 0; at < whole.length; at += 7) {
      const bytes = whole.map((byte, index) => (index === at ? byte ^ 0xff : byte));
      await docx
        .read(sourceOf(bytes, 'x.docx'), { kind: 'whole' })
        .catch((error) => expect(error).toMatchObject({ name: 'DrawerError' }));
    }
  });
});
