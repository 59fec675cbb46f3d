// Takes the pictures in docs/screenshots/ anew, from the demo data. Needs Xvfb, xterm, ImageMagick, LibreOffice, poppler's
// pdftoppm and Chromium.
import { execFileSync, spawn } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, extname, join, resolve } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';

const out = resolve('docs/screenshots');
const scratch = mkdtempSync(join(tmpdir(), 'pictures-'));
const demo = join(scratch, 'demo');
mkdirSync(out, { recursive: true });
cpSync('examples/demo/files', demo, { recursive: true });
const environment = {
  ...process.env,
  HOME: scratch,
  DRAWER: join(scratch, 'own.drawer'),
  DISPLAY: ':77',
  PATH: `${scratch}:${process.env.PATH}`,
};
writeFileSync(
  join(scratch, 'drawer'),
  `#!/bin/sh\nexec '${process.execPath}' '${resolve('dist/bin/drawer.cjs')}' "$@"\n`,
  { mode: 0o755 },
);
const run = (command, ...words) =>
  execFileSync(command, words, { cwd: demo, env: environment, stdio: ['ignore', 'ignore', 'inherit'] });

/** Commands typed in a terminal window, one after another, and what they print. */
async function terminal(name, ...commands) {
  const script = commands
    .map((command) => `printf '%s\\n' "$ ${command.replaceAll('"', '\\"')}"; ${command}; echo`)
    .join('\n');
  const ended = join(scratch, 'ended');
  rmSync(ended, { force: true });
  writeFileSync(join(scratch, 'typed.sh'), `cd '${demo}'\n${script}\ntouch '${ended}'\nsleep 30\n`);
  const window = spawn(
    'xterm',
    [
      '-geometry',
      '156x46+0+0',
      '-fa',
      'DejaVu Sans Mono',
      '-fs',
      '10',
      '-bg',
      '#fbfaf5',
      '-fg',
      '#1f2d38',
      '-b',
      '14',
      '-e',
      'sh',
      join(scratch, 'typed.sh'),
    ],
    { env: environment, stdio: 'ignore' },
  );
  // A command waiting for key presses does not end by itself.
  const longest = name === 'pick' ? 10_000 : 60_000;
  for (const until = Date.now() + longest; !existsSync(ended) && Date.now() < until; ) await wait(100);
  await wait(500); // until the window shows it
  run('import', '-window', 'root', '-crop', '1280x800+0+0', join(out, `${name}.png`));
  window.kill();
}

/** The first page of a document, as an office program lays it out. */
function page(name, file) {
  run(
    'soffice',
    '--headless',
    `-env:UserInstallation=file://${scratch}/profile`,
    '--convert-to',
    'pdf',
    '--outdir',
    scratch,
    file,
  );
  run(
    'pdftoppm',
    '-png',
    '-r',
    '80',
    '-f',
    '1',
    '-l',
    '1',
    '-singlefile',
    join(scratch, `${basename(file, extname(file))}.pdf`),
    join(out, name),
  );
}

/** A drawer that is looked through, put in order, kept by rules, picked from and locked. */
async function keeping() {
  environment.DRAWER = join(scratch, 'keeping.drawer');
  run(
    'drawer',
    'copy',
    'survey.docx#section=Hull condition',
    'costs.xlsx#Timber!A1:D6',
    'letters.html',
    'log.md',
    'ferry.png',
  );
  for (const words of ['oak £12.00', 'larch £9.50', 'the key of the harbour office is 4417'])
    run('drawer', 'copy', '--text', words);
  run('drawer', 'append', '--onto', '7', '--text', ', delivered', '--join', 'nothing');
  run('drawer', 'mark', '2', '--label', 'Timber quotes', '--hold');
  await terminal(
    'find-and-mark',
    'drawer mark 8 --secret --label "Harbour office" --for 10m',
    'drawer list',
    'drawer find oak',
    'drawer find is:table larhc',
    'drawer find harbour',
    'drawer show 8',
  );
  run('drawer', 'copy', '--text', '£450.00');
  run('drawer', 'paste', 'last', '--into', 'costs.xlsx#Timber!C4', '--over');
  await terminal(
    'tidy-and-undo',
    'drawer list 2',
    'drawer renew 2 --yes',
    'drawer move 6 7 --top; drawer split 5 --by item',
    'drawer delete all --yes',
    'drawer undo',
    'drawer rules most=5 full=let-go < /dev/null',
    'drawer rules lasts=picture:7d,run:30d ignore=crew --pause 30m',
    'drawer rules',
  );
  await terminal(
    'pick',
    `(sleep 0.8; printf tim; sleep 0.5; printf '\\t'; sleep 0.5; printf '\\t'; sleep 20) | script -qec 'stty rows 44 cols 154; drawer paste --pick' /dev/null`,
  );
  environment.DRAWER_PASSPHRASE = 'copper rivets on oak';
  run('drawer', 'rules', '--lock');
  await terminal(
    'locked',
    'env -u DRAWER_PASSPHRASE drawer list < /dev/null',
    'DRAWER_PASSPHRASE=elm drawer list < /dev/null',
    'drawer list',
    'drawer check',
    'drawer rules --unlock',
  );
  delete environment.DRAWER_PASSPHRASE;
}

/** Documents that were pasted into and filled, as an office program shows them. */
async function documents() {
  environment.DRAWER = join(scratch, 'styles.drawer');
  run('drawer', 'copy', 'letters.html#table=1');
  run('drawer', 'copy', 'survey.docx#:~:text=Between%20frames,caulking%20there%20has%20gone');
  for (const [style, section] of [
    ['original', 'About the trust'],
    ['local', 'Background'],
    ['plain', 'Condition of the boat'],
  ])
    run(
      'drawer',
      'paste',
      '2',
      '1',
      '--style',
      style,
      '--into',
      `application.docx#section=${section}`,
      '--side',
      'end',
    );
  page('three-styles', join(demo, 'application.docx'));
  environment.DRAWER = join(scratch, 'stack.drawer');
  run('drawer', 'copy', 'costs.xlsx#Timber!A1:C3', 'costs.xlsx#Timber!A1:C6');
  run('drawer', 'paste', '1', '2', '--totals', 'sum,largest', '--into', 'stacked.docx');
  page('stacked-table', join(demo, 'stacked.docx'));
  environment.DRAWER = join(scratch, 'form.drawer');
  for (const words of [
    'The Marigold Ferry Trust',
    '12 June 2026',
    '£2,428.05',
    'Fifteen planks renewed in larch',
    'yes',
  ])
    run('drawer', 'copy', '--text', words);
  run(
    'drawer',
    'fill',
    'claim.docx',
    '--into',
    'claim-filled.docx',
    '--slot',
    'Claimant=1',
    '--slot',
    'Work done=4',
    '--slot',
    'Receipts enclosed=5',
  );
  page('filled-form', join(demo, 'claim-filled.docx'));
  cpSync('examples/demo/files/budget.xlsx', join(demo, 'budget.xlsx'));
  run('drawer', 'paste', '4', '--into', 'budget.xlsx#Lines!A4');
  run('drawer', 'copy', 'costs.xlsx#Timber!C2', 'costs.xlsx#Timber!C3');
  run('drawer', 'paste', '6', '7', '--into', 'budget.xlsx#Lines!B4', '--spread', 'down');
  page('budget-sheet', join(demo, 'budget.xlsx'));
}

const display = spawn('Xvfb', [':77', '-screen', '0', '1280x800x24'], { stdio: 'ignore' });
await wait(1000);
await terminal(
  'outline-and-copy',
  'drawer outline survey.docx',
  "drawer copy 'survey.docx#section=Hull condition' 'costs.xlsx#Timber!A1:D6' 'letters.html#:~:text=The%20first%20crossing,that%20morning'",
);
await terminal('list-and-show', 'drawer list', 'drawer show 2', 'drawer show 3');
environment.DRAWER = join(scratch, 'other.drawer');
await terminal(
  'gather',
  'drawer outline costs.xlsx',
  "drawer copy 'costs.xlsx#TimberPrices' 'history.odt#list=1' 'sailings.csv#row=2-3' 'log.md#section=5 May 2026' ferry.png",
  "drawer copy 'costs.xlsx#Timber!B2:B4' --each",
  'drawer append --text "to be renewed in May" --join space',
  'drawer list',
);
await terminal(
  'cut-and-undo',
  "drawer cut 'log.md#:~:text=Hauled%20out%20at%20high%20water' 'costs.xlsx#Timber!C2:C3'",
  'head -12 log.md',
  'drawer undo --yes',
  'head -12 log.md',
);
environment.DRAWER = join(scratch, 'paste.drawer');
run('drawer', 'copy', 'survey.docx#list=1', 'costs.xlsx#Timber!A1:C3', 'letters.html#list=1', '--text', 'oak');
run('drawer', 'copy', '--text', 'larch');
run('drawer', 'copy', '--text', 'elm');
await terminal(
  'paste-into',
  'drawer list',
  'drawer paste 4-6 --join sentence',
  "drawer paste 1 2 --into 'application.docx#section=Background' --side end --preview",
  "drawer paste 1 2 --into 'application.docx#section=Background' --side end --into log.md",
  'drawer undo',
  'drawer merge 4-6 --join bullets --label "Timber" --take-out',
  "drawer next --into 'budget.xlsx#Lines!E2'",
  'drawer next',
);
await keeping();
display.kill();
await documents();
rmSync(scratch, { recursive: true, force: true });
