// The main job on the demo data, told as it goes: gather, look over, paste. Everything goes to out/ beside this file.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join, relative } from 'node:path';

const files = join(import.meta.dirname, 'files');
const out = join(import.meta.dirname, 'out');
const command = join(import.meta.dirname, '../../dist/bin/drawer.cjs');

rmSync(out, { recursive: true, force: true });
mkdirSync(out);

function drawer(...words) {
  const shown = words.map((word) => (/^[\w./=-]+$/.test(word) ? word : `'${word}'`)).join(' ');
  console.log(`\n$ drawer ${shown}`);
  const { status } = spawnSync(process.execPath, [command, ...words], {
    cwd: files,
    stdio: 'inherit',
    env: { ...process.env, DRAWER: join(out, 'demo.drawer') },
  });
  if (status !== 0) process.exit(status ?? 1);
}

console.log('Somebody writes a grant application for the ferry Marigold, from a survey, a cost workbook and a letter.');
drawer('outline', 'survey.docx');
drawer(
  'copy',
  'survey.docx#section=Hull condition',
  'costs.xlsx#Timber!A1:D6',
  'letters.html#:~:text=The%20first%20crossing,that%20morning',
);
drawer('list');
drawer('show', '2');
for (const name of ['draft.docx', 'draft.html', 'draft.md']) drawer('paste', 'all', '--into', join('..', 'out', name));

console.log('\nDone. Open these:');
for (const name of readdirSync(out).filter((each) => each.startsWith('draft.')))
  console.log(`  ${relative(process.cwd(), join(out, name))}`);
if (!existsSync(join(out, 'draft.docx'))) process.exit(1);
