// What is measured, each beside its floor. A task runs alone in a fresh process; loading its code is not counted.

import { bigDrawer, documentFile, longDocument, openDocumentFile, spreadsheet, workbook } from './generate.mjs';
import { keepingRows, keepingTasks } from './keeping.mjs';
import { syncingRows, syncingTasks } from './syncing.mjs';

const takeFrom = async (path, place) => {
  const { readFromFile } = await import('../dist/node/index.js');
  const { parseFragment } = await import('../dist/index.js');
  const { formatNamed } = await import('../dist/formats/index.js');
  await formatNamed(path.slice(path.lastIndexOf('.') + 1)).load();
  return () => readFromFile({ file: path, fragment: parseFragment(place) });
};

const pasteInto = async (path, place, content) => {
  const { planPaste } = await import('../dist/node/index.js');
  const { parseFragment } = await import('../dist/index.js');
  const { formatNamed } = await import('../dist/formats/index.js');
  await formatNamed(path.slice(path.lastIndexOf('.') + 1)).load();
  const insertion = { content, media: new Map(), style: 'local', side: 'after' };
  return () => planPaste([{ place: { file: path, fragment: parseFragment(place) }, insertion }]);
};

/** Words, marked words, lists, tables and headings in turn. */
const mixedSnippets = async (count) => {
  const { bold, bullets, doc, heading, paragraph, run, table } = await import('../dist/content/index.js');
  const words = (at) => `Snippet ${at} of what was gathered, with some words in it that somebody wanted to keep & use.`;
  const kinds = [
    (at) => run(words(at)),
    (at) => doc(paragraph('The ', bold('whole'), ' of it. ', words(at)), words(at)),
    (at) => doc(bullets(words(at), 'two', 'three')),
    (at) => doc(heading(2, `Part ${at}`), words(at)),
    (at) => doc(table(1, [`Item ${at}`, 'Price'], ['oak', '£12.00'], ['larch', '£9.50'])),
  ];
  return Array.from({ length: count }, (_, at) => ({ content: kinds[at % kinds.length](at) }));
};

/** 40,000 rows of words and numbers in turn. */
const manyCells = () => ({
  shape: 'cells',
  rows: Array.from({ length: 40_000 }, (_, row) =>
    Array.from({ length: 10 }, (_, column) =>
      column % 2 === 0
        ? { type: 'text', value: `cell ${row} ${column}` }
        : { type: 'number', value: row * column + 0.5, text: String(row * column + 0.5) },
    ),
  ),
});

/** The least markup around each cell, a row at a time. */
const leastMarkup = {
  docx: (words) => `<w:tc><w:p><w:r><w:t>${words}</w:t></w:r></w:p></w:tc>`,
  html: (words) => `<td>${words}</td>`,
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
  'paste 10,000 into document': {
    prepare: async () => {
      const { compose } = await import('../dist/index.js');
      const snippets = await mixedSnippets(10_000);
      const { content } = compose(snippets);
      const paste = await pasteInto(longDocument(), 'section=Section 3', content);
      return async () => (await paste()).files.length;
    },
    expected: 1,
  },
  'long document rewritten': {
    prepare: async () => {
      const { rewritePart } = await import('./floors.mjs');
      return () => rewritePart(longDocument(), 'word/document.xml', true);
    },
    expected: 1,
  },
  'small paste into sheet': {
    prepare: async () => {
      const content = { shape: 'cells', rows: [[{ type: 'number', value: 12, text: '12' }]] };
      const paste = await pasteInto(workbook(), 'Log!N50000', content);
      return async () => (await paste()).files.length;
    },
    expected: 1,
  },
  'sheet rewritten': {
    prepare: async () => {
      const { rewritePart } = await import('./floors.mjs');
      return () => rewritePart(workbook(), 'xl/worksheets/sheet1.xml', false);
    },
    expected: 1,
  },
  ...Object.fromEntries(
    ['html', 'markdown'].map((name) => [
      `compose to ${name}`,
      {
        prepare: async () => {
          const { compose } = await import('../dist/index.js');
          const { formatNamed } = await import('../dist/formats/index.js');
          const format = await formatNamed(name).load();
          const snippets = await mixedSnippets(10_000);
          return async () => {
            const bytes = await format.write(compose(snippets).content, { media: new Map() });
            return bytes.length > 1_000_000 ? 1 : 0;
          };
        },
        expected: 1,
      },
    ]),
  ),
  'plain text of the same': {
    prepare: async () => {
      const { plainText } = await import('../dist/index.js');
      const snippets = await mixedSnippets(10_000);
      return async () => {
        let text = '';
        for (const { content } of snippets) text += `${plainText(content)}\n\n`;
        return new TextEncoder().encode(text).length > 1_000_000 ? 1 : 0;
      };
    },
    expected: 1,
  },
  ...Object.fromEntries(
    ['docx', 'odt', 'html'].map((name) => [
      `many cells to ${name}`,
      {
        prepare: async () => {
          const { formatNamed } = await import('../dist/formats/index.js');
          const format = await formatNamed(name).load();
          const content = manyCells();
          return async () => ((await format.write(content, { media: new Map() })).length > 1_000_000 ? 1 : 0);
        },
        expected: 1,
      },
    ]),
  ),
  'many cells kept': {
    prepare: async () => {
      const { createDrawer } = await import('../dist/index.js');
      const drawer = createDrawer();
      const content = manyCells();
      await drawer.keep({ content: { shape: 'run', inlines: [{ type: 'text', text: 'first' }] } });
      return async () => (await drawer.keep({ content })).length;
    },
    expected: 1,
  },
  ...Object.fromEntries(
    Object.entries(leastMarkup).map(([name, cell]) => [
      `many cells in the least ${name}`,
      {
        prepare: async () => {
          const { deflateRawSync } = await import('node:zlib');
          const { rows } = manyCells();
          return () => {
            const lines = rows.map((row) => row.map((each) => cell(each.text ?? each.value)).join(''));
            const bytes = new TextEncoder().encode(lines.join('\n'));
            return (name === 'docx' ? deflateRawSync(bytes) : bytes).length > 1_000_000 ? 1 : 0;
          };
        },
        expected: 1,
      },
    ]),
  ),
  'many cells copied': {
    prepare: async () => {
      const content = manyCells();
      return () => structuredClone(content).rows.length;
    },
    expected: 40_000,
  },
  ...keepingTasks,
  ...syncingTasks,
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
  {
    what: 'paste 10,000 mixed snippets into a document of 1,000 pages',
    task: 'paste 10,000 into document',
    floor: 'long document rewritten',
    floorSays: 'native inflate, tokenise and native deflate of its main part',
    goal: 2,
  },
  {
    what: 'paste one number into a sheet of 100,000 × 12',
    task: 'small paste into sheet',
    floor: 'sheet rewritten',
    floorSays: 'native inflate and deflate of its part',
    goal: 1.5,
  },
  ...['html', 'markdown'].map((name) => ({
    what: `compose and write 10,000 snippets to ${name === 'html' ? 'HTML' : 'Markdown'}`,
    task: `compose to ${name}`,
    floor: 'plain text of the same',
    floorSays: 'their plain text, put together and encoded',
    goal: 3,
  })),
  ...['docx', 'odt', 'html'].map((name) => ({
    what: `write a range of 400,000 cells to .${name}`,
    task: `many cells to ${name}`,
    floor: `many cells in the least ${name === 'html' ? 'html' : 'docx'}`,
    floorSays: `the least markup around each${name === 'html' ? '' : ', and native deflate'}`,
    goal: name === 'html' ? 30 : 18,
  })),
  {
    what: 'keep a range of 400,000 cells',
    task: 'many cells kept',
    floor: 'many cells copied',
    floorSays: 'a structured clone of it',
    goal: 2.5,
  },
  ...keepingRows,
  ...syncingRows,
  { what: 'drawer --help', process: 'drawer --help', floor: 'node -e 0', floorSays: 'node -e 0', goal: 1.35 },
  {
    what: 'drawer list on 100,000 snippets',
    process: 'drawer list, 100,000 snippets',
    floor: 'node -e 0',
    floorSays: 'node -e 0',
    goal: 1.7,
  },
];
