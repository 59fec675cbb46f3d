import { type Cell, parseFragment } from 'drawer';
import { type Format, type ReadTools, sourceOf } from 'drawer/formats';
import { xlsx } from 'drawer/formats/xlsx';
import * as fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import { type WorkbookParts, workbookSource, zipOf } from '../support/office.ts';
import { samplePictures } from '../support/pictures.ts';
import { inWords } from '../support/said.ts';

/** A workbook with further parts, and relationships of its first sheet. */
async function source(parts: WorkbookParts, more: Record<string, string | Uint8Array> = {}) {
  const built = workbookSource(parts);
  return sourceOf(zipOf({ ...unzipSync(await built.read(0, built.size)), ...more }), 'x.xlsx');
}
async function cells(
  parts: WorkbookParts,
  place: string,
  more?: Record<string, string | Uint8Array>,
  tools?: ReadTools,
): Promise<readonly (readonly Cell[])[]> {
  const { content } = await xlsx.read(await source(parts, more), parseFragment(place), tools);
  if (content.shape !== 'cells') throw new Error(content.shape);
  return content.rows;
}
const data = (rows: string): string => `<sheetData>${rows}</sheetData>`;
const types = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const rels = (...each: string[]): string =>
  `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${each.join('')}</Relationships>`;
const rel = (id: string, type: string, target: string, mode = ''): string =>
  `<Relationship Id="${id}" Type="${types}/${type}" Target="${target}"${mode && ` TargetMode="${mode}"`}/>`;

it('one long string told in many cells is refused, and a part of them is not', async () => {
  const row = (number: number): string => `<row r="${number}"><c r="A${number}" t="s"><v>0</v></c></row>`;
  const parts = {
    sheets: { S: data(Array.from({ length: 300 }, (_, index) => row(index + 1)).join('')) },
    strings: `<si><t>${'oak '.repeat(256 * 1024)}</t></si>`,
  };
  await expect(cells(parts, 'S')).rejects.toMatchObject({ code: 'too-large' });
  expect(await cells(parts, 'S!A1:A2')).toHaveLength(2);
});

describe('formulas', () => {
  const shared = data(
    '<row r="1"><c r="A1"><v>1</v></c><c r="B1"><f t="shared" ref="B1:B4" si="0">A1*$C$1+SUM(A:A)+Other!A1&amp;"A1"</f><v>1</v></c></row>' +
      '<row r="2"><c r="B2"><f t="shared" si="0"/><v>2</v></c></row><row r="3"><c r="B3"><f t="shared" si="0"/><v>3</v></c></row>',
  );

  it('that cells share read as they would be written in each', async () => {
    const rows = await cells({ sheets: { S: shared } }, 'S!B1:B3');
    expect(rows.map(([cell]) => cell?.formula)).toEqual([
      'A1*$C$1+SUM(A:A)+Other!A1&"A1"',
      'A2*$C$1+SUM(A:A)+Other!A2&"A1"',
      'A3*$C$1+SUM(A:A)+Other!A3&"A1"',
    ]);
  });

  it('are found above the range too, where that is where they stand', async () => {
    expect((await cells({ sheets: { S: shared } }, 'S!B3'))[0]?.[0]?.formula).toBe('A3*$C$1+SUM(A:A)+Other!A3&"A1"');
  });

  it('of a written address are links', async () => {
    const rows = await cells(
      { sheets: { S: data('<row><c t="str"><f>HYPERLINK("https://a.example/","here")</f><v>here</v></c></row>') } },
      'S!A1',
    );
    expect(rows[0]?.[0]).toMatchObject({ value: 'here', marks: { link: { href: 'https://a.example/' } } });
  });
});

describe('looks', () => {
  const theme =
    '<a:theme xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"><a:themeElements><a:clrScheme><a:dk1><a:sysClr val="windowText" lastClr="000000"/></a:dk1><a:lt1><a:sysClr val="window" lastClr="FFFFFF"/></a:lt1><a:accent1><a:srgbClr val="4472C4"/></a:accent1></a:clrScheme></a:themeElements></a:theme>';
  it('follow the theme, its tints and the old palette', async () => {
    const built = workbookSource({
      sheets: { S: data('<row><c s="1"><v>1</v></c><c s="2"><v>2</v></c></row>') },
      styles:
        '<fonts><font/><font><color theme="4"/></font><font><color indexed="10"/></font></fonts><fills><fill/><fill><patternFill patternType="solid"><fgColor theme="4" tint="0.5"/></patternFill></fill></fills><cellXfs><xf/><xf fontId="1" fillId="1"/><xf fontId="2"/></cellXfs>',
    });
    const parts = unzipSync(await built.read(0, built.size));
    const links = new TextDecoder()
      .decode(parts['xl/_rels/workbook.xml.rels'])
      .replace('</Relationships>', `${rel('t', 'theme', 'theme1.xml')}</Relationships>`);
    const bytes = zipOf({ ...parts, 'xl/_rels/workbook.xml.rels': links, 'xl/theme1.xml': theme });
    const { content } = await xlsx.read(sourceOf(bytes, 'x.xlsx'), parseFragment('S!A1:B1'));
    expect(content).toMatchObject({
      rows: [[{ marks: { colour: '#4472c4' }, background: '#a2b9e2' }, { marks: { colour: '#ff0000' } }]],
    });
  });
});

describe('what stands behind the cells', () => {
  it('links cells to addresses', async () => {
    const rows = await cells(
      {
        sheets: {
          S: `${data('<row r="1"><c r="A1"><v>1</v></c></row>')}<hyperlinks><hyperlink ref="A1" r:id="h"/></hyperlinks>`,
        },
      },
      'S!A1',
      {
        'xl/worksheets/_rels/sheet0.xml.rels': rels(
          rel('h', 'hyperlink', 'https://a.example/?x=1&amp;y=2', 'External'),
        ),
      },
    );
    expect(rows[0]?.[0]).toMatchObject({ marks: { link: { href: 'https://a.example/?x=1&y=2' } } });
  });

  it('names tables, as places and in the outline', async () => {
    const parts = {
      sheets: { 'My sheet': data('<row r="2"><c r="B2"><v>1</v></c></row><row r="3"><c r="B3"><v>2</v></c></row>') },
    };
    const more = {
      'xl/worksheets/_rels/sheet0.xml.rels': rels(rel('t', 'table', '../tables/table1.xml')),
      'xl/tables/table1.xml':
        '<table xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" displayName="Wood" ref="B2:B3"/>',
    };
    expect(await cells(parts, 'Wood', more)).toMatchObject([[{ value: 1 }], [{ value: 2 }]]);
    const outline = await xlsx.outline(await source(parts, more));
    expect(outline.entries.map(({ kind, place, size }) => [kind, place, inWords(size)])).toContainEqual([
      'table',
      'Wood',
      '2 × 1',
    ]);
  });

  it('lays pictures over them, which are places of their own', async () => {
    const [sample] = samplePictures as [(typeof samplePictures)[0]];
    const drawing =
      '<xdr:wsDr xmlns:xdr="http://schemas.openxmlformats.org/drawingml/2006/spreadsheetDrawing" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><xdr:twoCellAnchor><xdr:pic><xdr:nvPicPr><xdr:cNvPr id="1" name="Picture 1" descr="A plan"/></xdr:nvPicPr><xdr:blipFill><a:blip r:embed="p"/></xdr:blipFill><xdr:spPr><a:xfrm><a:ext cx="914400" cy="457200"/></a:xfrm></xdr:spPr></xdr:pic></xdr:twoCellAnchor></xdr:wsDr>';
    const book = await source(
      { sheets: { S: data('<row r="1"><c r="A1"><v>1</v></c></row>') } },
      {
        'xl/worksheets/_rels/sheet0.xml.rels': rels(rel('d', 'drawing', '../drawings/drawing1.xml')),
        'xl/drawings/drawing1.xml': drawing,
        'xl/drawings/_rels/drawing1.xml.rels': rels(rel('p', 'image', '../media/1.png')),
        'xl/media/1.png': sample.bytes,
      },
    );
    const taken = await xlsx.read(book, parseFragment('picture=1'));
    expect(taken.content).toMatchObject({
      shape: 'picture',
      picture: { media: sample.hash, width: 72, height: 36, alt: 'A plan' },
    });
    expect((await xlsx.read(book, parseFragment('S'))).notes).toMatchObject([{ kind: 'drawing-over-cells-left' }]);
    await expect(xlsx.read(book, parseFragment('picture=2'))).rejects.toMatchObject({ code: 'not-found' });
  });

  it('lose a picture with its anchor, but not the group that it is in', async () => {
    const [sample] = samplePictures as [(typeof samplePictures)[0]];
    const picture = (name: string): string =>
      `<xdr:pic><xdr:nvPicPr><xdr:cNvPr id="1" name="${name}"/></xdr:nvPicPr><xdr:blipFill><a:blip r:embed="p"/></xdr:blipFill></xdr:pic>`;
    const anchored = (inside: string): string => `<xdr:oneCellAnchor>${inside}<xdr:clientData/></xdr:oneCellAnchor>`;
    const group = (inside: string): string => anchored(`<xdr:grpSp><xdr:sp/>${inside}</xdr:grpSp>`);
    const drawing = (inside: string): string =>
      `<xdr:wsDr xmlns:xdr="http://schemas.openxmlformats.org/drawingml/2006/spreadsheetDrawing" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships">${inside}</xdr:wsDr>`;
    const [one, two, three] = ['one', 'two', 'three'].map(picture) as [string, string, string];
    const book = await source(
      { sheets: { S: data('<row r="1"><c r="A1"><v>1</v></c></row>') } },
      {
        'xl/worksheets/_rels/sheet0.xml.rels': rels(rel('d', 'drawing', '../drawings/drawing1.xml')),
        'xl/drawings/drawing1.xml': drawing(anchored(one) + group(two) + anchored(three)),
        'xl/drawings/_rels/drawing1.xml.rels': rels(rel('p', 'image', '../media/1.png')),
        'xl/media/1.png': sample.bytes,
      },
    );
    const left = async (...places: string[]): Promise<string> => {
      const removed = await (xlsx as Required<Format>).remove(book, places.map(parseFragment));
      return strFromU8(unzipSync(removed.bytes)['xl/drawings/drawing1.xml'] as Uint8Array);
    };
    expect(await left('picture=1')).toBe(drawing(group(two) + anchored(three)));
    expect(await left('picture=3', 'picture=2')).toBe(drawing(anchored(one) + group('')));
    await expect(left('picture=4')).rejects.toMatchObject({ code: 'not-found' });
  });
});

describe('however a sheet is written', () => {
  const plain = data(
    '<row r="1"><c r="A1" t="s"><v>0</v></c><c r="B1"><v>2.5</v></c></row><row r="3"><c r="C3" t="inlineStr"><is><t>a &amp; b</t></is></c></row>',
  );
  const expected = [
    [{ type: 'text', value: 'oak' }, { type: 'number', value: 2.5, text: '2.5' }, { type: 'empty' }],
    [{ type: 'empty' }, { type: 'empty' }, { type: 'empty' }],
    [{ type: 'empty' }, { type: 'empty' }, { type: 'text', value: 'a & b' }],
  ];
  const strings = '<si><t>oak</t></si>';

  it.each([
    ['as most programs do', plain],
    [
      'with single quotes and spaces in its tags',
      plain.replaceAll('"', "'").replaceAll('<row ', '<row  ').replaceAll('/c>', '/c >').replaceAll('</c >', '</c>'),
    ],
    [
      'with line ends and comments between its cells',
      plain.replaceAll('<c ', '\n  <c ').replaceAll('</row>', '\n</row><!-- so -->'),
    ],
    [
      'with character data for values',
      plain.replace('<v>2.5</v>', '<v><![CDATA[2.5]]></v>').replace('a &amp; b', '<![CDATA[a & b]]>'),
    ],
    ['with rows that say more of themselves', plain.replaceAll('<row ', '<row spans="1:3" ht="15" customHeight="1" ')],
    ['with empty rows and cells among them', plain.replace('<row r="3">', '<row r="2"/><row r="3"><c r="A3" s="0"/>')],
  ])('%s, the cells are the same', async (_, sheet) => {
    expect(await cells({ sheets: { S: sheet }, strings }, 'S')).toEqual(expected);
  });

  it('a range is that range of the whole, wherever it lies', () =>
    fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(fc.integer({ min: 0, max: 99 }), { minLength: 3, maxLength: 3 }), {
          minLength: 1,
          maxLength: 30,
        }),
        fc.nat(),
        fc.nat(),
        async (values, a, b) => {
          const rows = values.map(
            (row, at) =>
              `<row r="${at + 1}">${row.map((value, column) => `<c r="${'ABC'[column]}${at + 1}"><v>${value}</v></c>`).join('')}</row>`,
          );
          const [from, to] = [a % values.length, b % values.length].sort((one, other) => one - other) as [
            number,
            number,
          ];
          const taken = await cells({ sheets: { S: data(rows.join('')) } }, `S!B${from + 1}:C${to + 1}`);
          expect(taken.map((row) => row.map((cell) => cell.type === 'number' && cell.value))).toEqual(
            values.slice(from, to + 1).map((row) => row.slice(1)),
          );
        },
      ),
      { numRuns: 60 },
    ));

  it('hidden rows and columns are taken when asked', async () => {
    const sheet = `<cols><col min="2" max="2" width="9" hidden="1"/></cols>${data('<row r="1"><c r="A1"><v>1</v></c><c r="B1"><v>2</v></c></row><row r="2" hidden="1"><c r="A2"><v>3</v></c></row>')}`;
    expect(await cells({ sheets: { S: sheet } }, 'S')).toMatchObject([[{ value: 1 }]]);
    expect(await cells({ sheets: { S: sheet } }, 'S', {}, { hidden: true })).toMatchObject([
      [{ value: 1 }, { value: 2 }],
      [{ value: 3 }, {}],
    ]);
  });
});
