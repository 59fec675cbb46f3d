import { randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Content, parseFragment, parsePlace, plainText, run } from 'drawer';
import {
  bounds,
  type Excerpt,
  type Format,
  formatNamed,
  formatOf,
  readAll,
  type Source,
  sourceOf,
} from 'drawer/formats';
import { readFromFile } from 'drawer/node';
import { strFromU8, unzipSync } from 'fflate';
import { documentBytes, openDocument, workbookSource } from '../support/office.ts';

/** A file that exceeds exactly one bound. */
interface Case {
  readonly name: string;
  /** One with so many of what is counted. */
  file(count: number): Promise<Uint8Array> | Uint8Array;
  /** Where the excess is left out, what is left; the file is refused else. */
  readonly left?: (taken: Excerpt, count: number) => void;
  /** How many more go past the bound, where the file has them only by so many. */
  readonly step?: number;
  /** Of a file too long to be made here: how long it says it is. */
  readonly size?: (count: number) => number;
}

const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);
const book = (rows: string, more: object = {}) =>
  readAll(workbookSource({ sheets: { A: `<sheetData>${rows}</sheetData>` }, ...more }));
const spreadsheet = (rows: string) =>
  readAll(openDocument('spreadsheet', { body: `<table:table table:name="A">${rows}</table:table>` }));
const sheetCells = (count: number): string => {
  const row = (cells: number): string => `<row>${'<c><v>1</v></c>'.repeat(cells)}</row>`;
  return row(1_000).repeat(Math.floor(count / 1_000)) + row(count % 1_000);
};
const content = ({ content: taken }: Excerpt): string => plainText(taken as Content);
const same = (taken: Excerpt): void => expect(content(taken)).toContain('words');

/** A PNG that says it is so wide (PNG, third edition, section 11.2.1); nothing else of it is read. */
function pngOf(width: number): Uint8Array {
  const bytes = Buffer.alloc(33);
  bytes.write('\x89PNG\r\n\x1a\n', 'latin1');
  bytes.writeUInt32BE(13, 8);
  bytes.write('IHDR', 12);
  bytes.writeUInt32BE(width, 16);
  bytes.writeUInt32BE(4, 20);
  bytes.set([8, 6], 24);
  return bytes;
}

const cases: Partial<Record<keyof typeof bounds, Case>> = {
  characters: {
    name: 'notes.md',
    step: 65_536,
    // A note and its reference count by their characters and one.
    file: (count) => utf8(`${'[^1] '.repeat(1_024)}\n\n[^1]: ${'x'.repeat(count / 1_024 - 4)}\n`),
  },
  blocks: { name: 'blocks.docx', file: (count) => documentBytes({ body: '<w:p/>'.repeat(count) }) },
  cells: { name: 'cells.xlsx', file: (count) => book(sheetCells(count)), step: 1_000 },
  places: {
    name: 'places.ods',
    step: 65_536,
    file: (count) =>
      spreadsheet(
        `<table:table-row table:number-rows-repeated="${count / 100 + 1}">${'<table:table-cell office:value-type="string"><text:p>x</text:p></table:table-cell>'.repeat(100)}</table:table-row>`,
      ),
  },
  columns: {
    name: 'columns.ods',
    // Cells are held by their columns, from 1.
    file: (count) =>
      spreadsheet(
        `<table:table-row><table:table-cell table:number-columns-repeated="${count - 1}" office:value-type="string"><text:p>x</text:p></table:table-cell></table:table-row>`,
      ),
  },
  words: {
    name: 'words.xlsx',
    step: 16_384,
    file: (count) =>
      book('<row><c t="s"><v>0</v></c></row>'.repeat(count / 16_384), {
        strings: `<si><t>${'x'.repeat(16_384)}</t></si>`,
      }),
  },
  parts: {
    name: 'parts.docx',
    file: (count) =>
      documentBytes({
        body: '<w:p/>',
        parts: Object.fromEntries(Array.from({ length: count - 6 }, (_, at) => [`p${at}`, ''])),
      }),
  },
  xmlDepth: {
    name: 'deep.docx',
    file: (count) => documentBytes({ body: `${'<w:x>'.repeat(count - 2)}${'</w:x>'.repeat(count - 2)}` }),
  },
  xmlLength: {
    name: 'long.docx',
    file: (count) => documentBytes({ body: `<w:x w:a="${randomBytes(count / 2).toString('hex')}"/>` }),
    step: 1_048_576,
  },
  sheetHead: {
    name: 'head.xlsx',
    step: 400,
    file: (count) =>
      readAll(
        workbookSource({
          sheets: { A: `<!--${'x'.repeat(count - 400)}--><sheetData><row><c><v>1</v></c></row></sheetData>` },
        }),
      ),
  },
  text: { name: 'long.txt', file: () => utf8('words'), size: (count) => count },
  values: { name: 'long.csv', file: () => utf8('words'), size: (count) => count },
  tags: { name: 'tags.html', file: (count) => utf8(`<!doctype html>${'<br>'.repeat(count)}`), step: 16 },
  elements: {
    name: 'deep.html',
    file: (count) => utf8(`<!doctype html><html><body>${'<div>'.repeat(count)}<p>words`),
  },
  depth: { name: 'depth.md', file: (count) => utf8(`${'>'.repeat(count)} words\n`) },
  nesting: {
    name: 'nesting.md',
    file: (count) => utf8(`${'*a _b '.repeat(count / 2)}${'b_ a* '.repeat(count / 2)}\n`),
    step: 20,
  },
  signs: { name: 'signs.md', file: (count) => utf8(`${'*'.repeat(1)}a `.repeat(count)) },
  turns: { name: 'turns.md', file: (count) => utf8('a\n===\n'.repeat(count)) },
  repeats: {
    name: 'repeats.odt',
    file: (count) =>
      readAll(
        openDocument('text', {
          body: `<table:table><table:table-row table:number-rows-repeated="${count}"><table:table-cell><text:p>words</text:p></table:table-cell></table:table-row></table:table>`,
        }),
      ),
    left: (taken) => expect(content(taken).match(/words/g)).toHaveLength(bounds.repeats.most),
  },
  side: {
    name: 'wide.html',
    file: (count) =>
      utf8(
        `<!doctype html><p><img alt="words" src="data:image/png;base64,${Buffer.from(pngOf(count)).toString('base64')}">`,
      ),
    left: (taken, count) => {
      same(taken);
      expect(taken.media.size).toBe(count > bounds.side.most ? 0 : 1);
    },
  },
  format: {
    name: 'format.xlsx',
    file: (count) =>
      book('<row><c s="0"><v>7</v></c></row>', {
        styles: `<numFmts><numFmt numFmtId="200" formatCode="${'"x"'.padEnd(count - 1, ' ').replaceAll('"', '&quot;')}0"/></numFmts><fonts><font/></fonts><fills><fill/></fills><cellXfs><xf numFmtId="200"/></cellXfs>`,
      }),
    left: (taken, count) => expect(content(taken).startsWith('x')).toBe(count <= bounds.format.most),
  },
  basedOn: {
    name: 'styles.docx',
    file: (count) =>
      documentBytes({
        body: '<w:p><w:pPr><w:pStyle w:val="s0"/></w:pPr><w:r><w:t>words</w:t></w:r></w:p>',
        styles: Array.from({ length: count + 1 }, (_, at) =>
          at < count
            ? `<w:style w:type="paragraph" w:styleId="s${at}"><w:name w:val="n${at}"/><w:basedOn w:val="s${at + 1}"/></w:style>`
            : `<w:style w:type="paragraph" w:styleId="s${at}"><w:name w:val="n${at}"/><w:rPr><w:b/></w:rPr></w:style>`,
        ).join(''),
      }),
    left: (taken) => same(taken),
  },
};

async function take(name: string, bytes: Uint8Array, size = bytes.length): Promise<Excerpt> {
  const bare = sourceOf(bytes, name);
  const source: Source = { ...bare, size, read: (start, end) => bare.read(start, Math.min(end, bytes.length)) };
  const format: Format = await (await formatOf(bare)).load();
  return (await format.read?.(source, parseFragment(''))) as Excerpt;
}

const refusal = (name: keyof typeof bounds) => ({
  code: 'too-large',
  reason: `over-${name}`,
  params: expect.objectContaining({ most: bounds[name].most }),
});

describe.each(Object.entries(cases))('the bound %s', (key, { name, file, left, size, step = 1 }) => {
  const bound = key as keyof typeof bounds;
  const { most } = bounds[bound];

  it('lets through what is at it, and nothing past it', async () => {
    if (step === 1) {
      const whole = await file(most);
      const taken = await take(name, whole, size?.(most));
      left?.(taken, most);
    }
    const over = await file(most + step);
    const past = take(name, over, size?.(most + step));
    if (left) left(await past, most + step);
    else await expect(past).rejects.toMatchObject(refusal(bound));
  });
});

/** A document whose directory says of one of its parts that it unpacks to so much (APPNOTE 4.3.12). */
function sayingSize(size: number): Uint8Array {
  const bytes = Buffer.from(documentBytes({ body: '<w:p/>' }));
  const name = bytes.lastIndexOf('word/document.xml');
  bytes.writeUInt32LE(size, name - 46 + 24);
  return bytes;
}

it.each(['unpacked', 'ratio'] as const)('a part says it is larger than the bound %s', async (name) => {
  const size = name === 'unpacked' ? bounds.unpacked.most + 1 : 5_000_000;
  await expect(take('large.docx', sayingSize(size))).rejects.toMatchObject(refusal(name));
});

it('a file of separated values has more fields than may be changed', async () => {
  const { insert } = await formatNamed('csv').load();
  const insertion = { content: run('words'), media: new Map(), style: 'local' as const };
  const into = (rows: number) =>
    insert?.(sourceOf(utf8('a,b,c,d\n'.repeat(rows)), 'long.csv'), parseFragment('row=1'), insertion);
  await expect(into(bounds.fields.most / 4 + 1)).rejects.toMatchObject(refusal('fields'));
}, 60_000);

it('a picture beside a page is larger than the bound: its description stands for it', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'drawer-bounds-'));
  const picture = join(folder, 'plan.png');
  writeFileSync(picture, pngOf(4));
  writeFileSync(join(folder, 'page.md'), '![words](plan.png)\n');
  const pictures = async () => (await readFromFile(parsePlace(join(folder, 'page.md')))).media.size;
  expect(await pictures()).toBe(1);
  truncateSync(picture, bounds.beside.most + 1);
  expect(await pictures()).toBe(0);
  rmSync(folder, { recursive: true });
});

it('formulas are worked out anew up to the bound, and left to the program that opens the file past it', async () => {
  const { insert } = await formatNamed('xlsx').load();
  const insertion = { content: run('5'), media: new Map(), style: 'local' as const, over: true };
  const results = async (count: number): Promise<number> => {
    const formulas = Array.from(
      { length: count },
      (_, at) => `<row r="${at + 2}"><c r="A${at + 2}"><f>A1*2</f><v>2</v></c></row>`,
    );
    const before = await book(`<row r="1"><c r="A1"><v>1</v></c></row>${formulas.join('')}`);
    const made = await insert?.(sourceOf(before, 'sums.xlsx'), parseFragment('A!A1'), insertion);
    const sheet = strFromU8(unzipSync(made?.bytes as Uint8Array)['xl/worksheets/sheet0.xml'] as Uint8Array);
    expect(sheet).not.toContain('<v>2</v>');
    return sheet.split('<v>10</v>').length - 1;
  };
  expect([await results(bounds.formulas.most), await results(bounds.formulas.most + 1)]).toEqual([
    bounds.formulas.most,
    0,
  ]);
}, 60_000);

it('every bound is tried', () => {
  const here = [...Object.keys(cases), 'unpacked', 'ratio', 'fields', 'beside', 'formulas'];
  const elsewhere = ['pixels']; // where pictures are drawn
  expect([...here, ...elsewhere].sort()).toEqual(Object.keys(bounds).sort());
});
