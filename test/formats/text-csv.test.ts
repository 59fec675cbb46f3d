import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Content, parseFragment, plainText } from 'drawer';
import { bounds, type FormatName, formatNamed, type ReadTools, sourceOf } from 'drawer/formats';
import fc from 'fast-check';
import Papa from 'papaparse';

const utf8 = (words: string) => new TextEncoder().encode(words);
const utf16 = (words: string, little: boolean) => {
  const bytes = new Uint8Array(words.length * 2);
  const view = new DataView(bytes.buffer);
  for (let at = 0; at < words.length; at++) view.setUint16(at * 2, words.charCodeAt(at), little);
  return bytes;
};

const take = async (name: FormatName, bytes: Uint8Array, place = '', tools?: ReadTools): Promise<Content> => {
  const taken = await (await formatNamed(name).load()).read?.(sourceOf(bytes, 'x'), parseFragment(place), tools);
  return (taken as { content: Content }).content;
};
const cut = async (name: FormatName, bytes: Uint8Array, ...places: string[]): Promise<string> => {
  const format = await formatNamed(name).load();
  const removed = await format.remove?.(sourceOf(bytes, 'x'), places.map(parseFragment));
  return new TextDecoder('utf-8', { ignoreBOM: true }).decode(removed?.bytes);
};
const words = (content: Content) => plainText(content);
const values = (content: Content) => {
  if (content.shape !== 'cells') throw new Error(`not cells but ${content.shape}`);
  return content.rows.map((row) =>
    row.map((cell) => (cell.type === 'empty' ? '' : 'text' in cell ? cell.text : cell.value)),
  );
};

describe('encodings', () => {
  const text = 'Größe\r\nfünf € – Ελληνικά';
  it.each([
    ['UTF-8', utf8(text)],
    ['UTF-8 with a mark', Uint8Array.from([0xef, 0xbb, 0xbf, ...utf8(text)])],
    ['UTF-16, little end first', Uint8Array.from([0xff, 0xfe, ...utf16(text, true)])],
    ['UTF-16, big end first', Uint8Array.from([0xfe, 0xff, ...utf16(text, false)])],
  ])('%s is known by looking', async (_, bytes) => {
    expect(words(await take('text', bytes))).toBe('Größe\nfünf € – Ελληνικά');
  });

  it('Windows-1252 is what is not UTF-8', async () => {
    expect(words(await take('text', Uint8Array.from([0x46, 0xfc, 0x6e, 0x66, 0x20, 0x80, 0x20, 0x96])))).toBe(
      'Fünf € –',
    );
  });

  it('UTF-16 without a mark is known by its zeros', async () => {
    expect(words(await take('text', utf16('plain words', true)))).toBe('plain words');
  });

  it('stay what they were when something is cut', async () => {
    const format = await formatNamed('text').load();
    const bytes = Uint8Array.from([0xff, 0xfe, ...utf16('one\r\n\r\ntwo\r\n\r\nthree', true)]);
    const removed = await format.remove?.(sourceOf(bytes, 'x'), [parseFragment('paragraph=2')]);
    expect(removed?.bytes).toEqual(Uint8Array.from([0xff, 0xfe, ...utf16('one\r\n\r\nthree', true)]));
  });
});

describe('places of plain text', () => {
  const text = utf8('first line\nsecond line\r\nthird\rfourth\n\nA paragraph.\n');
  // RFC 5147, section 2.2: positions lie between lines and characters, and a line end is one character.
  it.each([
    ['line=0,1', 'first line'],
    ['line=1,3', 'second line\nthird'],
    ['line=3', undefined],
    ['line=5,', 'A paragraph.'],
    ['line=,1', 'first line'],
    ['char=0,5', 'first'],
    ['char=11,17', 'second'],
    ['char=6,10;length=51', 'line'],
    ['paragraph=2', 'A paragraph.'],
    [':~:text=third', 'third'],
  ])('%s', async (place, expected) => {
    if (expected === undefined) await expect(take('text', text, place)).rejects.toMatchObject({ code: 'not-found' });
    else expect(words(await take('text', text, place))).toBe(expected);
  });

  it('refuse a text that is no longer what was noted', async () => {
    await expect(take('text', text, 'char=0,5;length=12')).rejects.toMatchObject({ code: 'invalid' });
    await expect(take('text', text, 'line=0,1;md5=00000000000000000000000000000000')).rejects.toMatchObject({
      code: 'invalid',
    });
  });

  it.each([
    ['paragraph=1', 'one two\n\nthree\n', 'three\n'],
    ['paragraph=2', 'one\n\ntwo\n', 'one\n'],
    [':~:text=two', 'one two three', 'one three'],
    [':~:text=three', 'one two three', 'one two'],
    [':~:text=two', 'one two, three', 'one, three'],
    ['line=1,2', 'a\nb\nc', 'a\nc'],
    ['char=1,2', 'a😀c', 'ac'],
  ])('cut %s out of %j', async (place, before, after) => {
    expect(await cut('text', utf8(before), place)).toBe(after);
  });
});

describe('separated values', () => {
  const folder = 'node_modules/csv-spectrum';

  it('are read as the public test set has them', async () => {
    const names = readdirSync(join(folder, 'csvs')).map((name) => name.replace(/\.csv$/, ''));
    expect(names.length).toBeGreaterThan(8);
    for (const name of names) {
      if (name === 'location_coordinates') continue; // its JSON has not the values of its CSV
      const rows = values(
        await take('csv', readFileSync(join(folder, 'csvs', `${name}.csv`)), '', { csv: { separator: ',' } }),
      );
      const expected = [JSON.parse(readFileSync(join(folder, 'json', `${name}.json`), 'utf8'))].flat() as Record<
        string,
        string
      >[];
      const [head = [], ...body] = rows;
      expect([name, body.map((row) => Object.fromEntries(head.map((key, at) => [key, row[at]])))]).toEqual([
        name,
        expected,
      ]);
    }
  });

  it.each([
    [
      'a comma',
      'a,b\n1,2\n3,4\n',
      [
        ['a', 'b'],
        ['1', '2'],
        ['3', '4'],
      ],
    ],
    [
      'a semicolon, with decimal commas',
      'a;b\n1,5;2\n3,5;4\n',
      [
        ['a', 'b'],
        ['1,5', '2'],
        ['3,5', '4'],
      ],
    ],
    [
      'a tab',
      'a\tb\r\n1,5\t2\r\n',
      [
        ['a', 'b'],
        ['1,5', '2'],
      ],
    ],
    ['what its first line says', 'sep=|\na|b,c\n', [['a', 'b,c']]],
    ['nothing: one column', 'a\nb\nc\n', [['a'], ['b'], ['c']]],
    [
      'a comma, with ragged rows',
      'a,b,c\n1\n2,3\n',
      [
        ['a', 'b', 'c'],
        ['1', '', ''],
        ['2', '3', ''],
      ],
    ],
    [
      'a comma, with comment lines',
      '# made by hand\n# twice\na,b\n1,2\n',
      [
        ['a', 'b'],
        ['1', '2'],
      ],
    ],
    [
      'a comma, a heading of #',
      '#,name\n1,oak\n',
      [
        ['#', 'name'],
        ['1', 'oak'],
      ],
    ],
  ])('are parted by %s', async (_, text, expected) => {
    expect(values(await take('csv', utf8(text)))).toEqual(expected);
  });

  it('are typed only where nothing is lost', async () => {
    const content = await take('csv', utf8('12,007,1.50,2026-05-03,2026-02-31x,"1,250",+44 20\n'));
    expect(content.shape === 'cells' && content.rows[0]?.map(({ type }) => type)).toEqual([
      'number',
      'text',
      'text',
      'date',
      'text',
      'text',
      'text',
    ]);
    expect(values(content)).toEqual([['12', '007', '1.50', '2026-05-03', '2026-02-31x', '1,250', '+44 20']]);
  });

  // RFC 7111, section 2
  const table = utf8('h1,h2,h3\na,b,c\nd,e,f\n');
  it.each([
    ['row=2', [['a', 'b', 'c']]],
    [
      'row=2-*',
      [
        ['a', 'b', 'c'],
        ['d', 'e', 'f'],
      ],
    ],
    [
      'row=1;3',
      [
        ['h1', 'h2', 'h3'],
        ['d', 'e', 'f'],
      ],
    ],
    ['col=2', [['h2'], ['b'], ['e']]],
    [
      'col=1;3',
      [
        ['h1', 'h3'],
        ['a', 'c'],
        ['d', 'f'],
      ],
    ],
    ['cell=2,2', [['b']]],
    [
      'cell=2,2-*,*',
      [
        ['b', 'c'],
        ['e', 'f'],
      ],
    ],
    [
      'B2:C3',
      [
        ['b', 'c'],
        ['e', 'f'],
      ],
    ],
    ['B:B', [['h2'], ['b'], ['e']]],
  ])('have the place %s', async (place, expected) => {
    expect(values(await take('csv', table, place))).toEqual(expected);
  });

  it.each([
    ['row=2', 'h1,h2,h3\nd,e,f\n'],
    ['col=2', 'h1,h3\na,c\nd,f\n'],
    ['col=1', 'h2,h3\nb,c\ne,f\n'],
    ['cell=2,2', 'h1,h2,h3\na,,c\nd,e,f\n'],
  ])('lose %s to a cut and nothing else', async (place, expected) => {
    expect(await cut('csv', table, place)).toBe(expected);
  });

  it('lose exactly the fields that were cut, however they are quoted', () =>
    fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.array(fc.string({ unit: fc.constantFrom('a', ' ', ',', '"', '\n', 'é', ';') }), {
            minLength: 2,
            maxLength: 4,
          }),
          { minLength: 1, maxLength: 5 },
        ),
        fc.nat(4),
        async (rows, pick) => {
          const filled = rows.map((row) => row.map((value, at) => `${at}${value}`));
          const source = Papa.unparse(filled, { newline: '\r\n' });
          const row = pick % filled.length;
          const tools = { csv: { separator: ',', comment: '' } };
          const format = await formatNamed('csv').load();
          const removed = await format.remove?.(
            sourceOf(utf8(source), 'x'),
            [parseFragment(`cell=${row + 1},2`)],
            tools,
          );
          const left = filled.map((each, at) =>
            at === row ? each.map((value, column) => (column === 1 ? '' : value)) : each,
          );
          const width = Math.max(...left.map((each) => each.length));
          const padded = left.map((each) => [...each, ...Array<string>(width - each.length).fill('')]);
          expect(values(await take('csv', removed?.bytes ?? utf8(''), '', tools))).toEqual(padded);
        },
      ),
      { numRuns: 150 },
    ));
});

describe('a text too long to be read as a whole', () => {
  const count = 1_300_000;
  const lines = (sign: string): string =>
    Array.from({ length: count }, (_, at) => `Crossing ${at + 1} of the ${sign}`).join('\r\n');
  const takeLines = async (bytes: Uint8Array, place: string) => {
    const format = await formatNamed('text').load();
    const taken = await format.read?.(sourceOf(bytes, 'log.txt'), parseFragment(place));
    return taken && { words: plainText(taken.content), place: taken.place };
  };

  it.each<[string, Uint8Array]>([
    ['UTF-8', Buffer.from(lines('Mårten'))],
    ['Windows-1252', Buffer.from(lines('Mårten'), 'latin1')],
    ['UTF-16', Buffer.from(`\ufeff${lines('Mårten')}`, 'utf16le')],
  ])('gives its lines, in %s', async (_, bytes) => {
    expect(bytes.length).toBeGreaterThan(bounds.text.most);
    expect(await takeLines(bytes, 'line=700000,700002')).toEqual({
      words: 'Crossing 700001 of the Mårten\nCrossing 700002 of the Mårten',
      place: 'line=700000,700002',
    });
    expect(await takeLines(bytes, `line=${count - 1}`).catch(({ code }) => code)).toBe('not-found');
    expect(await takeLines(bytes, `line=${count - 1},`)).toMatchObject({ words: `Crossing ${count} of the Mårten` });
    await expect(takeLines(bytes, `line=${count},`)).rejects.toMatchObject({
      reason: 'position-empty',
      params: { last: 1_300_000 },
    });
    await expect(takeLines(bytes, '')).rejects.toMatchObject({ reason: 'over-text' });
  });

  it('is outlined by stretches of lines, each of which can be taken', async () => {
    const bytes = Buffer.from(lines('ferry'));
    const { outline } = await formatNamed('text').load();
    const { entries = [] } = (await outline?.(sourceOf(bytes, 'log.txt'))) ?? {};
    expect(entries.length).toBeLessThanOrEqual(100);
    expect(entries[0]).toMatchObject({
      place: 'line=0,13000',
      label: 'Crossing 1 of the ferry',
      size: { kind: 'count.lines', params: { count: 13_000 } },
    });
    const last = entries.at(-1);
    expect((await takeLines(bytes, last?.place ?? ''))?.words.endsWith(`Crossing ${count} of the ferry`)).toBe(true);
  });
});
