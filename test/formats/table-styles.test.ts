import { type Content, parseFragment, type Table } from 'drawer';
import { docx } from 'drawer/formats/docx';
import type { TableCell } from '../../src/content/index.ts';
import { documentSource } from '../support/office.ts';

const head = '<w:color w:val="FFFFFF"/><w:b/>';
const shade = (fill: string): string => `<w:tcPr><w:shd w:val="clear" w:color="auto" w:fill="${fill}"/></w:tcPr>`;
const part = (type: string, run: string, fill?: string): string =>
  `<w:tblStylePr w:type="${type}"><w:rPr>${run}</w:rPr>${fill ? shade(fill) : ''}</w:tblStylePr>`;
const styles = `
  <w:docDefaults><w:rPrDefault><w:rPr><w:sz w:val="22"/></w:rPr></w:rPrDefault></w:docDefaults>
  <w:style w:type="paragraph" w:default="1" w:styleId="Normal"><w:name w:val="Normal"/></w:style>
  <w:style w:type="paragraph" w:styleId="Loud"><w:name w:val="Loud"/><w:rPr><w:b/><w:color w:val="AA0000"/></w:rPr></w:style>
  <w:style w:type="table" w:styleId="TableGrid"><w:name w:val="Table Grid"/>${part('firstRow', head, 'E6ECEF')}</w:style>
  <w:style w:type="table" w:styleId="Quay"><w:name w:val="Quay"/>
    <w:pPr><w:shd w:fill="123456"/></w:pPr><w:rPr><w:sz w:val="18"/></w:rPr>
    <w:tblPr><w:tblStyleRowBandSize w:val="1"/></w:tblPr>
    ${part('firstRow', head, '1F4E5F')}${part('lastRow', '<w:b/>')}${part('firstCol', '<w:b/>')}
    ${part('band1Horz', '', 'DDEEFF')}${part('swCell', '<w:i/>', 'C0FFEE')}
  </w:style>
  <w:style w:type="table" w:styleId="Pier"><w:name w:val="Pier"/><w:basedOn w:val="Quay"/>${part('band1Horz', '', 'EEEEEE')}</w:style>`;

const tc = (words: string, properties = '', paragraph = ''): string =>
  `<w:tc>${properties}<w:p>${paragraph}<w:r><w:t>${words}</w:t></w:r></w:p></w:tc>`;
const tr = (...cells: string[]): string => `<w:tr>${cells.join('')}</w:tr>`;
const tbl = (style: string, look: string, ...rows: string[]): string =>
  `<w:tbl><w:tblPr><w:tblStyle w:val="${style}"/><w:tblLook ${look}/></w:tblPr>
   <w:tblGrid><w:gridCol w:w="2000"/><w:gridCol w:w="2000"/></w:tblGrid>${rows.join('')}</w:tbl>`;
const rows = [
  tr(tc('Part'), tc('Price')),
  tr(tc('Mast'), tc('12')),
  tr(tc('Hull'), tc('14')),
  tr(`<w:trPr><w:cnfStyle w:val="010000000000"/></w:trPr>${tc('All')}`, tc('26')),
];

async function tableIn(body: string): Promise<Table> {
  const { content } = (await docx.read(documentSource({ styles, body }), parseFragment(''))) as { content: Content };
  const [table] = content.shape === 'blocks' ? content.blocks : [];
  if (table?.type !== 'table') throw new Error('There is no table.');
  return table;
}

const marksOf = ({ blocks: [block] }: TableCell) =>
  block?.type === 'paragraph' && block.inlines[0]?.type === 'text' ? (block.inlines[0].marks ?? {}) : undefined;
const grid = <Value>(table: Table, value: (cell: TableCell) => Value): Value[][] =>
  table.rows.map(({ cells }) => cells.map(value));

describe('the style of a table', () => {
  it('gives its head, last row, first column, bands and corners their look', async () => {
    const table = await tableIn(tbl('Quay', 'w:val="04E0"', ...rows));
    expect(table.headerRows).toBe(1);
    expect(grid(table, ({ background }) => background)).toEqual([
      ['#1f4e5f', '#1f4e5f'],
      ['#ddeeff', '#ddeeff'],
      [undefined, undefined],
      ['#c0ffee', undefined],
    ]);
    const small = { size: 9 };
    expect(grid(table, marksOf)).toEqual([
      [
        { ...small, colour: '#ffffff' },
        { ...small, colour: '#ffffff' },
      ],
      [{ ...small, bold: true }, small],
      [{ ...small, bold: true }, small],
      [
        { ...small, bold: true, italic: true },
        { ...small, bold: true },
      ],
    ]);
  });

  it('shows only the parts that the table asks for, in attributes as in bits', async () => {
    const look = 'w:val="04E0" w:firstRow="0" w:lastRow="0" w:firstColumn="0" w:noHBand="1"';
    const table = await tableIn(tbl('Quay', look, ...rows));
    expect(table.headerRows).toBeUndefined();
    expect(
      new Set(
        grid(table, marksOf)
          .flat()
          .map((marks) => JSON.stringify(marks)),
      ),
    ).toEqual(new Set(['{"size":9}']));
    expect(grid(table, ({ background }) => background).flat()).toEqual(Array(8).fill(undefined));
  });

  it('stands on the style that it is based on', async () => {
    const table = await tableIn(tbl('Pier', 'w:val="0420"', ...rows));
    expect(grid(table, ({ background }) => background).map(([first]) => first)).toEqual([
      '#1f4e5f',
      '#eeeeee',
      undefined,
      '#eeeeee',
    ]);
  });

  it('gives way to what cells, paragraphs and runs say, and emphasis of both flips (17.7.3)', async () => {
    const table = await tableIn(
      tbl(
        'Quay',
        'w:val="0480"',
        [
          tr(
            tc('bold twice', shade('auto'), '<w:pPr><w:pStyle w:val="Loud"/></w:pPr>'),
            tc('own', shade('ABCDEF'), '<w:pPr><w:pStyle w:val="Loud"/></w:pPr>'),
          ),
        ].join(''),
      ),
    );
    expect(grid(table, ({ background }) => background)).toEqual([[undefined, '#abcdef']]);
    expect(grid(table, marksOf)).toEqual([
      [
        { size: 9, colour: '#aa0000' },
        { size: 9, bold: true, colour: '#aa0000' },
      ],
    ]);
  });

  it('is not that of a text box in a cell, nor of a table in it', async () => {
    const inner = tbl('TableGrid', 'w:val="0420"', tr(tc('inside'), tc('too')));
    const box = `<w:p><w:r><w:pict><v:shape><v:textbox><w:txbxContent><w:p><w:r><w:t>boxed</w:t></w:r></w:p></w:txbxContent></v:textbox></v:shape></w:pict></w:r></w:p>`;
    const table = await tableIn(tbl('Quay', 'w:val="0000"', tr(`<w:tc>${inner}<w:p/></w:tc>`, `<w:tc>${box}</w:tc>`)));
    const [nested, boxed] = table.rows[0]?.cells ?? [];
    const [inside] = nested?.blocks ?? [];
    expect(inside?.type === 'table' && grid(inside, marksOf)).toEqual([[{}, {}]]);
    expect(boxed?.blocks.map((block) => marksOf({ blocks: [block] }))).toEqual([undefined, {}]);
  });

  it('says nothing where it is that of every plain table', async () => {
    const table = await tableIn(tbl('TableGrid', 'w:val="0420"', ...rows));
    expect(table.headerRows).toBeUndefined();
    expect(grid(table, marksOf).flat()).toEqual(Array(8).fill({}));
    expect(grid(table, ({ background }) => background).flat()).toEqual(Array(8).fill(undefined));
  });
});
