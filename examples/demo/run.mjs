// The main job on the demo data, told as it goes: gather, look over, paste. Everything goes to out/ beside this file.
import { spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join, relative } from 'node:path';
import { followCopies, SimulatedDesktop } from 'drawer/desktop';
import { english, Words } from 'drawer/messages';
import { openDrawer } from 'drawer/node';

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

/** Copies in several programs, gathered as `drawer copy clipboard: --follow` does it. */
async function gatherCopies() {
  const kept = await openDrawer(join(out, 'demo.drawer'));
  const desktop = new SimulatedDesktop();
  const words = await new Words(english).load();
  const heard = new EventTarget();
  const tell = (line) => {
    console.log(`  ${line}`);
    heard.dispatchEvent(new Event('told'));
  };
  const followed = await followCopies(desktop, {
    keep: async ({ content, media, program, title }) => {
      const [result] = await kept.keep({ content, media, origin: { program, title } });
      tell(words.kept(result));
    },
    passedOver: (problem) => tell(words.problem(problem)),
  });
  const copies = [
    ['Browser', 'Timetable', 'text/html', '<p>Crossings in <b>May</b>: eight a day.</p>'],
    ['Spreadsheet', 'fares.ods', 'UTF8_STRING', 'Fare\tPrice\nAdult\t£4.50\nChild\t£2.25'],
    ['Password keeper', '', 'x-kde-passwordManagerHint', 'secret'],
    ['Editor', 'notes.txt', 'UTF8_STRING', 'Ask the harbour office about the mooring.'],
  ];
  for (const [name, title, form, text] of copies) {
    const told = once(heard, 'told');
    desktop.bringToFront({ name, title });
    desktop.copy(new Map([[form, new TextEncoder().encode(text)]]));
    await told;
  }
  await followed.stop();
  await kept.close();
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

console.log(
  '\nThe same beside other programs: what is copied in them is gathered in order (the programs are simulated here).',
);
await gatherCopies();
drawer('list');

console.log('\nDone. Open these:');
for (const name of readdirSync(out).filter((each) => each.startsWith('draft.')))
  console.log(`  ${relative(process.cwd(), join(out, name))}`);
if (!existsSync(join(out, 'draft.docx'))) process.exit(1);
