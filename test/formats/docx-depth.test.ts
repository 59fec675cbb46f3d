import { bullets, type Content, doc, heading, numbers, paragraph, parseFragment, text } from 'drawer';
import { sourceOf } from 'drawer/formats';
import { docx } from 'drawer/formats/docx';
import { bold, link } from '../../src/content/index.ts';
import { type DocumentParts, documentSource } from '../support/office.ts';
import { samplePictures } from '../support/pictures.ts';

const take = async (parts: DocumentParts, place = '') => docx.read(documentSource(parts), parseFragment(place));
const contentOf = async (parts: DocumentParts, place = ''): Promise<Content> => (await take(parts, place)).content;
const r = (words: string, properties = ''): string =>
  `<w:r>${properties && `<w:rPr>${properties}</w:rPr>`}<w:t xml:space="preserve">${words}</w:t></w:r>`;
const p = (...inside: string[]): string => `<w:p>${inside.join('')}</w:p>`;
const field = (type: string): string => `<w:r><w:fldChar w:fldCharType="${type}"/></w:r>`;
const instruction = (words: string): string => `<w:r><w:instrText xml:space="preserve">${words}</w:instrText></w:r>`;

describe('what stands inside paragraphs', () => {
  it.each([
    [
      'a field is its result, whatever is nested in its code',
      p(
        r('on '),
        field('begin'),
        instruction('IF '),
        field('begin'),
        instruction('PAGE'),
        field('separate'),
        r('7'),
        field('end'),
        field('separate'),
        r('page 7'),
        field('end'),
      ),
      doc('on page 7'),
    ],
    [
      'a field of an address is a link',
      p(
        field('begin'),
        instruction(' HYPERLINK "https://a.example/x y" \\o "z"'),
        field('separate'),
        r('here'),
        field('end'),
      ),
      doc(paragraph(link('here', 'https://a.example/x%20y'))),
    ],
    [
      'a simple field too, also within the document',
      `<w:p><w:fldSimple w:instr=" HYPERLINK \\l &quot;part&quot; ">${r('there')}</w:fldSimple></w:p>`,
      doc(paragraph(link('there', '#part'))),
    ],
    [
      'signs of symbol fonts are those signs',
      p('<w:r><w:sym w:font="Wingdings" w:char="F0FC"/></w:r>', r('\uf061', '<w:rFonts w:ascii="Symbol"/>')),
      doc(paragraph('✓', text('α', { font: 'Symbol' }))),
    ],
    [
      'tabs, hyphens and spaces of their own kinds',
      p('<w:r><w:tab/><w:noBreakHyphen/><w:softHyphen/><w:t>\u00a0x\u00a0</w:t><w:ptab/></w:r>'),
      doc(paragraph('\t\u2011\u00ad\u00a0x\u00a0\t')),
    ],
    [
      'text of scripts from right to left has a weight of its own',
      p(r('שלום', '<w:rtl/><w:b/>'), r('עולם', '<w:rtl/><w:bCs/>')),
      doc(paragraph('שלום', bold('עולם'))),
    ],
    [
      'what a tracked change moved is where it went',
      p(
        '<w:moveFrom w:id="1"><w:r><w:t>gone</w:t></w:r></w:moveFrom>',
        '<w:moveTo w:id="2"><w:r><w:t>here</w:t></w:r></w:moveTo>',
      ),
      doc('here'),
    ],
    [
      'a paragraph whose end was deleted goes on in the next',
      `<w:p><w:pPr><w:rPr><w:del w:id="1"/></w:rPr></w:pPr>${r('one ')}</w:p>${p(r('two'))}`,
      doc('one two'),
    ],
    [
      'the text of a content control, not its settings',
      `<w:sdt><w:sdtPr><w:alias w:val="Name"/><w:rPr><w:b/></w:rPr></w:sdtPr><w:sdtContent>${p(r('in it'))}</w:sdtContent></w:sdt>`,
      doc('in it'),
    ],
    [
      'of contents that stand for one another, the one that is understood',
      `<w:p xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006"><mc:AlternateContent><mc:Choice Requires="unknown9">${r('new')}</mc:Choice><mc:Fallback>${r('old')}</mc:Fallback></mc:AlternateContent></w:p>`,
      doc('old'),
    ],
  ])('%s', async (_, body, expected) => {
    expect(await contentOf({ body })).toEqual(expected);
  });

  it('fonts and colours of the theme are what the theme says', async () => {
    const theme =
      '<a:theme xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"><a:themeElements><a:clrScheme><a:accent1><a:srgbClr val="4472C4"/></a:accent1></a:clrScheme><a:fontScheme><a:minorFont><a:latin typeface="Gentium"/></a:minorFont></a:fontScheme></a:themeElements></a:theme>';
    const body = p(r('x', '<w:rFonts w:asciiTheme="minorHAnsi"/><w:color w:themeColor="accent1" w:themeShade="80"/>'));
    expect(await contentOf({ body, links: { t: 'theme theme1.xml' }, parts: { 'word/theme1.xml': theme } })).toEqual(
      doc(paragraph(text('x', { font: 'Gentium', colour: '#223962' }))),
    );
  });
});

describe('lists', () => {
  const level = (index: number, format: string, more = ''): string =>
    `<w:lvl w:ilvl="${index}"><w:start w:val="1"/><w:numFmt w:val="${format}"/>${more}</w:lvl>`;

  it('are numbered by the style of their paragraphs, and by the level that it names', async () => {
    const numbering = `<w:abstractNum w:abstractNumId="1">${level(0, 'decimal', '<w:pStyle w:val="L1"/>')}${level(1, 'bullet', '<w:pStyle w:val="L2"/>')}</w:abstractNum><w:num w:numId="5"><w:abstractNumId w:val="1"/></w:num>`;
    const style = (id: string): string =>
      `<w:style w:type="paragraph" w:styleId="${id}"><w:name w:val="List Number"/><w:pPr><w:numPr><w:numId w:val="5"/></w:numPr></w:pPr></w:style>`;
    const item = (id: string, words: string): string => p(`<w:pPr><w:pStyle w:val="${id}"/></w:pPr>`, r(words));
    expect(
      await contentOf({
        body: item('L1', 'one') + item('L2', 'in') + item('L1', 'two'),
        styles: style('L1') + style('L2'),
        numbering,
      }),
    ).toEqual(
      doc({
        ...numbers('one', 'two'),
        items: [{ blocks: [paragraph('one'), bullets('in')] }, { blocks: [paragraph('two')] }],
      }),
    );
  });

  it('may stand for the list of a style', async () => {
    const numbering = `<w:abstractNum w:abstractNumId="1"><w:numStyleLink w:val="S"/></w:abstractNum><w:abstractNum w:abstractNumId="2">${level(0, 'upperRoman')}</w:abstractNum><w:num w:numId="5"><w:abstractNumId w:val="1"/></w:num><w:num w:numId="6"><w:abstractNumId w:val="2"/></w:num>`;
    const styles =
      '<w:style w:type="numbering" w:styleId="S"><w:name w:val="S"/><w:pPr><w:numPr><w:numId w:val="6"/></w:numPr></w:pPr></w:style>';
    const body = p('<w:pPr><w:numPr><w:ilvl w:val="0"/><w:numId w:val="5"/></w:numPr></w:pPr>', r('one'));
    expect(await contentOf({ body, styles, numbering })).toEqual(doc({ ...numbers('one'), marker: 'upper-roman' }));
  });
});

describe('pictures', () => {
  const [sample] = samplePictures as [(typeof samplePictures)[0]];
  const vml = 'xmlns:v="urn:schemas-microsoft-com:vml"';

  it('of the older kind are taken with their size and description, those of embedded objects too', async () => {
    const shape = `<v:shape ${vml} style="width:72pt;height:1in" alt="A plan"><v:imagedata r:id="i"/></v:shape>`;
    const taken = await take({
      body: p(r('a'), `<w:r><w:pict>${shape}</w:pict></w:r>`) + p(`<w:r><w:object>${shape}</w:object></w:r>`),
      links: { i: 'image media/1.png' },
      parts: { 'word/media/1.png': sample.bytes },
    });
    const picture = { type: 'picture', media: sample.hash, width: 72, height: 72, alt: 'A plan' };
    expect(taken.content).toMatchObject({ blocks: [{ inlines: [{ text: 'a' }, picture] }, picture] });
    expect(taken.notes).toEqual([{ kind: 'object-as-picture', count: 1 }]);
  });

  it('are places wherever they stand, and outside the file they are left out and told', async () => {
    const drawing = (attribute: string): string =>
      `<w:r><w:drawing><a:blip xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" ${attribute}/></w:drawing></w:r>`;
    const parts: DocumentParts = {
      body: `<w:tbl><w:tr><w:tc>${p(r('in a cell '), drawing('r:embed="i"'))}</w:tc></w:tr></w:tbl>${p(r('x'), drawing('r:link="o"'))}`,
      links: { i: 'image media/1.png', o: 'image https://a.example/1.png' },
      parts: { 'word/media/1.png': sample.bytes },
    };
    const taken = await take(parts, 'picture=1');
    expect(taken.content).toMatchObject({ shape: 'picture', picture: { media: sample.hash } });
    expect(taken.notes).toEqual([{ kind: 'picture-outside-left', count: 1 }]);
    await expect(take(parts, 'picture=2')).rejects.toMatchObject({ code: 'not-found' });
  });
});

describe('bookmarks', () => {
  const mark = (kind: 'Start' | 'End', id: number, name = ''): string =>
    `<w:bookmark${kind} w:id="${id}"${name && ` w:name="${name}"`}/>`;
  const body =
    `<w:p><w:pPr><w:outlineLvl w:val="0"/></w:pPr>${mark('Start', 1, 'part')}${r('Hull')}${mark('End', 1)}</w:p>` +
    p(r('of '), mark('Start', 2, 'words'), r('oak'), mark('End', 2), r(' and elm')) +
    mark('Start', 3, 'two') +
    p(r('one')) +
    p(r('two')) +
    mark('End', 3) +
    p(mark('Start', 4, 'point') + mark('End', 4), r('here'));

  it.each([
    ['part', { shape: 'blocks', blocks: [heading(1, 'Hull')] }],
    ['words', { shape: 'run', inlines: [text('oak')] }],
    ['two', doc('one', 'two')],
    ['point', doc('here')],
  ])('%s', async (name, expected) => {
    const content = await contentOf({ body }, `bookmark=${name}`);
    if (name === 'part') expect(content).toEqual({ shape: 'run', inlines: [text('Hull')] });
    else expect(content).toEqual(expected);
  });

  it('are in the outline, and one that is not there names the nearest', async () => {
    const { entries } = await docx.outline(documentSource({ body }));
    expect(entries.filter(({ kind }) => kind === 'bookmark').map(({ place }) => place)).toEqual(
      ['part', 'words', 'two', 'point'].map((name) => `bookmark=${name}`),
    );
    await expect(take({ body }, 'bookmark=worts')).rejects.toMatchObject({
      params: { name: 'worts', near: 'words' },
    });
  });
});

it('writes text that looks like markup as text', async () => {
  const content = doc(paragraph('a ]]> b <!-- & --> ]]', bold(']>')));
  const bytes = await docx.write(content, { media: new Map() });
  expect((await docx.read(sourceOf(bytes, 'x.docx'), parseFragment(''))).content).toEqual(content);
});
