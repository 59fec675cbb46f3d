import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Content, doc, paragraph, parseFragment, run, table, text } from 'drawer';
import { type Format, formatNamed, type Inserted, type Insertion, sourceOf } from 'drawer/formats';
import * as fc from 'fast-check';
import { strFromU8, unzipSync, zipSync } from 'fflate';
import { demoFiles } from '../support/cli.ts';
import { openDocument, workbookSource } from '../support/office.ts';
import { samplePictures } from '../support/pictures.ts';

const kinds = ['xlsx', 'ods'] as const;
type Kind = (typeof kinds)[number];
const media = new Map(samplePictures.map(({ hash, bytes }) => [hash, bytes]));
const pictureOf = (index: number, width = 40, height = 30) => ({
  media: samplePictures[index]?.hash ?? '',
  mediaType: 'image/png' as const,
  width,
  height,
  alt: `Frame ${index + 1} & "plank"`,
});
const picture = (index: number, width?: number, height?: number): Content => ({
  shape: 'picture',
  picture: pictureOf(index, width, height),
});

type Able = Required<Pick<Format, 'read' | 'insert' | 'create' | 'outline'>>;
const load = async (kind: Kind): Promise<Able> => (await formatNamed(kind).load()) as Required<Format>;
const insert = async (kind: Kind, bytes: Uint8Array, place: string, asked: Partial<Insertion>): Promise<Inserted> =>
  (await load(kind)).insert(sourceOf(bytes, `x.${kind}`), parseFragment(place), {
    content: doc(),
    media,
    style: 'local',
    ...asked,
  });
const demo = (kind: Kind): Uint8Array =>
  new Uint8Array(readFileSync(join(demoFiles, kind === 'xlsx' ? 'budget.xlsx' : 'crew.ods')));
const picturesIn = async (kind: Kind, bytes: Uint8Array) => {
  const format = await load(kind);
  const source = sourceOf(bytes, `x.${kind}`);
  const places = (await format.outline(source)).entries.filter((entry) => entry.kind === 'picture');
  return Promise.all(
    places.map(async ({ place }) => {
      const taken = await format.read(source, parseFragment(place));
      return taken.content.shape === 'picture' ? taken.content.picture : undefined;
    }),
  );
};
const parts = (bytes: Uint8Array): Record<string, Uint8Array> => unzipSync(bytes);
const partText = (bytes: Uint8Array, name: string): string => strFromU8(parts(bytes)[name] ?? new Uint8Array());
const book = async (sheet: string): Promise<Uint8Array> => {
  const source = workbookSource({ sheets: { S: sheet } });
  const types = '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"></Types>';
  return zipSync({
    ...unzipSync(await source.read(0, source.size)),
    '[Content_Types].xml': new TextEncoder().encode(types),
  });
};

describe.each(kinds)('pictures in .%s', (kind) => {
  it('lie each over a cell of its own, and come back as they were', () =>
    fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.record({
            index: fc.nat(2),
            width: fc.integer({ min: 5, max: 900 }),
            height: fc.integer({ min: 5, max: 900 }),
          }),
          { minLength: 1, maxLength: 5 },
        ),
        fc.constantFrom('down', 'across', 'rows'),
        async (chosen, spread) => {
          const pieces = chosen.map(({ index, width, height }) => picture(index, width, height));
          const place = kind === 'xlsx' ? 'Lines!H2' : 'Hours!H2';
          const { bytes, notes, cells } = await insert(kind, demo(kind), place, { pieces, spread });
          expect(notes).toEqual([]);
          const end = spread === 'across' ? `${'HIJKL'[pieces.length - 1]}2` : `H${pieces.length + 1}`;
          expect(cells?.split('!')[1]).toBe(pieces.length === 1 ? 'H2' : `H2:${end}`);
          const found = await picturesIn(kind, bytes);
          expect(found.map((each) => each?.media)).toEqual(
            pieces.map((each) => each.shape === 'picture' && each.picture.media),
          );
          for (const [at, each] of found.entries()) {
            const { width = 0, height = 0, index = 0 } = chosen[at] ?? {};
            const scale = Math.min(1, 480 / width, 400 / height);
            expect(each?.alt).toBe(`Frame ${index + 1} & "plank"`);
            expect(Math.abs((each?.width ?? 0) - width * scale)).toBeLessThan(1);
            expect(Math.abs((each?.height ?? 0) - height * scale)).toBeLessThan(1);
          }
        },
      ),
      { numRuns: 25 },
    ));

  it('stand below the words they stood among, and in the cell of a table that they have for themselves', async () => {
    const content = doc(
      paragraph('Seen from ', { type: 'picture', ...pictureOf(0) }, ' abaft'),
      table(
        1,
        ['Part', 'Seen'],
        ['Keel', { blocks: [{ type: 'picture', ...pictureOf(1) }] }],
        ['Stem', { blocks: [paragraph('as here ', { type: 'picture', ...pictureOf(2) })] }],
      ),
    );
    const { create, read } = await load(kind);
    const { bytes, notes } = await create(parseFragment(''), { content, media, style: 'local' });
    expect(notes).toEqual([{ kind: 'picture-without-cell', count: 1 }]);
    expect((await picturesIn(kind, bytes)).map((each) => each?.media)).toEqual(
      [0, 1].map((at) => samplePictures[at]?.hash),
    );
    const { content: kept } = await read(sourceOf(bytes, `x.${kind}`), parseFragment('Sheet1!A1:B5'));
    const words =
      kept.shape === 'cells' ? kept.rows.map((row) => row.map((cell) => ('value' in cell ? cell.value : ''))) : [];
    expect(words.map((row) => row.map((each) => String(each).replace(/\[picture: .*\]/, '[…]')))).toEqual([
      ['Seen from  abaft', ''],
      ['', ''],
      ['Part', 'Seen'],
      ['Keel', ''],
      ['Stem', 'as here […]'],
    ]);
  });

  it('leave every other part as it was, and those that were there where they were', async () => {
    const before = demo(kind);
    const first = await insert(kind, before, '', { content: picture(0) });
    const second = await insert(kind, first.bytes, '', { content: picture(1) });
    const third = await insert(kind, second.bytes, '', { content: run('under it') });
    expect((await picturesIn(kind, third.bytes)).map((each) => each?.media)).toEqual(
      [0, 1].map((at) => samplePictures[at]?.hash),
    );
    const row = (cells = ''): number => Number(/!A(\d+)$/.exec(cells)?.[1]);
    expect([row(second.cells), row(third.cells)]).toEqual([row(first.cells) + 1, row(first.cells) + 2]);
    const changed =
      kind === 'xlsx'
        ? /^(xl\/(workbook\.xml|worksheets\/|drawings\/|media\/)|\[Content_Types\])/
        : /^(content\.xml|Pictures\/|META-INF\/)/;
    const after = parts(third.bytes);
    for (const [name, bytes] of Object.entries(parts(before)))
      if (!changed.test(name)) expect([name, after[name]]).toEqual([name, bytes]);
  });

  it('are words where their bytes are not at hand', async () => {
    const { bytes } = await insert(kind, demo(kind), kind === 'xlsx' ? 'Lines!H2' : 'Hours!H2', {
      pieces: [picture(0), run('oak')],
      media: new Map(),
    });
    expect(await picturesIn(kind, bytes)).toEqual([]);
  });
});

describe('the drawing of a sheet', () => {
  it.each([
    ['behind all else', '<pageMargins left="1"/>', /<pageMargins left="1"\/><drawing [^<>]*\/><\/worksheet>$/],
    ['in front of tables', '<pageMargins left="1"/><tableParts count="0"/>', /<drawing [^<>]*\/><tableParts/],
    [
      'not in what extends a rule',
      '<conditionalFormatting sqref="A1"><cfRule type="expression" priority="1"><formula>1</formula><extLst><ext uri="x"/></extLst></cfRule></conditionalFormatting><!-- <tableParts/> --><pageMargins left="1"/><extLst/>',
      /<pageMargins left="1"\/><drawing [^<>]*\/><extLst\/>/,
    ],
    [
      'in front of a choice of controls',
      '<mc:AlternateContent xmlns:mc="http://schemas.openxmlformats.org/markup-compatibility/2006"><mc:Choice Requires="x14"><controls/></mc:Choice></mc:AlternateContent>',
      /<\/sheetData><drawing [^<>]*\/><mc:AlternateContent/,
    ],
  ])('goes %s (ISO/IEC 29500-1, 18.3.1.99)', async (_, behind, expected) => {
    const bytes = await book(`<sheetData><row r="1"><c r="A1"><v>1</v></c></row></sheetData>${behind}`);
    const after = await insert('xlsx', bytes, 'S!B2', { content: picture(0) });
    expect(partText(after.bytes, 'xl/worksheets/sheet0.xml')).toMatch(expected);
    expect(partText(after.bytes, 'xl/drawings/drawing1.xml')).toMatch(/<xdr:col>1<\/xdr:col>.*<xdr:row>1<\/xdr:row>/);
  });

  it('speaks the Strict namespaces in a Strict workbook', async () => {
    const files = parts(await book('<sheetData/>'));
    const strict = strFromU8(files['xl/worksheets/sheet0.xml'] ?? new Uint8Array()).replace(
      /http:\/\/schemas\.openxmlformats\.org\/spreadsheetml\/2006\/main/,
      'http://purl.oclc.org/ooxml/spreadsheetml/main',
    );
    files['xl/worksheets/sheet0.xml'] = new TextEncoder().encode(strict);
    const { bytes } = await insert('xlsx', zipSync(files), 'S!A1', { content: picture(0) });
    expect(partText(bytes, 'xl/drawings/drawing1.xml')).not.toContain('schemas.openxmlformats.org');
    expect((await picturesIn('xlsx', bytes)).length).toBe(1);
  });

  it('makes the row high enough, unless somebody has said how high it is', async () => {
    const rows =
      '<sheetData><row r="1"><c r="A1"/></row><row r="2" ht="10" customHeight="1"><c r="A2"/></row></sheetData>';
    const { bytes } = await insert('xlsx', await book(rows), 'S!B1', { pieces: [picture(0), picture(1)] });
    const sheet = partText(bytes, 'xl/worksheets/sheet0.xml');
    expect(sheet).toContain('<row r="1" ht="34">');
    expect(sheet).toContain('<row r="2" ht="10" customHeight="1">');
  });
});

it('keeps the comment and the picture of an .ods cell that is written over', async () => {
  const cell = `<table:table-cell office:value-type="string"><office:annotation><text:p>ask</text:p></office:annotation><text:p>oak</text:p><draw:frame draw:name="Seal"/></table:table-cell>`;
  const source = openDocument('spreadsheet', {
    body: `<table:table table:name="S"><table:table-row>${cell}</table:table-row></table:table>`,
  });
  const { bytes } = await insert('ods', await source.read(0, source.size), 'S!A1', {
    content: run(text('elm')),
    over: true,
  });
  const content = partText(bytes, 'content.xml');
  expect(content).toContain(
    '<office:annotation><text:p>ask</text:p></office:annotation><draw:frame draw:name="Seal"/><text:p>elm</text:p>',
  );
  expect(content).not.toContain('oak');
});
