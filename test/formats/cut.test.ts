import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Block, bullets, type Content, doc, numbers, parseFragment, plainText, table } from 'drawer';
import { type Format, formatNamed, formatOf, type Removed, sourceOf } from 'drawer/formats';
import { nodeTools } from 'drawer/node';
import * as fc from 'fast-check';
import { unzipSync } from 'fflate';
import { blocksText, quote } from '../../src/content/index.ts';
import { allMedia, blocks } from '../support/arbitrary.ts';
import { demoFiles } from '../support/cli.ts';
import { documentBytes, documentSource, workbookSource } from '../support/office.ts';
import { noteInWords } from '../support/said.ts';

const runs = Number(process.env.RUNS ?? 20);
const tools = nodeTools;
const demo = (name: string): Uint8Array => new Uint8Array(readFileSync(join(demoFiles, name)));

async function open(bytes: Uint8Array, name: string): Promise<Required<Pick<Format, 'read' | 'remove' | 'outline'>>> {
  const format = await (await formatOf(sourceOf(bytes, name))).load();
  if (!format.remove || !format.read || !format.outline) throw new Error(`${name} cannot be cut`);
  return format as Required<Format>;
}
async function take(bytes: Uint8Array, name: string, place = ''): Promise<Content> {
  return (await (await open(bytes, name)).read(sourceOf(bytes, name), parseFragment(place), tools)).content;
}
async function cut(bytes: Uint8Array, name: string, ...places: string[]): Promise<Uint8Array> {
  return (await (await open(bytes, name)).remove(sourceOf(bytes, name), places.map(parseFragment), tools)).bytes;
}

const blocksOf = (content: Content): readonly Block[] => (content.shape === 'blocks' ? content.blocks : []);
const isBlank = (block: Block | undefined): boolean => block?.type === 'paragraph' && block.inlines.length === 0;
const dense = (content: Content): string => plainText(content).replace(/\s+/g, '');
/** Numbers of lists change when an item goes. */
const letters = (text: string): string => text.replace(/[\s\d.>-]+/g, '');

/** Blocks without those of a part, which follow one another in them. */
function without(all: readonly Block[], part: readonly Block[]): Block[] {
  const wanted = part.map((block) => JSON.stringify(block));
  const texts = all.map((block) => JSON.stringify(block));
  const at = texts.findIndex((_, start) => wanted.every((text, index) => texts[start + index] === text));
  expect(at).toBeGreaterThanOrEqual(0);
  return all.filter((_, index) => index < at || index >= at + part.length);
}

function trimmed(all: readonly Block[]): Block[] {
  const kept = [...all];
  while (isBlank(kept.at(-1))) kept.pop();
  while (isBlank(kept[0])) kept.shift();
  return kept;
}

describe.each(['survey.docx', 'application.docx', 'history.odt', 'letters.html', 'log.md'])('%s', (name) => {
  it('loses each place that its outline names, and nothing else of its text', async () => {
    const bytes = demo(name);
    const whole = blocksOf(await take(bytes, name));
    const { entries } = await (await open(bytes, name)).outline(sourceOf(bytes, name), tools);
    const places = entries.filter(({ kind }) => kind !== 'picture' && kind !== 'bookmark');
    expect(places.length).toBeGreaterThan(4);
    for (const { place } of places) {
      const part = blocksOf(await take(bytes, name, place));
      const left = blocksOf(await take(await cut(bytes, name, place), name));
      expect([place, trimmed(left)]).toEqual([place, trimmed(without(whole, part))]);
    }
  });

  it('loses several places at once, all named as they were', async () => {
    const bytes = demo(name);
    const whole = blocksOf(await take(bytes, name));
    const two = [2, 3].map((number) => `paragraph=${number}`);
    const parts = await Promise.all(two.map(async (place) => blocksOf(await take(bytes, name, place))));
    const left = blocksOf(await take(await cut(bytes, name, ...two), name));
    expect(trimmed(left)).toEqual(trimmed(parts.reduce(without, whole) as Block[]));
  });

  it('loses any words of a paragraph, with no space left doubled', async () => {
    const bytes = demo(name);
    const whole = await take(bytes, name);
    const paragraphs = blocksOf(whole).filter(
      (block) => block.type === 'paragraph' && block.inlines.every(({ type }) => type === 'text'),
    );
    await fc.assert(
      fc.asyncProperty(fc.nat(), fc.nat(), fc.nat(6), async (which, from, count) => {
        const block = paragraphs[which % paragraphs.length] as Block;
        const words = blocksText([block])
          .split(' ')
          .filter((word) => /^[\p{L}\p{N}]+$/u.test(word));
        if (words.length < 2) return;
        const text = blocksText([block]);
        const quoted = text
          .split(' ')
          .slice(from % 5, (from % 5) + count + 1)
          .join(' ')
          .replace(/^\P{L}+|\P{L}+$/gu, '');
        if (quoted.length < 2 || !/^[\p{L}\p{N} ,]+$/u.test(quoted)) return;
        const place = `:~:text=${encodeURIComponent(quoted).replaceAll('-', '%2D')}`;
        const taken = await take(bytes, name, place);
        const left = await take(await cut(bytes, name, place), name);
        expect(letters(plainText(left)).length).toBe(
          letters(plainText(whole)).length - letters(plainText(taken)).length,
        );
        expect(plainText(left)).not.toMatch(/\S {2,}\S/);
      }),
      { numRuns: runs },
    );
  });
});

/** The packed bytes of every part. */
const partsOf = (bytes: Uint8Array): Record<string, string> =>
  Object.fromEntries(
    Object.entries(unzipSync(bytes)).map(([name, part]) => [name, Buffer.from(part).toString('base64')]),
  );

it.each([
  ['survey.docx', 'section=Hull condition', 'word/document.xml'],
  ['history.odt', 'section=Laid up', 'content.xml'],
  ['costs.xlsx', 'Timber!A2:B3', 'xl/worksheets/sheet1.xml'],
  ['crew.ods', 'Hours!A2:B3', 'content.xml'],
])('%s: only one part changes, and the order of all stays', async (name, place, part) => {
  const before = partsOf(demo(name));
  const after = partsOf(await cut(demo(name), name, place));
  expect(Object.keys(after)).toEqual(Object.keys(before));
  expect(Object.keys(before).filter((each) => before[each] !== after[each])).toEqual([part]);
});

describe('words between any neighbours', () => {
  it.each(['docx', 'html', 'markdown'] as const)(
    'go out of %s, and what is left is what was around them',
    async (format) => {
      const file = await formatNamed(format).load();
      /** As the format holds it: in docx, quotes that come to adjoin are one. */
      const again = async (content: Content): Promise<Content> => {
        const bytes = (await file.write?.(content, { media: allMedia })) as Uint8Array;
        return (await file.read?.(sourceOf(bytes, 'x'), parseFragment('')))?.content as Content;
      };
      await fc.assert(
        fc.asyncProperty(fc.array(blocks, { minLength: 2, maxLength: 6 }), fc.nat(), async (made, pick) => {
          const content: Content = { shape: 'blocks', blocks: made.flatMap((each) => each.blocks) };
          const bytes = await file.write?.(content, { media: allMedia });
          const source = sourceOf(bytes as Uint8Array, 'x');
          const whole = (await file.read?.(source, parseFragment('')))?.content as Content;
          const all = blocksOf(whole);
          if (all.length < 2) return;
          const at = pick % all.length;
          const kinds = { table: 'table', list: 'list', picture: 'picture' } as Record<string, string>;
          const kind = kinds[all[at]?.type ?? ''];
          if (kind === undefined || kind === 'picture') return;
          const number = all.slice(0, at + 1).filter(({ type }) => type === all[at]?.type).length;
          const removed = await file.remove?.(source, [parseFragment(`${kind}=${number}`)]);
          const left = (await file.read?.(sourceOf(removed?.bytes as Uint8Array, 'x'), parseFragment('')))
            ?.content as Content;
          const rest: Content = { shape: 'blocks', blocks: all.filter((_, index) => index !== at) };
          expect(dense(left)).toBe(dense(format === 'docx' ? await again(rest) : rest));
        }),
        {
          numRuns: runs,
          examples: [
            [[doc(quote('a'), table(0, ['']), quote('é'))], 1],
            [[doc(table(1, ['']), 'a', table(1, ['']), 'b')], 0],
            [[doc(numbers('a'), bullets('b'), numbers('c')), doc('d')], 1],
            [[doc(bullets('a'), table(1, ['']), bullets('c')), doc('d')], 1],
          ],
        },
      );
    },
  );
});

describe('a document', () => {
  const body = async (inside: string, ...places: string[]): Promise<string> => {
    const bytes = await cut(documentBytes({ body: inside }), 'x.docx', ...places);
    const xml = new TextDecoder().decode(unzipSync(bytes)['word/document.xml']);
    return /<w:body>(.*)<\/w:body>/s.exec(xml)?.[1] ?? '';
  };
  const p = (words: string, properties = ''): string => `<w:p>${properties}<w:r><w:t>${words}</w:t></w:r></w:p>`;

  it.each([
    ['a paragraph, and no blank one', `${p('one')}${p('two')}${p('three')}`, 'paragraph=2', `${p('one')}${p('three')}`],
    ['all: one empty paragraph stays', p('one'), '', '<w:p></w:p>'],
    [
      'words, and a space with them',
      p('one two three'),
      ':~:text=two',
      '<w:p><w:r><w:t xml:space="preserve">one three</w:t></w:r></w:p>',
    ],
    [
      'a run, where that is what goes',
      '<w:p><w:r><w:t xml:space="preserve">one </w:t></w:r><w:r><w:rPr><w:b/></w:rPr><w:t>two</w:t></w:r></w:p>',
      ':~:text=two',
      '<w:p><w:r><w:t xml:space="preserve">one</w:t></w:r></w:p>',
    ],
    [
      'a bookmark’s start stays where its end does',
      `<w:p><w:bookmarkStart w:id="1" w:name="x"/><w:r><w:t>one</w:t></w:r></w:p><w:p><w:r><w:t>two</w:t></w:r><w:bookmarkEnd w:id="1"/></w:p>`,
      'paragraph=1',
      `<w:bookmarkStart w:id="1" w:name="x"/><w:p><w:r><w:t>two</w:t></w:r><w:bookmarkEnd w:id="1"/></w:p>`,
    ],
    [
      'the paragraph that ends a section keeps its end',
      `${p('one')}<w:p><w:pPr><w:sectPr><w:pgSz w:w="1"/></w:sectPr></w:pPr><w:r><w:t>two</w:t></w:r></w:p>${p('three')}`,
      'paragraph=2',
      `${p('one')}<w:p><w:pPr><w:sectPr><w:pgSz w:w="1"/></w:sectPr></w:pPr></w:p>${p('three')}`,
    ],
    [
      'a cell keeps the paragraph it must have, without its bullet',
      `<w:tbl><w:tr><w:tc>${p('one', '<w:pPr><w:numPr><w:numId w:val="1"/></w:numPr></w:pPr>')}</w:tc><w:tc>${p('two')}</w:tc></w:tr></w:tbl>${p('x')}`,
      ':~:text=one',
      `<w:tbl><w:tr><w:tc><w:p><w:pPr></w:pPr></w:p></w:tc><w:tc>${p('two')}</w:tc></w:tr></w:tbl>${p('x')}`,
    ],
    [
      'a row goes when all its words do',
      `<w:tbl><w:tr><w:tc>${p('one')}</w:tc></w:tr><w:tr><w:tc>${p('two')}</w:tc></w:tr></w:tbl>${p('x')}`,
      ':~:text=two',
      `<w:tbl><w:tr><w:tc>${p('one')}</w:tc></w:tr></w:tbl>${p('x')}`,
    ],
    [
      'a row that others are tied to stays',
      `<w:tbl><w:tr><w:tc><w:tcPr><w:vMerge w:val="restart"/></w:tcPr>${p('one')}</w:tc></w:tr><w:tr><w:tc><w:tcPr><w:vMerge/></w:tcPr><w:p/></w:tc></w:tr></w:tbl>${p('x')}`,
      ':~:text=one',
      `<w:tbl><w:tr><w:tc><w:tcPr><w:vMerge w:val="restart"/></w:tcPr><w:p></w:p></w:tc></w:tr><w:tr><w:tc><w:tcPr><w:vMerge/></w:tcPr><w:p/></w:tc></w:tr></w:tbl>${p('x')}`,
    ],
    [
      'the end of one paragraph and the start of another: they join',
      `${p('one two')}${p('three four')}`,
      ':~:text=two,three',
      '<w:p><w:r><w:t xml:space="preserve">one</w:t></w:r><w:r><w:t xml:space="preserve">four</w:t></w:r></w:p>',
    ],
    [
      'references and line ends in the source stay as they are written',
      '<w:p><w:r><w:t>a &amp; b &#169; c d</w:t></w:r></w:p>',
      ':~:text=c',
      '<w:p><w:r><w:t xml:space="preserve">a &amp; b &#169; d</w:t></w:r></w:p>',
    ],
  ])('loses %s', async (_, before, place, after) => {
    expect(await body(before, place)).toBe(after);
  });

  it('keeps the text box of a paragraph that goes', async () => {
    const box = `<w:r><w:pict><v:shape xmlns:v="urn:schemas-microsoft-com:vml"><v:textbox><w:txbxContent>${p('boxed')}</w:txbxContent></v:textbox></v:shape></w:pict></w:r>`;
    const bytes = documentBytes({ body: `<w:p>${box}<w:r><w:t>anchor</w:t></w:r></w:p>${p('x')}` });
    expect(plainText(await take(await cut(bytes, 'x.docx', 'paragraph=1'), 'x.docx'))).toBe('boxed\n\nx');
    expect(plainText(await take(await cut(bytes, 'x.docx', 'paragraph=1', 'paragraph=2'), 'x.docx'))).toBe('x');
  });
});

describe('a workbook', () => {
  const sheet = (rows: string): Record<string, string> => ({ S: `<sheetData>${rows}</sheetData>` });
  const emptied = async (rows: string, ...places: string[]): Promise<{ xml: string; notes: string[] }> => {
    const source = workbookSource({ sheets: sheet(rows) });
    const format = await formatNamed('xlsx').load();
    const { bytes, notes } = (await (format as Required<Format>).remove(source, places.map(parseFragment))) as Removed;
    const xml = new TextDecoder().decode(unzipSync(bytes)['xl/worksheets/sheet0.xml']);
    return { xml: /<sheetData>(.*)<\/sheetData>/s.exec(xml)?.[1] ?? '', notes: notes.map(noteInWords) };
  };

  it('keeps a cell’s place and look, and names the formulas that point at it', async () => {
    const { xml, notes } = await emptied(
      '<row r="1"><c r="A1" s="3" t="s"><v>0</v></c><c r="B1"><v>2</v></c></row><row r="2"><c r="A2"><f>SUM(A1:B1)</f><v>2</v></c><c r="B2"><f>"A1"</f></c></row>',
      'S!A1',
    );
    expect(xml).toBe(
      '<row r="1"><c r="A1" s="3"/><c r="B1"><v>2</v></c></row><row r="2"><c r="A2"><f>SUM(A1:B1)</f><v>2</v></c><c r="B2"><f>"A1"</f></c></row>',
    );
    expect(notes.join()).toMatch(/emptied cells: S!A2$/);
  });

  it('leaves hidden rows alone, since they are not taken either', async () => {
    const rows = '<row r="1"><c r="A1"><v>1</v></c></row><row r="2" hidden="1"><c r="A2"><v>2</v></c></row>';
    expect((await emptied(rows, 'S!A1:A2')).xml).toBe(
      '<row r="1"><c r="A1"/></row><row r="2" hidden="1"><c r="A2"><v>2</v></c></row>',
    );
  });

  it('hands a shared formula on to the next cell that shares it', async () => {
    const rows =
      '<row r="1"><c r="B1"><f t="shared" ref="B1:B3" si="0">A1*2</f><v>2</v></c></row><row r="2"><c r="B2"><f t="shared" si="0"/><v>4</v></c></row><row r="3"><c r="B3"><f t="shared" si="0"/><v>6</v></c></row>';
    expect((await emptied(rows, 'S!B1')).xml).toBe(
      '<row r="1"><c r="B1"/></row><row r="2"><c r="B2"><f t="shared" ref="B2:B3" si="0">A2*2</f><v>4</v></c></row><row r="3"><c r="B3"><f t="shared" si="0"/><v>6</v></c></row>',
    );
  });

  it('takes the formulas that go off the list in which they are worked out, and that with the last of them', async () => {
    const formula = (cell: string): string => `<c r="${cell}"><f>1+1</f><v>2</v></c>`;
    const list = '<c r="A1" i="1"/><c r="B1"/><c r="A1" i="2"></c>';
    const type = 'application/vnd.openxmlformats-officedocument.spreadsheetml.calcChain+xml';
    const source = workbookSource({
      sheets: {
        S: `<sheetData><row r="1">${formula('A1')}${formula('B1')}</row></sheetData>`,
        T: `<sheetData><row r="1">${formula('A1')}</row></sheetData>`,
      },
      links: { c: 'calcChain calcChain.xml' },
      parts: {
        '[Content_Types].xml': `<Types><Override PartName="/xl/calcChain.xml" ContentType="${type}"/><Default Extension="xml"/></Types>`,
        'xl/calcChain.xml': `<calcChain>${list}</calcChain>`,
      },
    });
    const format = (await formatNamed('xlsx').load()) as Required<Format>;
    const after = async (...places: string[]) => {
      const { bytes } = await format.remove(source, places.map(parseFragment));
      const parts = unzipSync(bytes);
      const text = (name: string): string | undefined => parts[name] && new TextDecoder().decode(parts[name]);
      return {
        list: /<calcChain>(.*)<\/calcChain>/.exec(text('xl/calcChain.xml') ?? '')?.[1],
        types: text('[Content_Types].xml'),
        links: text('xl/_rels/workbook.xml.rels'),
      };
    };
    // A number of a sheet holds for the cells behind it.
    expect((await after('S!A1')).list).toBe('<c r="B1" i="1"/><c r="A1" i="2"></c>');
    expect((await after('S!B1', 'T!A1')).list).toBe('<c r="A1" i="1"/>');
    const none = await after('S!A1:B1', 'T!A1');
    expect([none.list, none.types]).toEqual([undefined, '<Types><Default Extension="xml"/></Types>']);
    expect(none.links).toContain('styles.xml');
    expect(none.links).not.toContain('calcChain');
  });

  it('is not cut where one formula fills several cells together', async () => {
    const rows =
      '<row r="1"><c r="A1"><f t="array" ref="A1:A2">B1:B2</f><v>1</v></c></row><row r="2"><c r="A2"><v>2</v></c></row>';
    await expect(emptied(rows, 'S!A1')).rejects.toMatchObject({ code: 'unsupported' });
    expect((await emptied(rows, 'S!A1:A2')).xml).toBe('<row r="1"><c r="A1"/></row><row r="2"><c r="A2"/></row>');
  });
});

it('a file that would not come out as it went in is not cut', async () => {
  const broken = documentBytes({ body: '<w:p><w:r><w:t>one</w:t></w:r></w:p>' });
  const format = await formatNamed('docx').load();
  const source = documentSource({ body: '<w:p/>' });
  await expect(format.remove?.(source, [parseFragment('paragraph=1')])).rejects.toMatchObject({ code: 'not-found' });
  expect(await cut(broken, 'x.docx', 'paragraph=1')).not.toEqual(broken);
});
