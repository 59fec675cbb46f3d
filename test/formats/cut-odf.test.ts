import { parseFragment } from 'drawer';
import { formatNamed, formatOf, type ReadTools, type Removed, sourceOf } from 'drawer/formats';
import { strFromU8, unzipSync } from 'fflate';
import { openDocument } from '../support/office.ts';
import { noteInWords } from '../support/said.ts';

/** The inside of the body when places have been cut, and what is said of it. */
async function cut(kind: 'text' | 'spreadsheet', body: string, places: readonly string[], tools?: ReadTools) {
  const source = openDocument(kind, { body });
  const format = await (await formatOf(source)).load();
  const removed = (await format.remove?.(source, places.map(parseFragment), tools)) as Removed;
  const xml = strFromU8(unzipSync(removed.bytes)['content.xml'] as Uint8Array);
  return {
    body: new RegExp(`<office:${kind}>(.*)</office:${kind}>`, 's').exec(xml)?.[1],
    notes: removed.notes.map(noteInWords),
  };
}
const p = (words: string): string => `<text:p>${words}</text:p>`;

describe('an open text', () => {
  it.each([
    ['a paragraph', p('one') + p('two'), ['paragraph=1'], p('two')],
    ['words, with a space', p('one two three'), [':~:text=two'], p('one three')],
    ['a span, where that is what goes', p('one <text:span>two</text:span> three'), [':~:text=two'], p('one three')],
    [
      'words in the middle of a span',
      p('<text:span>one two three</text:span>'),
      [':~:text=two'],
      p('<text:span>one three</text:span>'),
    ],
    [
      'an item, and its list goes on',
      `<text:list><text:list-item>${p('one')}</text:list-item><text:list-item>${p('two')}</text:list-item></text:list>`,
      [':~:text=one'],
      `<text:list><text:list-item>${p('two')}</text:list-item></text:list>`,
    ],
    [
      'the last item, and its list with it',
      `${p('x')}<text:list><text:list-item>${p('one')}</text:list-item></text:list>`,
      [':~:text=one'],
      p('x'),
    ],
    [
      'a section of the file, when all in it goes',
      `${p('x')}<text:section>${p('one')}${p('two')}</text:section>`,
      ['paragraph=2-3'],
      p('x'),
    ],
    [
      'a row, when all its words do',
      `<table:table><table:table-row><table:table-cell>${p('one')}</table:table-cell></table:table-row><table:table-row><table:table-cell>${p('two')}</table:table-cell></table:table-row></table:table>${p('x')}`,
      [':~:text=one'],
      `<table:table><table:table-row><table:table-cell>${p('two')}</table:table-cell></table:table-row></table:table>${p('x')}`,
    ],
    [
      'a cell’s words; its paragraph stays',
      `<table:table><table:table-row><table:table-cell>${p('one')}</table:table-cell><table:table-cell>${p('two')}</table:table-cell></table:table-row></table:table>${p('x')}`,
      [':~:text=one'],
      `<table:table><table:table-row><table:table-cell>${p('')}</table:table-cell><table:table-cell>${p('two')}</table:table-cell></table:table-row></table:table>${p('x')}`,
    ],
    [
      'a note with the words around it',
      p(
        'one two<text:note><text:note-citation>1</text:note-citation><text:note-body><text:p>n</text:p></text:note-body></text:note> three',
      ),
      ['paragraph=1'],
      p(''),
    ],
    ['spaces told as such, whole', p('one<text:s text:c="2"/>two'), [':~:text=two'], p('one<text:s text:c="2"/>')],
    ['all: one empty paragraph stays', p('one') + p('two'), [''], p('')],
  ])('loses %s', async (_, before, places, after) => {
    expect((await cut('text', before, places)).body).toBe(after);
  });

  it('keeps the half of a bookmark whose other half stays, in the paragraph beside it', async () => {
    const before = `${p('x')}<text:p><text:bookmark-start text:name="b"/>one</text:p><text:p>two<text:bookmark-end text:name="b"/></text:p>`;
    expect((await cut('text', before, ['paragraph=2'])).body).toBe(
      '<text:p>x<text:bookmark-start text:name="b"/></text:p><text:p>two<text:bookmark-end text:name="b"/></text:p>',
    );
  });

  it('keeps a text box on the page when the words around it go', async () => {
    const box = `<draw:frame><draw:text-box>${p('boxed')}</draw:text-box></draw:frame>`;
    expect((await cut('text', p(`one${box}`) + p('x'), ['paragraph=1'])).body).toBe(p(box) + p('x'));
  });
});

describe('an open spreadsheet', () => {
  const float = (value: number, more = ''): string =>
    `<table:table-cell office:value-type="float" office:value="${value}"${more}><text:p>${value}</text:p></table:table-cell>`;
  const sheet = (rows: string): string => `<table:table table:name="S">${rows}</table:table>`;
  const row = (cells: string, more = ''): string => `<table:table-row${more}>${cells}</table:table-row>`;

  it('keeps a cell’s look and spans, and nothing of its value', async () => {
    const styled = float(1, ' table:style-name="c" table:number-columns-spanned="2"');
    expect((await cut('spreadsheet', sheet(row(styled + float(2))), ['S!A1'])).body).toBe(
      sheet(
        row(`<table:table-cell table:style-name="c" table:number-columns-spanned="2"></table:table-cell>${float(2)}`),
      ),
    );
  });

  it('tells apart the cells and rows that one stands for', async () => {
    const before = sheet(row(float(7, ' table:number-columns-repeated="3"'), ' table:number-rows-repeated="2"'));
    const bare = '<table:table-cell></table:table-cell>';
    const plain = row(float(7, ' table:number-columns-repeated="3"'));
    expect((await cut('spreadsheet', before, ['S!B2'])).body).toBe(sheet(plain + row(float(7) + bare + float(7))));
  });

  it('names the formulas that point at what was emptied, on every sheet', async () => {
    const formula = (words: string): string =>
      `<table:table-cell table:formula="of:=${words}" office:value-type="float" office:value="1"><text:p>1</text:p></table:table-cell>`;
    const before = `${sheet(row(float(1) + formula('[.A1]*2')))}<table:table table:name="T">${row(formula('SUM([S.A1:.A9])') + formula('[.A1]'))}</table:table>`;
    expect((await cut('spreadsheet', before, ['S!A1'])).notes.join()).toMatch(/emptied cells: S!B1, T!A1$/);
  });

  it('loses pictures over its cells, and keeps what else lies there', async () => {
    const frame = (name: string): string =>
      `<draw:frame svg:width="1in" svg:height="1in"><draw:image xlink:href="Pictures/${name}.png"/></draw:frame>`;
    const box = `<draw:frame><draw:text-box>${p('x')}</draw:text-box></draw:frame>`;
    const shapes = (inside: string): string =>
      sheet(`<table:shapes>${inside}</table:shapes>${row(float(1))}`) + sheet(row(float(2)));
    const before = shapes(box + frame('a') + frame('b'));
    expect((await cut('spreadsheet', before, ['picture=1'])).body).toBe(shapes(box + frame('b')));
    expect((await cut('spreadsheet', before, ['picture=2', 'picture=1'])).body).toBe(shapes(box));
    await expect(cut('spreadsheet', before, ['picture=3'])).rejects.toMatchObject({ code: 'not-found' });
  });

  it('leaves hidden rows alone, unless they are asked for', async () => {
    const before = sheet(row(float(1), ' table:visibility="collapse"') + row(float(2)));
    const bare = '<table:table-cell></table:table-cell>';
    expect((await cut('spreadsheet', before, ['S!A1:A2'])).body).toBe(
      sheet(row(float(1), ' table:visibility="collapse"') + row(bare)),
    );
    expect((await cut('spreadsheet', before, ['S!A1:A2'], { hidden: true })).body).toBe(
      sheet(row(bare, ' table:visibility="collapse"') + row(bare)),
    );
  });
});

describe('a page', () => {
  const page = async (before: string, ...places: string[]): Promise<string> => {
    const format = await formatNamed('html').load();
    const removed = await format.remove?.(
      sourceOf(new TextEncoder().encode(before), 'x.html'),
      places.map(parseFragment),
    );
    return new TextDecoder().decode(removed?.bytes);
  };

  it.each([
    [
      'a paragraph with the line it stood on',
      '<p>one</p>\n  <p>two</p>\n<p>three</p>',
      ['paragraph=2'],
      '<p>one</p>\n<p>three</p>',
    ],
    ['words, and emphasis with them', '<p>one <b>two</b> three</p>', [':~:text=two'], '<p>one three</p>'],
    [
      'words written with references',
      '<p>a &amp; b &eacute;t&#233; c</p>',
      [':~:text=%C3%A9t%C3%A9'],
      '<p>a &amp; b c</p>',
    ],
    ['words over folded white space', '<p>one\n   two   three</p>', [':~:text=two'], '<p>one\n     three</p>'],
    ['an item', '<ul><li>one</li><li>two</li></ul>', [':~:text=one'], '<ul><li>two</li></ul>'],
    ['a list when its items go', '<p>x</p><ul><li>one</li></ul>', ['list=1'], '<p>x</p>'],
    [
      'a row',
      '<table><tr><td>one</td></tr><tr><td>two</td></tr></table>',
      [':~:text=one'],
      '<table><tr><td>two</td></tr></table>',
    ],
    ['words between other elements', '<div>one<p>two</p>three</div>', ['paragraph=3'], '<div>one<p>two</p></div>'],
    ['code', '<pre>a\nb c</pre>', [':~:text=b'], '<pre>a\nc</pre>'],
  ])('loses %s', async (_, before, places, after) => {
    expect(await page(before, ...places)).toBe(after);
  });

  it('keeps its encoding, and is not cut where that cannot be written', async () => {
    const format = await formatNamed('html').load();
    const latin = Uint8Array.from(
      [...'<p>']
        .map((sign) => sign.charCodeAt(0))
        .concat(
          [0xe9, 0x20, 0x78],
          [...'</p>'].map((sign) => sign.charCodeAt(0)),
        ),
    );
    const removed = await format.remove?.(sourceOf(latin, 'x.html'), [parseFragment(':~:text=x')]);
    expect([...(removed?.bytes ?? [])]).toEqual([0x3c, 0x70, 0x3e, 0xe9, 0x3c, 0x2f, 0x70, 0x3e]);
  });
});
