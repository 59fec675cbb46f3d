// Copies and pastes between the command and an office suite (LibreOffice), each by its own means, on an X server without a
// screen: what is copied in Writer and Calc and kept is held against what their files hold, and what is put on the clipboard
// and pasted there against what was kept. Prints what it saw; ends with 1 where something differs. Needs Xvfb and soffice.
import { execFileSync, spawn } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { setTimeout as pass } from 'node:timers/promises';
import x11 from 'x11';
import { offeringOf, openClipboard } from '../dist/desktop/index.js';
import { openDrawer } from '../dist/node/index.js';

const root = resolve(import.meta.dirname, '..');
const work = mkdtempSync(join(tmpdir(), 'drawer-office-'));
const patience = 60_000;

const xvfb = spawn('Xvfb', ['-displayfd', '3', '-noreset', '-screen', '0', '1280x800x24', '-nolisten', 'tcp'], {
  stdio: ['ignore', 'ignore', 'ignore', 'pipe'],
});
const display = await new Promise((told) => xvfb.stdio[3].on('data', (number) => told(`:${String(number).trim()}`)));
const environment = {
  ...process.env,
  DISPLAY: display,
  WAYLAND_DISPLAY: '',
  DRAWER: join(work, 'own.drawer'),
  COLUMNS: '100',
};
const clipboard = await openClipboard(environment);
const drawer = (...words) =>
  execFileSync(process.execPath, [join(root, 'dist/bin/drawer.cjs'), ...words], {
    cwd: work,
    env: environment,
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'ignore'],
    maxBuffer: 2 ** 28,
  });

const { client, screen } = await new Promise((opened, failed) =>
  x11.createClient({ display }, (error, found) => (error ? failed(error) : opened(found))),
);
client.on('error', () => {}); // windows come and go
const ask = (name, ...values) =>
  new Promise((answered, failed) =>
    client[name](...values, (error, answer) => (error ? failed(error) : answered(answer))),
  );
const xtest = await ask('require', 'xtest');
const top = screen[0].root;
const atom = (name) => ask('InternAtom', false, name);
const property = async (window, name) =>
  String((await ask('GetProperty', 0, window, await atom(name), 0, 0, 1_000).catch(() => undefined))?.data ?? '');

/** A window that is seen, of a class and with a title. */
async function windowOf(kind, title) {
  for (const until = Date.now() + patience; Date.now() < until; await pass(250))
    for (const window of (await ask('QueryTree', top)).children) {
      if (!(await property(window, 'WM_CLASS')).includes(`libreoffice-${kind}`)) continue;
      const attributes = await ask('GetWindowAttributes', window).catch(() => undefined);
      if (attributes?.mapState === 2 && (await property(window, 'WM_NAME')).includes(title)) return window;
    }
  throw new Error(`there is no window of ${kind} with ${title}`);
}

/** Gives a window the keyboard and brings it to the front, as a window manager does. */
async function toFront(window) {
  client.SetInputFocus(window, 2);
  const number = Buffer.from(Uint32Array.of(window).buffer);
  client.ChangeProperty(0, top, await atom('_NET_ACTIVE_WINDOW'), await atom('WINDOW'), 32, number);
  await pass(1_000);
}

const codes = await ask('GetKeyboardMapping', 8, 248);
const codeOf = (sign) => codes.findIndex(([plain]) => plain === sign) + 8;
const control = codeOf(0xffe3);
/** Presses a letter with the control key. */
async function press(letter) {
  for (const [kind, code] of [
    [xtest.KeyPress, control],
    [xtest.KeyPress, codeOf(letter.charCodeAt(0))],
    [xtest.KeyRelease, codeOf(letter.charCodeAt(0))],
    [xtest.KeyRelease, control],
  ])
    xtest.FakeInput(kind, code, 0, top, 0, 0);
  await pass(1_500);
}

async function withOffice(words, kind, title, act) {
  const office = spawn(
    'soffice',
    [`-env:UserInstallation=file://${work}/profile`, '--norestore', '--nologo', ...words],
    {
      cwd: work,
      env: environment,
      stdio: 'ignore',
      detached: true,
    },
  );
  try {
    await toFront(await windowOf(kind, title));
    await act();
  } finally {
    process.kill(-office.pid, 'SIGKILL');
    await pass(1_000);
  }
}

/** Does something until it is heard of: a program that is still busy with its start may miss it. */
async function untilHeard(heard, act) {
  for (const until = Date.now() + patience; Date.now() < until; ) {
    await act();
    if (await Promise.race([heard.then(() => true), pass(15_000, false)])) return;
  }
  throw new Error('the office suite does not answer');
}

/** Copies all that is shown, and keeps it. */
async function keepAll() {
  let stop = () => {};
  const copied = new Promise((heard) => {
    stop = clipboard.watch(heard);
  });
  await untilHeard(copied, async () => {
    await press('a');
    await press('c');
  });
  (await stop)();
  drawer('copy', 'clipboard:');
}

/** Puts a snippet on the clipboard and pastes it. */
async function paste(position) {
  const own = await openDrawer(environment.DRAWER);
  const [{ summary }] = await own.select([String(position)]);
  const { content } = await own.get(summary.id);
  const offering = await offeringOf(content, await own.mediaOf(content));
  await own.close();
  const pasted = new Promise((heard) => {
    void clipboard.offer(offering, heard);
  });
  await untilHeard(pasted, () => press('v'));
}

const faults = [];
const compare = (what, found, wanted) => {
  console.log(`${found === wanted ? 'the same' : 'DIFFERENT'}: ${what}`);
  if (found !== wanted) faults.push({ what, found, wanted });
};
const markdown = (reference) => drawer('paste', reference, '--as', 'markdown');
/** Cells as their kinds, values and number formats. */
const cells = (reference) =>
  JSON.parse(drawer('paste', reference, '--as', 'json'))
    .snippets[0].content.rows.map((row) =>
      row.map(({ type, value, format }) => JSON.stringify([type, value, format])).join(' '),
    )
    .join('\n');

try {
  mkdirSync(join(work, 'profile/user'), { recursive: true });
  writeFileSync(
    join(work, 'profile/user/registrymodifications.xcu'),
    `<?xml version="1.0"?><oor:items xmlns:oor="http://openoffice.org/2001/registry"><item oor:path="/org.openoffice.Office.Common/Misc"><prop oor:name="ShowTipOfTheDay" oor:op="fuse"><value>false</value></prop></item></oor:items>`,
  );
  for (const name of ['survey.docx', 'crew.ods'])
    copyFileSync(join(root, 'examples/demo/files', name), join(work, name));
  const amounts = Array.from({ length: 1_000 }, (_, row) =>
    Array.from(
      { length: 20 },
      (__, at) =>
        [
          `item ${row}-${at}`,
          ((row * at) / 7).toFixed(2),
          `2026-0${1 + (row % 9)}-1${at % 10}`,
          `£${row + at}.50`,
          'true',
          '007',
        ][(row + at) % 6],
    ).join(','),
  );
  writeFileSync(join(work, 'amounts.csv'), amounts.join('\n'));
  drawer('copy', 'amounts.csv');
  drawer('paste', '1', '--into', 'amounts.ods');

  await withOffice(['survey.docx'], 'writer', 'survey', keepAll);
  drawer('copy', 'survey.docx');
  compare('a document copied in Writer', markdown('2'), markdown('3'));
  await withOffice(['amounts.ods'], 'calc', 'amounts', keepAll);
  drawer('copy', 'amounts.ods#A1:T1000');
  compare('a range of 1,000 × 20 copied in Calc', cells('4'), cells('5'));
  await withOffice(['--writer'], 'writer', 'Untitled', async () => {
    await paste(3);
    await keepAll();
  });
  // Notes stand behind the text in a page, with ways back.
  const words = (reference) => {
    const text = drawer('paste', reference, '--as', 'text').replace(/Back to reference \d+/g, '');
    return (
      text
        .match(/\p{L}+/gu)
        ?.sort()
        .join(' ') ?? ''
    );
  };
  compare('the words of a document pasted in Writer', words('6'), words('3'));
  await withOffice(['--calc'], 'calc', 'Untitled', async () => {
    await paste(5);
    await keepAll();
  });
  compare('a range of 1,000 × 20 pasted in Calc', cells('7'), cells('5'));
} finally {
  await clipboard.close();
  client.terminate();
  xvfb.kill();
  rmSync(work, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
}
for (const { what, found, wanted } of faults) {
  const at = [...found].findIndex((sign, index) => sign !== wanted[index]);
  console.log(
    `${what}, first at ${at}:\n  ${found.slice(Math.max(0, at - 40), at + 120)}\n  ${wanted.slice(Math.max(0, at - 40), at + 120)}`,
  );
}
process.exitCode = faults.length > 0 ? 1 : 0;
