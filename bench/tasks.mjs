// What is measured, each beside its floor. A task runs alone in a fresh process; loading its code is not counted.
import { bigDrawer, documentFile, openDocumentFile, spreadsheet, workbook } from './generate.mjs';

const takeFrom = async (path, place) => {
  const { takeFromFile } = await import('../dist/node/index.js');
  const { parseFragment } = await import('../dist/index.js');
  const { formatNamed } = await import('../dist/formats/index.js');
  await formatNamed(path.slice(path.lastIndexOf('.') + 1)).load();
  return () => takeFromFile({ file: path, fragment: parseFragment(place) });
};

/** `prepare` gives the work to be timed; its result must equal `expected`, or the figure means nothing. */
export const tasks = {
  'sheet-top': {
    prepare: async () => {
      const take = await takeFrom(workbook(), 'Log!B2:D9');
      return async () => (await take()).content.rows.flat().length;
    },
    expected: 24,
  },
  'sheet-top floor': {
    prepare: async () => {
      const { sheetTop } = await import('./floors.mjs');
      return () => sheetTop(workbook());
    },
    expected: 24,
  },
  'sheet row 90,000': {
    prepare: async () => {
      const take = await takeFrom(workbook(), 'Log!B90000:D90100');
      return async () => (await take()).content.rows.flat().length;
    },
    expected: 303,
  },
  'sheet inflate': {
    prepare: async () => {
      const { inflateSheet } = await import('./floors.mjs');
      return () => inflateSheet(workbook());
    },
    expected: 1,
  },
  'whole sheet': {
    prepare: async () => {
      const take = await takeFrom(workbook(), 'Log');
      return async () => (await take()).content.rows.length;
    },
    expected: 100_000,
  },
  'whole sheet floor': {
    prepare: async () => {
      const { wholeSheet } = await import('./floors.mjs');
      return () => wholeSheet(workbook());
    },
    expected: 100_000,
  },
  'whole sheet, exceljs': {
    prepare: async () => {
      const { default: exceljs } = await import('exceljs');
      return async () => {
        const book = new exceljs.Workbook();
        await book.xlsx.readFile(workbook());
        return book.worksheets[0].rowCount;
      };
    },
    expected: 100_000,
  },
  'small sheet, xlsx': {
    prepare: async () => {
      const take = await takeFrom(spreadsheet('xlsx'), 'Log');
      return async () => (await take()).content.rows.length;
    },
    expected: 5_000,
  },
  'small sheet, ods': {
    prepare: async () => {
      const take = await takeFrom(spreadsheet('ods'), 'Log');
      return async () => (await take()).content.rows.length;
    },
    expected: 5_000,
  },
  'whole document, odt': {
    prepare: async () => {
      const take = await takeFrom(openDocumentFile(), '');
      return async () => (await take()).content.blocks.length;
    },
    expected: 10_300,
  },
  'whole document, mammoth': {
    prepare: async () => {
      const { default: mammoth } = await import('mammoth');
      return async () => ((await mammoth.convertToHtml({ path: documentFile() })).value.length > 100_000 ? 1 : 0);
    },
    expected: 1,
  },
  section: {
    prepare: async () => {
      const take = await takeFrom(documentFile(), 'section=Section 120');
      return async () => (await take()).content.blocks.length;
    },
    expected: 52,
  },
  'whole document': {
    prepare: async () => {
      const take = await takeFrom(documentFile(), '');
      return async () => (await take()).content.blocks.length;
    },
    expected: 10_300,
  },
  'document floor': {
    prepare: async () => {
      const { documentEvents } = await import('./floors.mjs');
      return () => documentEvents(documentFile());
    },
    expected: 12_200,
  },
};

/** Whole processes, timed from outside. */
export const processes = {
  'node -e 0': () => ['-e', '0'],
  'drawer --help': () => ['dist/bin/drawer.cjs', '--help'],
  'drawer list, 100,000 snippets': async () => ['dist/bin/drawer.cjs', 'list', '--drawer', await bigDrawer()],
};

/** A row of the table: what, beside what, and the most that the ratio may be. */
export const rows = [
  {
    what: 'take B2:D9 from a sheet of 100,000 × 12',
    task: 'sheet-top',
    floor: 'sheet-top floor',
    floorSays: 'zip directory, native inflate in chunks, tokenise to row 9',
    goal: 1.5,
  },
  {
    what: 'take B90000:D90100 from it',
    task: 'sheet row 90,000',
    floor: 'sheet inflate',
    floorSays: 'native inflate of the part alone',
    goal: 3,
  },
  {
    what: 'take all of it',
    task: 'whole sheet',
    floor: 'whole sheet floor',
    floorSays: 'native inflate, a plain scanner of rows, values and strings',
    goal: 2,
  },
  {
    what: 'take all of it',
    task: 'whole sheet',
    floor: 'whole sheet, exceljs',
    floorSays: 'exceljs 4.4, the workbook read',
    goal: undefined,
    needs: 'exceljs',
  },
  {
    what: 'take all of 5,000 × 12 from .ods',
    task: 'small sheet, ods',
    floor: 'small sheet, xlsx',
    floorSays: 'ours from .xlsx',
    goal: 1.5,
  },
  {
    what: 'take a section from a document of 10,000 paragraphs and 100 tables',
    task: 'section',
    floor: 'document floor',
    floorSays: 'native inflate and tokenise of its main part',
    goal: 1.5,
  },
  {
    what: 'take the whole of that document',
    task: 'whole document',
    floor: 'document floor',
    floorSays: 'the same',
    goal: 2,
  },
  {
    what: 'take the whole of that document',
    task: 'whole document',
    floor: 'whole document, mammoth',
    floorSays: 'mammoth 1.13, to HTML',
    goal: undefined,
    needs: 'mammoth',
  },
  {
    what: 'take the whole of it from .odt',
    task: 'whole document, odt',
    floor: 'whole document',
    floorSays: 'ours from .docx',
    goal: 1.5,
  },
  { what: 'drawer --help', process: 'drawer --help', floor: 'node -e 0', floorSays: 'node -e 0', goal: 1.25 },
  {
    what: 'drawer list on 100,000 snippets',
    process: 'drawer list, 100,000 snippets',
    floor: 'node -e 0',
    floorSays: 'node -e 0',
    goal: 1.4,
  },
];
