import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { bullets, type Content, doc, paragraph, plainText, run, table } from 'drawer';
import { fields, fill, insert, outline, read, remove } from 'drawer/formats';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { demoFiles } from '../support/cli.ts';
import { documentSource, workbookSource } from '../support/office.ts';
import { samplePictures } from '../support/pictures.ts';

/**
 * The same document as other programs may write it: XML 1.0 lets them quote attributes either way, put spaces around signs,
 * leave `>` as it is in values, and put comments anywhere. What lands in it, and what goes from it, has to be the same.
 */

const demo = (name: string): Uint8Array => new Uint8Array(readFileSync(join(demoFiles, name)));

function otherwise(xml: string, part: string): string {
  let inRows = false;
  return xml.replace(
    /<[?!][^>]*>|<(\/?)([^\s/>]+)((?:\s+[^\s=]+="[^"]*")*)\s*(\/?)>/g,
    (whole, slash: string | undefined, name: string | undefined, attributes = '', single = '') => {
      if (name === undefined) return whole;
      if (name.endsWith('sheetData')) inRows = slash === '' && single === '';
      // No program writes the cells of a sheet with comments between them.
      const comment = inRows || slash !== '/' || part.endsWith('.rels') ? '' : `<!-- <${name}${attributes}/> </x> -->`;
      if (slash === '/') return `${/:(?:t|p|h|span|a)$|^t$/.test(name) ? '' : comment}</${name} >`;
      const quoted = (attributes as string).replace(/\s+([^\s=]+)="([^"]*)"/g, (_, key: string, value: string) => {
        const bare = value.replaceAll('&gt;', '>').replaceAll('&quot;', '"');
        return bare.includes("'") ? `  ${key} = "${value}"` : `  ${key} = '${bare}'`;
      });
      return `<${name}${quoted}${single === '' ? '' : ' /'}>`;
    },
  );
}

/** Other prefixes: `w:` is `q:`, and the elements of a sheet have one. */
const renamed = (xml: string): string =>
  xml.replace(/<[?!][^>]*>|<[^>]*>/g, (tag) => {
    if (/^<[?!]/.test(tag)) return tag;
    const words = tag.replace(/(^<\/?|\s|xmlns:)w(?=[:=])/g, '$1q');
    return xml.includes('"http://schemas.openxmlformats.org/spreadsheetml/2006/main"') && !xml.includes(':xdr=')
      ? words.replace(/^<(\/?)(?!\w+:)/, '<$1sheet:').replace(' xmlns="', ' xmlns:sheet="')
      : words;
  });

const rewritten = (bytes: Uint8Array, rewrite: (xml: string, part: string) => string): Uint8Array =>
  zipSync(
    Object.fromEntries(
      Object.entries(unzipSync(bytes)).map(([name, part]) => [
        name,
        /\.(?:xml|rels)$/.test(name) ? strToU8(rewrite(strFromU8(part), name)) : part,
      ]),
    ),
  );

const some: Content = doc(
  paragraph('Elm & "oak"'),
  bullets('one', 'two'),
  table(1, ['Wood', 'Price'], ['Larch', '12.50']),
);

/** A change of a file, and of the same file written otherwise: what is read afterwards is alike. */
async function alike(name: string, change: (bytes: Uint8Array) => Promise<{ readonly bytes: Uint8Array }>) {
  const seen = async (bytes: Uint8Array) => {
    const changed = (await change(bytes)).bytes;
    const { content } = await read(changed, '', { name });
    return { text: plainText(content), outline: (await outline(changed, { name })).entries, content };
  };
  const plain = await seen(demo(name));
  for (const rewrite of /x$/.test(name) ? [otherwise, renamed] : [otherwise]) {
    const other = await seen(rewritten(demo(name), rewrite));
    expect(other.text).toBe(plain.text);
    expect(other).toEqual(plain);
  }
}

describe.each(['survey.docx', 'application.docx', 'history.odt'])('%s', (name) => {
  it.each(['local', 'original', 'plain'] as const)('takes content in at its end, in the %s style', (style) =>
    alike(name, (bytes) => insert(bytes, '', some, { name, style })),
  );
  it('takes words and blocks in beside a paragraph, as a change of somebody too', async () => {
    await alike(name, (bytes) => insert(bytes, 'paragraph=2', some, { name, side: 'after' }));
    await alike(name, (bytes) => insert(bytes, 'paragraph=2', run('Elm'), { name, side: 'end' }));
    await alike(name, (bytes) => insert(bytes, 'paragraph=2', some, { name, author: 'Ferry', date: '2026-05-03' }));
  });
  it('loses each of its places', async () => {
    const { entries } = await outline(demo(name), { name });
    for (const { place } of entries.filter(({ kind }) => kind !== 'picture').slice(0, 12))
      await alike(name, (bytes) => remove(bytes, place, { name }));
  });
});

describe.each(['budget.xlsx', 'costs.xlsx', 'crew.ods'])('%s', (name) => {
  const line: Content = {
    shape: 'cells',
    rows: [
      [
        { type: 'text', value: 'Elm' },
        { type: 'number', value: 2, text: '2' },
      ],
    ],
  };
  it('takes rows in below, over cells and beside formulas', async () => {
    await alike(name, (bytes) => insert(bytes, '', line, { name }));
    await alike(name, (bytes) => insert(bytes, 'A5', line, { name, over: true }));
    await alike(name, (bytes) => insert(bytes, 'B4', line, { name, over: true, style: 'original' }));
  });
  it('loses cells', async () => {
    await alike(name, (bytes) => remove(bytes, 'A2:B3', { name }));
  });
});

it.each(['claim.docx'])('fills the fields of %s', async (name) => {
  const values = Object.fromEntries((await fields(demo(name), { name })).map(({ key, kind }) => [key, kind]));
  for (const [key, kind] of Object.entries(values))
    await alike(name, (bytes) =>
      fill(bytes, { [key]: kind === 'check' ? true : 'Elm' }, { name }).catch(() => ({ bytes })),
    );
});

describe('a source that regular expressions would misread', () => {
  const part = (bytes: Uint8Array, name: string): string => strFromU8(unzipSync(bytes)[name] as Uint8Array);

  it('extends a rule whose message has a bracket, and leaves one in a comment alone', async () => {
    const rule = (range: string): string =>
      `<dataValidation type="whole" prompt="x > 5" sqref="${range}"><formula1>1</formula1></dataValidation>`;
    const cells = '<row r="1"><c r="A1"><v>1</v></c></row><row r="2"><c r="A2"><v>2</v></c></row>';
    const book = workbookSource({
      sheets: {
        One: `<sheetData>${cells}</sheetData><dataValidations><!-- ${rule('A1:A2')} -->${rule('A1:A2')}</dataValidations>`,
      },
    });
    const three: Content = { shape: 'cells', rows: [[{ type: 'number', value: 3, text: '3' }]] };
    const sheet = part((await insert(book, 'A3', three)).bytes, 'xl/worksheets/sheet0.xml');
    expect(sheet).toContain(`<!-- ${rule('A1:A2')} -->${rule('A1:A3')}`);
  });

  it('moves a shared formula on in a workbook whose elements have a prefix', async () => {
    const space = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
    const formula = (row: number, words: string): string =>
      `<s:row r="${row}"><s:c r="A${row}"><s:f t="shared" si="0"${words}</s:f><s:v>${row}</s:v></s:c></s:row>`;
    const rows = formula(1, ' ref="A1:A3">B1') + formula(2, '>') + formula(3, '>');
    const book = workbookSource({
      sheets: { One: '' },
      parts: {
        'xl/worksheets/sheet0.xml': `<s:worksheet xmlns:s="${space}"><s:sheetData>${rows}</s:sheetData></s:worksheet>`,
      },
    });
    const sheet = part((await remove(book, 'A1')).bytes, 'xl/worksheets/sheet0.xml');
    expect(sheet).toContain('<s:c r="A2"><s:f t="shared" ref="A2:A3" si="0">B2</s:f>');
  });

  it('keeps what a picture needs where it takes the place of the last formula', async () => {
    const [{ hash, bytes }] = samplePictures as [(typeof samplePictures)[number]];
    const media = new Map([[hash, bytes]]);
    const picture: Content = {
      shape: 'blocks',
      blocks: [{ type: 'picture', media: hash, mediaType: 'image/png', width: 20, height: 10 }],
    };
    const book = workbookSource({
      sheets: { One: '<sheetData><row r="1"><c r="A1"><f>1+1</f><v>2</v></c></row></sheetData>' },
      links: { cc: 'calcChain calcChain.xml' },
      parts: {
        '[Content_Types].xml':
          '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Override PartName="/xl/calcChain.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.calcChain+xml"/></Types>',
        'xl/calcChain.xml':
          '<calcChain xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><c r="A1" i="1"/></calcChain>',
      },
    });
    const types = part((await insert(book, 'A1', picture, { media, over: true })).bytes, '[Content_Types].xml');
    expect(types).toContain('/xl/drawings/drawing1.xml');
    expect(types).not.toContain('calcChain');
  });

  it('offers no bookmark whose ends lie in different elements, and ticks a box that says nothing', async () => {
    const text = (words: string): string => `<w:r><w:t>${words}</w:t></w:r>`;
    const crossing = `<w:p><w:bookmarkStart w:id="1" w:name="who"/>${text('a')}<w:hyperlink w:anchor="x">${text('b')}<w:bookmarkEnd w:id="1"/></w:hyperlink></w:p>`;
    const box = `<w:p><w:sdt><w:sdtPr><w:alias w:val="Box"/><w14:checkbox xmlns:w14="http://schemas.microsoft.com/office/word/2010/wordml"><w14:checked/></w14:checkbox></w:sdtPr><w:sdtContent>${text('☒')}</w:sdtContent></w:sdt></w:p>`;
    const form = documentSource({ body: crossing + box });
    expect((await fields(form)).map(({ key }) => key)).toEqual(['Box']);
    expect(part((await fill(form, { Box: false })).bytes, 'word/document.xml')).toMatch(/<w14:checked w14:val="0"\/>/);
  });

  it.each([
    '<p>a</p><a href="x',
    '<p>a</p><!-- open',
    '<p>a</p><script>let x = "</body>";',
    '<p>a</p></bod',
    '<p>a</p><script>"</body>"</script><p>b</p>',
    '<p>a</p><textarea>',
  ])('puts what lands at the end of %s where it is read', async (page) => {
    const { bytes } = await insert(strToU8(page), '', doc('Pasted'), { name: 'a.html' });
    expect(plainText((await read(bytes, '', { name: 'a.html' })).content)).toContain('Pasted');
  });
});
