import { bullets, type Content, doc, heading, numbers, paragraph, parseFragment, plainText, run, text } from 'drawer';
import { formatNamed, formatOf, type ReadTools, sourceOf } from 'drawer/formats';
import { bold, footnote, item, quote } from '../../src/content/index.ts';
import { type OpenDocumentParts, openDocument } from '../support/office.ts';
import { samplePictures } from '../support/pictures.ts';
import { noteInWords } from '../support/said.ts';

async function take(kind: 'text' | 'spreadsheet', parts: OpenDocumentParts, place = '', tools?: ReadTools) {
  const source = openDocument(kind, parts);
  const format = await (await formatOf(source)).load();
  const taken = await format.read?.(source, parseFragment(place), tools);
  if (!taken) throw new Error('cannot be taken from');
  return taken;
}
const textOf = async (body: string, more: Partial<OpenDocumentParts> = {}, place = ''): Promise<Content> =>
  (await take('text', { body, ...more }, place)).content;

describe('a text', () => {
  it('inherits what its styles are based on, and tells only what differs from plain text', async () => {
    const styles =
      '<style:default-style style:family="paragraph"><style:text-properties fo:font-size="12pt" fo:language="en" fo:country="GB"/></style:default-style>' +
      '<style:style style:name="Standard" style:family="paragraph"/>' +
      '<style:style style:name="Letter" style:display-name="Letter" style:family="paragraph" style:parent-style-name="Standard"><style:paragraph-properties fo:text-align="end" fo:margin-left="1cm"/><style:text-properties fo:font-weight="bold"/></style:style>';
    const automatic =
      '<style:style style:name="P1" style:family="paragraph" style:parent-style-name="Letter"><style:text-properties fo:color="#AA0000"/></style:style>' +
      '<style:style style:name="T1" style:family="text"><style:text-properties fo:font-weight="normal" style:text-position="super 58%"/></style:style>';
    expect(
      await textOf('<text:p text:style-name="P1">oak <text:span text:style-name="T1">2</text:span></text:p>', {
        styles,
        automatic,
      }),
    ).toEqual(
      doc({
        ...paragraph(
          text('oak ', { bold: true, colour: '#aa0000' }),
          text('2', { position: 'superscript', colour: '#aa0000' }),
        ),
        align: 'end',
        indent: 28.35,
        style: 'Letter',
      }),
    );
  });

  it('folds white space as its format says, and keeps what is told as spaces, tabs and breaks', async () => {
    expect(
      await textOf('<text:p>  one \n two<text:s text:c="2"/>three<text:tab/>four<text:line-break/>five </text:p>'),
    ).toEqual(doc(paragraph('one two  three\tfour\nfive')));
  });

  it('has headings by level, and none of its own for the title', async () => {
    const styles = '<style:style style:name="Title" style:family="paragraph"/>';
    const body =
      '<text:p text:style-name="Title">Ferry</text:p><text:h text:outline-level="2">Hull</text:h><text:p>sound</text:p><text:list><text:list-item><text:h text:outline-level="2">Deck</text:h></text:list-item></text:list>';
    expect(await textOf(body, { styles })).toEqual(
      doc({ ...heading(1, 'Ferry'), style: 'Title' }, heading(2, 'Hull'), 'sound', heading(2, 'Deck')),
    );
    expect(await textOf(body, { styles }, 'section=Hull')).toEqual(doc(heading(2, 'Hull'), 'sound'));
    expect(await textOf(body, { styles }, 'section=ferry')).toMatchObject({ blocks: { length: 4 } });
  });

  it('has lists with their marks and numbers, those that go on counting too', async () => {
    const automatic =
      '<text:list-style style:name="L1"><text:list-level-style-number text:level="1" style:num-format="a" text:start-value="3"/><text:list-level-style-bullet text:level="2" text:bullet-char="▪"/></text:list-style>';
    const one = (words: string): string => `<text:list-item><text:p>${words}</text:p></text:list-item>`;
    const body =
      `<text:list text:style-name="L1">${one('c')}<text:list-item><text:p>d</text:p><text:list>${one('inner')}</text:list></text:list-item></text:list>` +
      `<text:p>between</text:p><text:list text:style-name="L1" text:continue-numbering="true">${one('e')}</text:list>`;
    expect(await textOf(body, { automatic })).toEqual(
      doc(
        { ...numbers('c', item('d', { ...bullets('inner'), marker: 'square' })), start: 3, marker: 'lower-alpha' },
        'between',
        { ...numbers('e'), start: 5, marker: 'lower-alpha' },
      ),
    );
  });

  it('has tables with spans, repeated cells and headings', async () => {
    const body =
      '<table:table><table:table-column table:number-columns-repeated="3"/><table:table-header-rows><table:table-row><table:table-cell table:number-columns-spanned="2"><text:p>a</text:p></table:table-cell><table:covered-table-cell/><table:table-cell><text:p>b</text:p></table:table-cell></table:table-row></table:table-header-rows>' +
      '<table:table-row><table:table-cell table:number-columns-repeated="3"><text:p>x</text:p></table:table-cell></table:table-row></table:table>';
    expect(await textOf(body)).toMatchObject({
      blocks: [{ type: 'table', headerRows: 1, rows: [{ cells: [{ columnSpan: 2 }, {}] }, { cells: { length: 3 } }] }],
    });
  });

  it('has pictures with title, description and size; the first of a kind that is kept', async () => {
    const [sample] = samplePictures as [(typeof samplePictures)[0]];
    const body =
      '<text:p><draw:frame svg:width="2in" svg:height="1in"><draw:image xlink:href="Pictures/1.wmf"/><draw:image xlink:href="./Pictures/2.png"/><svg:title>Plan</svg:title><svg:desc>Plan of the  hull</svg:desc></draw:frame></text:p>';
    const taken = await take('text', { body, parts: { 'Pictures/2.png': sample.bytes } });
    expect(taken.content).toMatchObject({
      blocks: [{ type: 'picture', media: sample.hash, width: 144, height: 72, alt: 'Plan of the hull' }],
    });
    expect([...taken.media.keys()]).toEqual([sample.hash]);
  });

  it('has notes, text boxes once, bookmarks and changes as accepted', async () => {
    const body =
      '<text:tracked-changes><text:changed-region><text:deletion><text:p>gone</text:p></text:deletion></text:changed-region></text:tracked-changes>' +
      '<text:p>one<text:note text:note-class="footnote"><text:note-citation>1</text:note-citation><text:note-body><text:p>noted</text:p></text:note-body></text:note> <text:bookmark-start text:name="here"/>two<text:change text:change-id="c"/> <text:bookmark-end text:name="here"/>three<draw:frame><draw:text-box><text:p>boxed</text:p></draw:text-box></draw:frame><office:annotation><text:p>hm</text:p></office:annotation></text:p>';
    const taken = await take('text', { body });
    expect(taken.content).toEqual(doc(paragraph('one', footnote('noted'), ' two three'), 'boxed'));
    expect(taken.notes.map(noteInWords)).toEqual(['deleted text of a tracked change, left out', 'comment, left out']);
    expect(await textOf(body, {}, 'bookmark=here')).toEqual(run('two '));
  });

  it('has quotes and code by the names that programs share', async () => {
    const styles =
      '<style:style style:name="Quotations" style:family="paragraph"/><style:style style:name="Preformatted_20_Text" style:family="paragraph"/>';
    const body =
      '<text:p text:style-name="Quotations">said</text:p><text:p text:style-name="Preformatted_20_Text">a<text:s/> b</text:p><text:p text:style-name="Preformatted_20_Text">c</text:p>';
    expect(await textOf(body, { styles })).toEqual(doc(quote('said'), { type: 'code', text: 'a  b\nc' }));
  });
});

describe('a spreadsheet', () => {
  const cell = (attributes: string, words = ''): string =>
    `<table:table-cell ${attributes}>${words === '' ? '' : `<text:p>${words}</text:p>`}</table:table-cell>`;
  const sheet = (name: string, inside: string, attributes = ''): string =>
    `<table:table table:name="${name}" ${attributes}>${inside}</table:table>`;
  const row = (inside: string, attributes = ''): string => `<table:table-row ${attributes}>${inside}</table:table-row>`;
  const float = (value: number, shown = String(value), more = ''): string =>
    cell(`office:value-type="float" office:value="${value}" ${more}`, shown);
  const cells = async (body: string, place = '', more: Partial<OpenDocumentParts> = {}, tools?: ReadTools) => {
    const taken = await take('spreadsheet', { body, ...more }, place, tools);
    if (taken.content.shape !== 'cells') throw new Error(taken.content.shape);
    return { rows: taken.content.rows, gaps: taken.content.gaps, notes: taken.notes };
  };

  it('has typed values, shown as its program showed them', async () => {
    const automatic =
      '<number:currency-style style:name="N1"><number:currency-symbol>£</number:currency-symbol><number:number number:decimal-places="2" number:min-integer-digits="1" number:grouping="true"/></number:currency-style>' +
      '<number:date-style style:name="N2"><number:day number:style="long"/><number:text>/</number:text><number:month number:style="long"/><number:text>/</number:text><number:year number:style="long"/></number:date-style>' +
      '<style:style style:name="c1" style:family="table-cell" style:data-style-name="N1"/><style:style style:name="c2" style:family="table-cell" style:data-style-name="N2"/>';
    const body = sheet(
      'S',
      row(
        cell('table:style-name="c1" office:value-type="currency" office:value="1250"', '£1,250.00') +
          cell('table:style-name="c2" office:value-type="date" office:date-value="2026-05-03"', '03/05/2026') +
          cell('office:value-type="time" office:time-value="PT08H30M00S"', '08:30') +
          cell('office:value-type="percentage" office:value="0.4"', '40%') +
          cell('office:value-type="boolean" office:boolean-value="true"', 'TRUE') +
          cell('office:value-type="string"', 'oak') +
          cell('table:formula="of:=SUM([.A1:.B1];[$Other.C$2])" office:value-type="float" office:value="3"', '3'),
      ),
    );
    expect((await cells(body, '', { automatic })).rows[0]).toEqual([
      { type: 'number', value: 1250, text: '£1,250.00', format: '[$£]#,##0.00' },
      { type: 'date', value: '2026-05-03', text: '03/05/2026', format: 'dd/mm/yyyy' },
      { type: 'date', value: '08:30:00', text: '08:30' },
      { type: 'number', value: 0.4, text: '40%' },
      { type: 'boolean', value: true, text: 'TRUE' },
      { type: 'text', value: 'oak' },
      { type: 'number', value: 3, text: '3', formula: 'SUM(A1:B1,Other!C$2)' },
    ]);
  });

  it('costs nothing for a million empty rows, and stands where they leave it', async () => {
    const body = sheet(
      'S',
      row(float(1)) +
        row(cell('table:number-columns-repeated="16384"'), 'table:number-rows-repeated="1048000"') +
        row(cell('table:number-columns-repeated="2"') + float(2)),
    );
    const start = process.memoryUsage().heapUsed;
    expect((await cells(body, 'S!A1:A2')).rows).toMatchObject([[{ value: 1 }], [{ type: 'empty' }]]);
    expect((await cells(body, 'S!C1048002')).rows).toMatchObject([[{ value: 2 }]]);
    expect(process.memoryUsage().heapUsed - start).toBeLessThan(100e6);
    expect((await cells(body)).gaps).toEqual({ rows: [{ before: 1, count: 1_048_000 }] });
  });

  it('repeats what repeats, with merged areas as spans', async () => {
    const body = sheet(
      'S',
      row(float(1, '1', 'table:number-columns-repeated="2"'), 'table:number-rows-repeated="2"') +
        row(
          `${cell('table:number-columns-spanned="2" office:value-type="string"', 'both')}<table:covered-table-cell/>`,
        ),
    );
    expect((await cells(body)).rows).toMatchObject([
      [{ value: 1 }, { value: 1 }],
      [{ value: 1 }, { value: 1 }],
      [{ value: 'both', columnSpan: 2 }, { type: 'empty' }],
    ]);
  });

  it('leaves hidden rows, columns and sheets out, says so, and takes them when asked', async () => {
    const automatic =
      '<style:style style:name="ta2" style:family="table"><style:table-properties table:display="false"/></style:style>';
    const body =
      sheet(
        'S',
        '<table:table-column/><table:table-column table:visibility="collapse"/>' +
          row(float(1) + float(2)) +
          row(float(3) + float(4), 'table:visibility="filter"'),
      ) + sheet('H', row(float(9)), 'table:style-name="ta2"');
    const shown = await cells(body, '', { automatic });
    expect([
      shown.rows.flat().map((each) => 'value' in each && each.value),
      shown.notes.map((note) => noteInWords(note).split(',')[0]),
    ]).toEqual([[1], ['hidden sheet', 'hidden row', 'hidden column']]);
    const all = await take('spreadsheet', { body, automatic }, '', { hidden: true });
    expect(plainText(all.content)).toBe('S\n\n1\t2\n3\t4\n\nH\n\n9');
  });

  it('has names as places, and awkward sheet names quoted in its outline', async () => {
    const body = `${sheet("It's mine", row(float(1) + float(2)))}<table:named-expressions><table:named-range table:name="Both" table:cell-range-address="$'It''s mine'.$A$1:.$B$1"/></table:named-expressions>`;
    expect((await cells(body, 'Both')).rows).toMatchObject([[{ value: 1 }, { value: 2 }]]);
    const source = openDocument('spreadsheet', { body });
    const outline = await (await formatNamed('ods').load()).outline?.(source);
    expect(outline?.entries.map(({ place }) => place)).toEqual(["'It''s mine'!A1:B1", 'Both']);
  });

  it('tells its cells apart where one stands for several, when some are cut', async () => {
    const body = sheet('S', row(float(7, '7', 'table:number-columns-repeated="4"'), 'table:number-rows-repeated="3"'));
    const source = openDocument('spreadsheet', { body });
    const format = await formatNamed('ods').load();
    const removed = await format.remove?.(source, [parseFragment('S!B2:C2')]);
    const left = await format.read?.(sourceOf(removed?.bytes ?? new Uint8Array(), 'x.ods'), parseFragment(''));
    expect(plainText(left?.content as Content)).toBe('7\t7\t7\t7\n7\t\t\t7\n7\t7\t7\t7');
  });

  it('is refused with one clear error when it repeats its way to too many cells', async () => {
    const body = sheet(
      'S',
      row(float(1, '1', 'table:number-columns-repeated="16384"'), 'table:number-rows-repeated="1048576"'),
    );
    await expect(cells(body)).rejects.toMatchObject({ code: 'too-large' });
  });
});

it.each([
  [
    'protected by a password',
    {
      'META-INF/manifest.xml':
        '<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"><manifest:encryption-data/></manifest:manifest>',
    },
    'unreadable',
  ],
  ['of a kind that is not read', { mimetype: 'application/vnd.oasis.opendocument.presentation' }, 'unsupported'],
  ['that declares entities', { 'content.xml': '<!DOCTYPE x [<!ENTITY a "b">]><x/>' }, 'unreadable'],
])('a file %s is one clear error', async (_, parts, code) => {
  await expect(take('text', { body: '<text:p>x</text:p>', parts })).rejects.toMatchObject({ code });
});

it('bold words inside a link stay both', async () => {
  const automatic =
    '<style:style style:name="T1" style:family="text"><style:text-properties fo:font-weight="bold"/></style:style>';
  expect(
    await textOf(
      '<text:p><text:a xlink:href="https://a.example/"><text:span text:style-name="T1">x</text:span></text:a></text:p>',
      { automatic },
    ),
  ).toEqual(doc(paragraph({ ...bold('x'), marks: { bold: true, link: { href: 'https://a.example/' } } })));
});
