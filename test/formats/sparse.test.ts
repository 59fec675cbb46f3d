import { cellText, columnLetters, describe as description, noMedia, parseContent, parseFragment } from 'drawer';
import { type Format, formatNamed, sourceOf } from 'drawer/formats';
import { nodeTools } from 'drawer/node';
import * as fc from 'fast-check';
import { type CellsContent, offsets } from '../../src/content/index.ts';
import { workbookSource } from '../support/office.ts';
import { noteInWords } from '../support/said.ts';

const tools = nodeTools;
const load = (name: 'xlsx' | 'ods' | 'markdown') => formatNamed(name).load() as Promise<Required<Format>>;

interface Place {
  readonly row: number;
  readonly column: number;
}
const last = { row: 1_048_576, column: 16_384 };
const near = (end: number) => fc.oneof(fc.integer({ min: 1, max: 300 }), fc.integer({ min: 1, max: end }));
const places = fc.uniqueArray(fc.record({ row: near(last.row), column: near(last.column) }), {
  minLength: 1,
  maxLength: 12,
  selector: ({ row, column }) => `${row},${column}`,
});
const nameOf = ({ row, column }: Place): string => `${columnLetters(column)}${row}`;

function bookOf(cells: readonly Place[], behind = '') {
  const rows = new Map<number, Place[]>();
  for (const cell of [...cells].sort((one, other) => one.row - other.row || one.column - other.column))
    rows.set(cell.row, [...(rows.get(cell.row) ?? []), cell]);
  const data = [...rows].map(
    ([row, line]) =>
      `<row r="${row}">${line.map((cell) => `<c r="${nameOf(cell)}" t="inlineStr"><is><t>${nameOf(cell)}</t></is></c>`).join('')}</row>`,
  );
  return workbookSource({ sheets: { S: `<sheetData>${data.join('')}</sheetData>${behind}` } });
}

/** Each word with the cell in which it stands, when the range begins at a corner. */
function standing(content: CellsContent, corner: Place): Map<string, string> {
  const rows = offsets(content.rows.length, content.gaps?.rows);
  const columns = offsets(content.rows[0]?.length ?? 0, content.gaps?.columns);
  return new Map(
    content.rows.flatMap((line, down) =>
      line.flatMap((cell, across): [string, string][] =>
        cell.type === 'empty'
          ? []
          : [
              [
                cellText(cell),
                nameOf({ row: corner.row + (rows[down] ?? 0), column: corner.column + (columns[across] ?? 0) }),
              ],
            ],
      ),
    ),
  );
}

async function taken(name: 'xlsx' | 'ods', bytes: ReturnType<typeof sourceOf>, place = 'S'): Promise<CellsContent> {
  const { content } = await (await load(name)).read(bytes, parseFragment(place), tools);
  if (content.shape !== 'cells') throw new Error(`${content.shape} was taken`);
  return content;
}

const cornerOf = (cells: readonly Place[]): Place => ({
  row: Math.min(...cells.map(({ row }) => row)),
  column: Math.min(...cells.map(({ column }) => column)),
});

describe('cells far apart', () => {
  test('are held by what they are, wherever they stand, and land as far apart', async () => {
    await fc.assert(
      fc.asyncProperty(places, fc.constantFrom('xlsx' as const, 'ods' as const), async (cells, into) => {
        const content = await taken('xlsx', bookOf(cells));
        const corner = cornerOf(cells);
        const expected = new Map(cells.map((cell) => [nameOf(cell), nameOf(cell)]));
        expect(standing(content, corner)).toEqual(expected);
        expect(parseContent(content)).toEqual(content);
        expect(content.rows.length).toBeLessThanOrEqual(18 * cells.length);
        expect(content.rows[0]?.length ?? 0).toBeLessThanOrEqual(18 * cells.length);

        const { create, insert } = await load(into);
        const insertion = { content, media: noMedia, style: 'local' as const };
        const made = await create(parseFragment(`S!${nameOf(corner)}`), insertion);
        expect(standing(await taken(into, sourceOf(made.bytes, `x.${into}`)), corner)).toEqual(expected);
        const again = sourceOf(made.bytes, `x.${into}`);
        await expect(insert(again, parseFragment(`S!${nameOf(corner)}`), insertion, tools)).rejects.toMatchObject({
          code: 'consent',
        });
      }),
      { numRuns: 40 },
    );
  });

  test('say how large the range is, and what a document has no place for', async () => {
    const content = await taken('xlsx', bookOf([{ row: 1, column: 1 }, last]));
    expect(description(content)).toEqual({ kind: 'table', params: { rows: 1_048_576, columns: 16_384 } });
    expect(content.rows).toHaveLength(2);
    const { insert } = await load('markdown');
    const { bytes, notes } = await insert(
      sourceOf(new TextEncoder().encode('Before.\n'), 'a.md'),
      { kind: 'whole' },
      { content, media: noMedia, style: 'local' },
      tools,
    );
    expect(new TextDecoder().decode(bytes)).toMatch(/A1(.|\n)*XFD1048576/);
    expect(notes.map(noteInWords)).toEqual(['1,048,574 blank rows left out', '16,382 blank columns left out']);
  });

  test('keep merged areas that reach over what is blank', async () => {
    const cells = [
      { row: 1, column: 1 },
      { row: 900, column: 3 },
    ];
    const content = await taken('xlsx', bookOf(cells, '<mergeCells count="1"><mergeCell ref="A1:A500"/></mergeCells>'));
    expect(content.rows[0]?.[0]).toMatchObject({ rowSpan: 2 });
    for (const into of ['xlsx', 'ods'] as const) {
      const { create } = await load(into);
      const made = await create(parseFragment('S!A1'), { content, media: noMedia, style: 'local' });
      const again = await taken(into, sourceOf(made.bytes, `x.${into}`));
      expect(again).toMatchObject({ rows: content.rows, gaps: content.gaps });
    }
  });

  test('stand hidden or not as their sheet says', async () => {
    const row = (number: number, hidden = '') =>
      `<row r="${number}"${hidden}><c r="A${number}"><v>${number}</v></c></row>`;
    const book = workbookSource({
      sheets: { S: `<sheetData>${row(1)}${row(500, ' hidden="1"')}${row(501)}${row(9000)}</sheetData>` },
    });
    const { content, notes } = await (await load('xlsx')).read(book, parseFragment('S'), tools);
    expect(content).toMatchObject({
      gaps: {
        rows: [
          { before: 1, count: 498 },
          { before: 2, count: 8498 },
        ],
      },
    });
    expect(description(content)).toEqual({ kind: 'table', params: { rows: 8_999, columns: 1 } });
    expect(notes).toEqual([{ kind: 'hidden-row-left', count: 1 }]);
  });
});
