import { expose } from 'comlink';
import {
  asBlocks,
  type Block,
  type Cell,
  cellText,
  DrawerError,
  type Fragment,
  type Media,
  parseFragment,
} from 'drawer';
import {
  blobSource,
  type Excerpt,
  editInPlace,
  type FormatName,
  formatNamed,
  formatOf,
  type Outline,
  type SheetLines,
  sourceOf,
  streamInflate,
} from 'drawer/formats';

/** An error as it crosses to the page. */
export interface Problem {
  readonly problem: Pick<DrawerError, 'problem' | 'params' | 'where'>;
}

/** A cell that holds what was looked for: which of the sheets, and its row and column in that, from 1. */
export interface FoundCell {
  readonly sheet: number;
  readonly row: number;
  readonly column: number;
}

/** How a place is read. */
export interface Reading {
  /** For a first look: at least so many of its first blocks. */
  readonly enough?: number;
  /** Hidden rows, columns and sheets too. */
  readonly hidden?: boolean;
}

/** A rectangle of cells that were changed; `sheet` is absent in a file of values. */
export interface ChangedCells {
  readonly sheet: string | undefined;
  /** From 1. */
  readonly row: number;
  readonly column: number;
  readonly rows: readonly (readonly Cell[])[];
}

/** A document as an editor has it: what it gave when it was opened, and its markup now. */
export interface EditedMarkup {
  readonly shown: readonly Block[];
  readonly markup: string;
  /** Whose name insertions carry, where they are tracked. */
  readonly author?: string | undefined;
}

/** A file with what was changed. */
export interface ChangedFile {
  readonly bytes: Uint8Array;
  readonly changes: number;
}

/** Nothing is wrong. */
type Checked = Readonly<Record<string, never>>;

/** Sheets that were looked through, so that the next letter need not read them again. */
const searched = new Map<string, { readonly rows: readonly (readonly Cell[])[]; readonly lines?: SheetLines }>();

let file: File | undefined;
let onRead: ((share: number) => void) | undefined;

/** Reads and changes one file off the page's own thread; ending the worker stops it at once. */
const reader = {
  /** Which file it is; `told` hears how much of it has been read, from 0 to 1. */
  open(chosen: File, told: (share: number) => void): void {
    file = chosen;
    onRead = told;
  },
  outline: (): Promise<Outline | Problem> =>
    guarded(async (source, format) => (await format.outline?.(source, { inflate: streamInflate })) ?? nothing),
  /** What a place holds. */
  read: (place: string, reading: Reading): Promise<Excerpt | Problem> =>
    guarded(async (source, format) => {
      const taken = await format.read?.(source, parseFragment(place), { inflate: streamInflate, ...reading });
      if (taken) return taken;
      throw new DrawerError('unsupported/format-not-read', { format: format.name });
    }),
  /** Cells of some sheets, by their places, that hold the words: at most so many. */
  findCells: (sheets: readonly string[], words: string, most: number): Promise<readonly FoundCell[] | Problem> =>
    guarded(async (source, format) => {
      const found: FoundCell[] = [];
      const sought = words.toLowerCase();
      for (const [sheet, place] of sheets.entries()) {
        let known = searched.get(place);
        if (!known) {
          const taken = await format.read?.(source, parseFragment(place), { inflate: streamInflate });
          const rows = taken?.content.shape === 'cells' ? taken.content.rows : [];
          known = { rows, ...(taken?.lines && { lines: taken.lines }) };
          searched.set(place, known);
        }
        const { rows, lines } = known;
        for (const [row, cells] of rows.entries())
          for (const [column, cell] of cells.entries()) {
            if (!cellText(cell).toLowerCase().includes(sought)) continue;
            found.push({ sheet, row: lines?.rows[row] ?? row + 1, column: lines?.columns[column] ?? column + 1 });
            if (found.length === most) return found;
          }
      }
      return found;
    }),
  /** What an editor's markup holds. */
  readMarkup: (markup: string): Promise<Excerpt | Problem> => answered(() => readMarkup(markup)),
  /** An editor's markup as a file of another format. */
  writeMarkup: (markup: string, name: FormatName, language: string): Promise<Uint8Array | Problem> =>
    answered(async () => {
      const { content, media } = await readMarkup(markup);
      const { write } = await formatNamed(name).load();
      const bytes = await write?.(content, { media, language, title: 'Draft' });
      if (bytes) return bytes;
      throw new DrawerError('usage/format-not-written', { endings: ['.html', '.md', '.docx', '.odt'] });
    }),
  /** Rows as a file. */
  writeCells: (rows: readonly (readonly Cell[])[], name: FormatName): Promise<Uint8Array | Problem> =>
    answered(async () => {
      const { write, create } = await formatNamed(name).load();
      const content = { shape: 'cells', rows } as const;
      const media: Media = new Map();
      const bytes =
        (await write?.(content, { media })) ??
        (await create?.({ kind: 'cells' }, { content, media, style: 'original', spread: 'range' }))?.bytes;
      if (bytes) return bytes;
      throw new DrawerError('usage/format-not-written', { endings: ['.csv', '.xlsx', '.ods'] });
    }),
  /** Checks that what is at a place may be changed and written back. */
  checkMayChange: (place: string): Promise<Checked | Problem> =>
    guarded(async (source, format) => {
      await format.checkMayChange?.(source, parseFragment(place), { inflate: streamInflate });
      return {};
    }),
  /** The document with what was changed in an editor. */
  changeDocument: ({ shown, markup, author }: EditedMarkup): Promise<ChangedFile | Problem> =>
    guarded(async (source) => {
      const { content, media } = await readMarkup(markup);
      const tracked = author === undefined ? {} : { author, date: new Date().toISOString() };
      const edited = { shown, edited: asBlocks(content), media, ...tracked };
      return editInPlace(source, edited, { inflate: streamInflate });
    }),
  /** The workbook or file of values with cells that were changed. */
  changeCells: (changed: readonly ChangedCells[]): Promise<ChangedFile | Problem> =>
    guarded(async (opened, { insert }) => {
      if (!insert) throw new DrawerError('unsupported/format-not-edited');
      let source: Pick<typeof opened, 'name' | 'size' | 'read'> = opened;
      let changes = 0;
      for (const { sheet, row, column, rows } of changed) {
        const width = rows[0]?.length ?? 0;
        const place: Fragment = {
          kind: 'cells',
          ...(sheet !== undefined && { sheet }),
          rows: { from: row, to: row + rows.length - 1 },
          columns: { from: column, to: column + width - 1 },
        };
        const insertion = {
          content: { shape: 'cells', rows },
          media: new Map<string, Uint8Array>(),
          style: 'local',
          spread: 'range',
          over: true,
        } as const;
        const { bytes } = await insert(source, place, insertion, { inflate: streamInflate });
        source = sourceOf(bytes, opened.name);
        changes += rows.length * width;
      }
      return { bytes: await source.read(0, source.size), changes };
    }),
};
export type Reader = typeof reader;

/** What an editor's markup holds: every space and blank line of it counts, at its ends too, where pages pass over them. */
async function readMarkup(markup: string): Promise<Excerpt> {
  const page = `<meta charset="utf-8"><div style="white-space: pre-wrap"><hr>${markup}<hr></div>`;
  const { read } = await formatNamed('html').load();
  const source = sourceOf(new TextEncoder().encode(page), 'draft.html');
  const taken = (await read?.(source, { kind: 'whole' })) as Excerpt;
  const blocks = asBlocks(taken.content).slice(1, -1);
  const [only] = blocks;
  // An editor with nothing in it has one line for the caret.
  const isNothing = blocks.length === 1 && only?.type === 'paragraph' && only.inlines.length === 0;
  return { ...taken, content: { shape: 'blocks', blocks: isNothing ? [] : blocks } };
}

const nothing: Outline = { entries: [], notes: [] };

type Work<T> = (
  source: ReturnType<typeof blobSource>,
  format: Awaited<ReturnType<Awaited<ReturnType<typeof formatOf>>['load']>>,
) => Promise<T>;

/** Work on the file that is open. */
const guarded = <T>(work: Work<T>): Promise<T | Problem> =>
  answered(async () => {
    if (!file) throw new DrawerError('usage/file-not-open');
    const { size } = file;
    const bare = blobSource(file, file.name);
    const source: typeof bare = {
      ...bare,
      read: (start, end) => {
        onRead?.(end / Math.max(1, size));
        return bare.read(start, end);
      },
    };
    return work(source, await (await formatOf(source)).load());
  });

/** What is wrong crosses to the page as a value. */
async function answered<T>(work: () => Promise<T>): Promise<T | Problem> {
  try {
    return await work();
  } catch (error) {
    if (DrawerError.is(error)) {
      const { problem, params, where = file?.name } = error;
      return { problem: { problem, params, where } };
    }
    throw error;
  }
}

expose(reader);
