import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type DrawerError, exportSnippets, parseFragment, run } from 'drawer';
import { capabilities, formatNamed, formatNames, sourceOf } from 'drawer/formats';
import { demoFileOf, demoFiles } from '../support/cli.ts';

/** One place of each kind; those of a file's own come second. */
const samples = {
  whole: '',
  section: 'section=x',
  bookmark: 'bookmark=x',
  paragraph: 'paragraph=1',
  table: 'table=1',
  list: 'list=1',
  picture: 'picture=1',
  cells: 'A1:B2',
  name: 'Hours',
  quote: ':~:text=a',
  line: 'line=0,1',
  char: 'char=0,3',
  row: 'row=1',
  col: 'col=1',
  cell: 'cell=1,1',
  snippets: '1',
} as const;

const snippet = {
  id: 'a',
  order: 'a0',
  origin: {},
  takenAt: '2026-05-03T00:00:00Z',
  facts: { shape: 'run', what: { kind: 'words' }, preview: 'x', characters: 1, words: 1, lines: 1, bytes: 1 },
  content: run('x'),
} as const;

it.each(formatNames)('%s offers the kinds of places it says, and no others', async (name) => {
  const file = demoFileOf[name];
  const bytes =
    file === undefined
      ? new TextEncoder().encode(JSON.stringify(exportSnippets([snippet], new Map())))
      : new Uint8Array(readFileSync(join(demoFiles, file)));
  const format = await formatNamed(name).load();
  const served: string[] = [];
  for (const [kind, place] of Object.entries(samples)) {
    try {
      await format.read?.(sourceOf(bytes, 'x'), parseFragment(place));
      served.push(kind);
    } catch (error) {
      // A place that is only missing from this file is of a kind that the format offers.
      const { code } = error as DrawerError;
      expect([kind, ['not-found', 'unsupported']]).toEqual([kind, expect.arrayContaining([code])]);
      if (code === 'not-found') served.push(kind);
    }
  }
  expect(served.sort()).toEqual([...capabilities[name].places].sort());
});
