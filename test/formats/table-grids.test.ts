import { type Cell, type Content, noMedia, parseFragment, type Table } from 'drawer';
import { type Format, type FormatName, formatNamed, type Insertion, type Source, sourceOf } from 'drawer/formats';
import { nodeTools } from 'drawer/node';
import * as fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import { tableGrid } from '../../src/content/index.ts';

const tools = nodeTools;
const kinds = ['docx', 'odt', 'html', 'markdown'] as const;
const load = (kind: FormatName) => formatNamed(kind).load() as Promise<Required<Format>>;
const named = (kind: FormatName, bytes: Uint8Array): Source =>
  sourceOf(bytes, `x.${kind === 'markdown' ? 'md' : kind}`);

const range = (rows: readonly (readonly string[])[]): Content => ({
  shape: 'cells',
  rows: rows.map((row) => row.map((value): Cell => (value === '' ? { type: 'empty' } : { type: 'text', value }))),
});

/** A document of some words, a table and more words. */
async function written(kind: FormatName, table: Table): Promise<Source> {
  const paragraph = (text: string) => ({ type: 'paragraph' as const, inlines: [{ type: 'text' as const, text }] });
  const content: Content = { shape: 'blocks', blocks: [paragraph('Before.'), table, paragraph('Behind.')] };
  return named(kind, await (await load(kind)).write(content, { media: noMedia }));
}

const tableOf = (rows: readonly (readonly string[])[]): Table => ({
  type: 'table',
  headerRows: 1,
  rows: rows.map((row) => ({
    cells: row.map((text) => ({
      blocks: text === '' ? [] : [{ type: 'paragraph', inlines: [{ type: 'text', text }] }],
    })),
  })),
});

/** The words of each place of the table, those of a span in each of its places; what stands around it is the same. */
async function shown(kind: FormatName, source: Source): Promise<string[][]> {
  const { content } = await (await load(kind)).read(source, { kind: 'whole' }, tools);
  if (content.shape !== 'blocks') throw new Error(content.shape);
  expect(content.blocks.map(({ type }) => type)).toEqual(['paragraph', 'table', 'paragraph']);
  return tableGrid(content.blocks[1] as Table).map((line) =>
    line.map((placed) => JSON.stringify(placed?.cell.blocks ?? []).match(/"text":"([^"]*)"/)?.[1] ?? ''),
  );
}

async function insert(
  kind: FormatName,
  source: Source,
  place: string,
  rows: string[][],
  more: Partial<Insertion> = {},
) {
  const insertion = { content: range(rows), media: noMedia, style: 'local' as const, ...more };
  const made = await (await load(kind)).insert(source, parseFragment(place), insertion, tools);
  return named(kind, made.bytes);
}

/** What a file holds, unpacked where it is a package. */
const partsOf = (kind: FormatName, bytes: Uint8Array): Record<string, string> =>
  kind === 'docx' || kind === 'odt'
    ? Object.fromEntries(Object.entries(unzipSync(bytes)).map(([name, part]) => [name, strFromU8(part)]))
    : { text: strFromU8(bytes) };

const word = fc.stringMatching(/^[a-z]{2,6}$/);
const gridOf = (rows: number, columns: number) =>
  fc.array(fc.array(word, { minLength: columns, maxLength: columns }), { minLength: rows, maxLength: rows });
const sizes = fc.record({ rows: fc.integer({ min: 2, max: 4 }), columns: fc.integer({ min: 2, max: 4 }) });
const table = sizes.chain(({ rows, columns }) => gridOf(rows, columns));

describe.each(kinds)('rows of cells in a table of %s', (kind) => {
  test('go over cells, and on in new rows or columns where it ends', async () => {
    await fc.assert(
      fc.asyncProperty(
        table,
        sizes.chain(({ rows, columns }) => gridOf(rows, columns)),
        fc.nat(3),
        fc.nat(3),
        async (before, values, down, across) => {
          const [row, column] = [Math.min(down, before.length - 1), Math.min(across, (before[0]?.length ?? 1) - 1)];
          const height = Math.max(before.length, row + values.length);
          const width = Math.max(before[0]?.length ?? 0, column + (values[0]?.length ?? 0));
          const source = await written(kind, tableOf(before));
          const place = `table=1!${'ABCD'[column]}${row + 1}`;
          const pasting = insert(kind, source, place, values, { over: true });
          if (height > before.length && width > (before[0]?.length ?? 0))
            return void (await expect(pasting).rejects.toMatchObject({ code: 'unsupported' }));
          const expected = Array.from({ length: height }, (_, at) =>
            Array.from(
              { length: width },
              (_, beside) => values[at - row]?.[beside - column] ?? before[at]?.[beside] ?? '',
            ),
          );
          expect(await shown(kind, await pasting)).toEqual(expected);
          await expect(insert(kind, source, place, values)).rejects.toMatchObject({ code: 'consent' });
        },
      ),
      { numRuns: 15 },
    );
  });

  test('are new rows and columns beside those named, and whole ones can be cut again', async () => {
    await fc.assert(
      fc.asyncProperty(table, word, fc.nat(3), fc.boolean(), async (before, added, at, isFront) => {
        const [height, width] = [before.length, before[0]?.length ?? 0];
        const source = await written(kind, tableOf(before));
        const { remove } = await load(kind);

        const row = 1 + Math.min(at, height - 2);
        const line = Array.from({ length: width }, () => added);
        const side = isFront ? ('before' as const) : ('after' as const);
        const taller = await insert(kind, source, `table=1!row=${row + 1}`, [line], { side });
        expect(await shown(kind, taller)).toEqual(before.toSpliced(row + (isFront ? 0 : 1), 0, line));
        const place = `table=1!row=${row + (isFront ? 1 : 2)}`;
        expect(await shown(kind, named(kind, (await remove(taller, [parseFragment(place)], tools)).bytes))).toEqual(
          before,
        );

        const column = Math.min(at, width - 1);
        const letter = 'ABCDE'[column];
        const wider = await insert(
          kind,
          source,
          `table=1!${letter}:${letter}`,
          before.map(() => [added]),
          { side },
        );
        expect(await shown(kind, wider)).toEqual(
          before.map((each) => each.toSpliced(column + (isFront ? 0 : 1), 0, added)),
        );
        const gone = 'ABCDE'[column + (isFront ? 0 : 1)];
        const narrow = await remove(wider, [parseFragment(`table=1!${gone}:${gone}`)], tools);
        expect(partsOf(kind, narrow.bytes)).toEqual(partsOf(kind, await source.read(0, source.size)));
      }),
      { numRuns: 12 },
    );
  });

  test('come in at the end without the heading that is there', async () => {
    const source = await written(
      kind,
      tableOf([
        ['wood', 'price'],
        ['oak', '3'],
      ]),
    );
    const longer = await insert(
      kind,
      source,
      'table=1',
      [
        ['Wood', 'Price'],
        ['elm', '5'],
        ['ash', '6'],
      ],
      { side: 'end' },
    );
    expect(await shown(kind, longer)).toEqual([
      ['wood', 'price'],
      ['oak', '3'],
      ['elm', '5'],
      ['ash', '6'],
    ]);
  });
});

describe.each(['docx', 'odt', 'html'] as const)('cells over several rows and columns in %s', (kind) => {
  const cell = (text: string, span = {}) => ({
    blocks: [{ type: 'paragraph' as const, inlines: [{ type: 'text' as const, text }] }],
    ...span,
  });
  const spanned: Table = {
    type: 'table',
    rows: [
      { cells: [cell('a'), cell('b', { columnSpan: 2 })] },
      { cells: [cell('c', { rowSpan: 2 }), cell('d'), cell('e')] },
      { cells: [cell('f'), cell('g')] },
      { cells: [cell('h'), cell('i'), cell('j')] },
    ],
  };

  test('grow over what comes in between, and are in the way of what would stand in them', async () => {
    const source = await written(kind, spanned);
    const before = [
      ['a', 'b', 'b'],
      ['c', 'd', 'e'],
      ['c', 'f', 'g'],
      ['h', 'i', 'j'],
    ];
    expect(await shown(kind, source)).toEqual(before);
    const taller = await insert(kind, source, 'table=1!row=3', [['', 'x', 'y']], { side: 'before' });
    expect(await shown(kind, taller)).toEqual(before.toSpliced(2, 0, ['c', 'x', 'y']));
    const longer = await insert(kind, source, 'table=1', [['x', 'y', 'z']], { side: 'end' });
    expect(await shown(kind, longer)).toEqual([...before, ['x', 'y', 'z']]);
    const over = await insert(
      kind,
      source,
      'table=1!B3',
      [
        ['x', 'y'],
        ['z', 'w'],
      ],
      { over: true },
    );
    expect(await shown(kind, over)).toEqual([...before.slice(0, 2), ['c', 'x', 'y'], ['h', 'z', 'w']]);
    for (const [place, rows, more] of [
      ['table=1!A3', [['x', 'y']], { over: true }],
      ['table=1!row=3', [['x', 'y', 'z']], { side: 'before' as const }],
      ['table=1!A:A', [['x'], ['y'], ['z'], ['w']], { side: 'after' as const }],
    ] as const)
      await expect(insert(kind, source, place, rows as unknown as string[][], more)).rejects.toMatchObject({
        code: 'unsupported',
      });
  });
});
