// What is measured, each beside its floor. A task runs alone in a fresh process; loading its code is not counted.
import { bigDrawer, documentFile, workbook } from './generate.mjs';

const takeFrom = async (path, place) => {
  const { takeFromFile } = await import('../dist/node/index.js');
  const { parseFragment } = await import('../dist/index.js');
  const { formatNamed } = await import('../dist/formats/index.js');
  await formatNamed(path.endsWith('docx') ? 'docx' : 'xlsx').load();
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
    goal: 2,
  },
  {
    what: 'take a section from a document of 10,000 paragraphs and 100 tables',
    task: 'section',
    floor: 'document floor',
    floorSays: 'native inflate and tokenise of its main part',
    goal: 2,
  },
  {
    what: 'take the whole of that document',
    task: 'whole document',
    floor: 'document floor',
    floorSays: 'the same',
    goal: undefined,
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
