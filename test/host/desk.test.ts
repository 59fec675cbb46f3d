import { copyFileSync, mkdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { join, resolve } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { createDrawer, DrawerError, text } from 'drawer';
import { deskFiles, serveDesk } from 'drawer/host';
import { openDrawer } from 'drawer/node';
import { unzipSync } from 'fflate';
import type { Page } from 'playwright-core';
import { WebSocket } from 'ws';
import { Connection } from '../../src/desktop/x11/connection.ts';
import { X11Clipboard } from '../../src/desktop/x11/x11-clipboard.ts';
import { runCommand, type Workplace, workplace } from '../support/cli.ts';
import { toEndOfDraft } from '../support/desk-page.ts';
import { type RunningDesk, startDesk, Windows } from '../support/served-desk.ts';
import { fromMenu, heard, heardAfter, selectElement, seriousFindings, slips } from '../support/site.ts';
import { bringToFront, startXServer } from '../support/x-server.ts';

const windows = new Windows();
afterAll(() => windows.close());

let place: Workplace;
const desks: RunningDesk[] = [];
beforeEach(() => {
  place = workplace();
  for (const name of ['survey.docx', 'costs.xlsx', 'letters.html']) copyFileSync(place.demo(name), place.path(name));
});
afterEach(async () => {
  expect(await windows.closeAll()).toEqual([]);
  for (const desk of desks.splice(0)) {
    desk.child.kill('SIGKILL');
    await desk.ended;
  }
  place.remove();
});

async function start(...words: string[]): Promise<RunningDesk> {
  const desk = await startDesk(words, { cwd: place.folder, DRAWER: place.drawer });
  desks.push(desk);
  return desk;
}

/** Delays a page's second request for snippets, and holds the third back until `goOn` is called. */
async function heldReading(page: Page): Promise<{ goOn(): void }> {
  let goOn = (): void => {};
  const going = new Promise<void>((gone) => {
    goOn = gone;
  });
  let readings = 0;
  let sent = Promise.resolve();
  await page.routeWebSocket(/./, (socket) => {
    const server = socket.connectToServer();
    socket.onMessage((frame) => {
      sent = sent.then(async () => {
        if (Buffer.from(frame).includes('getMany')) {
          readings++;
          if (readings === 2) await setTimeout(500); // longer than work goes on unshown
          if (readings === 3) await going;
        }
        server.send(frame);
      });
    });
  });
  return { goOn };
}

/** The status and headers that an address answers with. */
const answer = (address: string, headers: Record<string, string> = {}) =>
  new Promise<{ status: number | undefined; headers: Record<string, unknown>; body: string }>((done, failed) => {
    const asked = request(address, { headers }, (response) => {
      let body = '';
      response.on('data', (chunk: Buffer) => {
        body += chunk;
      });
      response.on('end', () => done({ status: response.statusCode, headers: response.headers, body }));
    });
    asked.on('error', failed);
    asked.end();
  });

/** Whether a connection is let in. */
const isLetIn = (address: string, headers: Record<string, string>): Promise<boolean> =>
  new Promise((done) => {
    const socket = new WebSocket(address, { headers });
    socket.on('open', () => {
      done(true);
      socket.close();
    });
    socket.on('error', () => done(false));
  });

const showsSlips = (page: Page, count: number): Promise<unknown> =>
  page.waitForFunction(
    (wanted) =>
      document.querySelector('drawer-panel')?.shadowRoot?.querySelectorAll('[role="option"]').length === wanted,
    count,
  );

it('is one drawer with the command: what is kept in one is in the other, and undo is one history', async () => {
  const desk = await start('survey.docx');
  const page = await windows.open(desk.address);
  await page.locator('.sheet-of-paper:not(:has(.reading-on)) h1').first().waitFor();
  await selectElement(page, '.sheet-of-paper h1', true);
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 1: /);
  await selectElement(page, '.sheet-of-paper img', true);
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 2: picture, /);
  expect((await place.run('list')).out).toMatch(/Survey of the ferry Marigold/);
  expect((await place.run('paste', '2', '--into', 'picture.docx')).code).toBe(0);
  expect(Object.keys(unzipSync(readFileSync(place.path('picture.docx')))).join()).toMatch(/word\/media\//);
  expect((await place.run('copy', 'costs.xlsx#Timber!A1:D3')).code).toBe(0);
  await showsSlips(page, 3);
  expect((await slips(page))[2]).toContain('costs.xlsx, Timber!A1:D3');
  expect((await place.run('undo')).out).toContain('Kept 1 snippet');
  await showsSlips(page, 2);
  // And from the page: what the command did is the last thing done.
  await place.run('mark', '1', '--label', 'title');
  await page.getByText('title', { exact: true }).waitFor();
  await page.locator('drawer-panel [role="listbox"]').focus();
  await heardAfter(page, /Labelled 1 snippet/, () => page.keyboard.press('u'));
  expect((await place.run('list')).out).not.toContain('title');
  expect(await seriousFindings(page)).toEqual([]);
});

it('saves a document in its place, which undo elsewhere takes back byte for byte', async () => {
  const before = readFileSync(place.path('survey.docx'));
  const desk = await start('--author', 'Ferry Trust');
  const page = await windows.open(desk.address);
  await heard(page, /Open a file to read/);
  await page.getByRole('button', { name: 'File', exact: true }).click();
  await page.getByRole('button', { name: 'Open your own' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'survey.docx' }).click();
  await heard(page, /^Opened survey\.docx to write in/);
  await toEndOfDraft(page);
  await page.keyboard.press('Enter');
  await page.keyboard.type('Seen by the trustees.');
  await page.getByRole('button', { name: 'Save in its place' }).click();
  await heard(page, /^Saved survey\.docx in its place/);
  const body = Buffer.from(unzipSync(readFileSync(place.path('survey.docx')))['word/document.xml'] ?? []).toString();
  expect(body).toMatch(/<w:ins [^>]*w:author="Ferry Trust"[^>]*>.*Seen by the trustees\./s);
  const { out } = await place.run('copy', 'survey.docx', '--each', '--quiet').then(() => place.run('list', 'last'));
  expect(out).toContain('Seen by the trustees.');
  expect(readFileSync(place.path('survey.docx')).equals(before)).toBe(false);
  expect((await place.run('undo')).code).toBe(0); // the copy
  expect((await place.run('undo')).out).toContain('Saved survey.docx');
  expect(readFileSync(place.path('survey.docx')).equals(before)).toBe(true);
  // What was opened is no longer what is there.
  await page.getByRole('textbox', { name: 'Draft' }).focus();
  await page.keyboard.type('More.');
  writeFileSync(place.path('survey.docx'), 'something else');
  await page.getByRole('button', { name: 'Save in its place' }).click();
  await heard(page, /changed/);
  expect(readFileSync(place.path('survey.docx'), 'utf8')).toBe('something else');
});

it('says at once that a file is open elsewhere', async () => {
  writeFileSync(place.path('.~lock.survey.docx#'), '');
  const desk = await start();
  const page = await windows.open(desk.address);
  await heard(page, /Open a file to read/);
  await page.getByRole('button', { name: 'File', exact: true }).click();
  await page.getByRole('button', { name: 'Open your own' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'survey.docx' }).click();
  await heard(page, /survey\.docx.*open in another program/);
});

it('saves what is new in its folder, under a name that is free', async () => {
  const desk = await start();
  const page = await windows.open(desk.address);
  await heard(page, /Open a file to read/);
  await place.run('copy', 'survey.docx#section=Engine');
  await showsSlips(page, 1);
  await page.locator('drawer-panel [role="listbox"]').focus();
  await page.keyboard.press('Enter');
  await heard(page, /^Pasted 1 snippet into the draft/);
  await page.getByText('Not saved yet').waitFor();
  const save = async (name: string): Promise<void> => {
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByLabel('Name of the file').fill(name);
    await page.keyboard.press('Enter');
  };
  await save('costs.xlsx');
  await heard(page, /costs\.xlsx/);
  expect(readFileSync(place.path('costs.xlsx')).equals(readFileSync(place.demo('costs.xlsx')))).toBe(true);
  await save('report.docx');
  await heard(page, /^Saved as report\.docx/);
  await page.getByText('Saved', { exact: true }).waitFor();
  expect((await place.run('outline', 'report.docx')).out).toContain('Engine');
});

it('shows how far it is with very many, which can be stopped, and then nothing is pasted', async () => {
  const drawer = await openDrawer(place.drawer);
  const count = 3_000;
  await drawer.keep(
    Array.from({ length: count }, (_, at) => ({
      content: { shape: 'run', inlines: [text(`Crossing ${at}`)] } as const,
      origin: {},
    })),
  );
  await drawer.close();
  const desk = await start();
  const page = await windows.open('about:blank');
  const reading = await heldReading(page);
  await page.goto(desk.address);
  await heard(page, /Open a file to read/);
  const pasteAll = () => fromMenu(page, 'Paste all');
  await pasteAll();
  await page.getByRole('progressbar', { name: 'Reading 3,000 snippets' }).waitFor();
  await page.getByRole('button', { name: 'Stop' }).click();
  reading.goOn();
  await heard(page, /^Stopped/);
  expect((await page.getByRole('textbox', { name: 'Draft' }).innerText()).trim()).toBe('');
  await pasteAll();
  await heard(page, /^Pasted 3,000 snippets into the draft/);
  expect(await page.getByRole('textbox', { name: 'Draft' }).innerText()).toContain('Crossing 2999');
});

it('loses nothing that was acknowledged when it is killed, and goes on with another', async () => {
  const first = await start();
  const port = new URL(first.address).port;
  const page = await windows.open(first.address);
  await heard(page, /Open a file to read/);
  for (const number of ['1', '2', '3']) await place.run('copy', '--text', `Sentence ${number}`);
  await showsSlips(page, 3);
  first.child.kill('SIGKILL');
  await first.ended;
  await heard(page, /connection to the drawer is lost/);
  await page.close();
  windows.faults.splice(0); // the browser told of connections that were refused
  const again = await startDesk(['--port', port], { cwd: place.folder, DRAWER: place.drawer });
  desks.push(again);
  const other = await windows.open(again.address);
  await showsSlips(other, 3);
  again.child.kill('SIGINT');
  expect(await again.ended).toBe(0);
  expect(again.err()).toContain('Everything is kept');
  await other.close();
  windows.faults.splice(0);
});

it('is open in several windows and desks at once, which see what each does', async () => {
  const desk = await start();
  const one = await windows.open(desk.address);
  await heard(one, /Open a file to read/);
  const two = await windows.another(one.url(), await one.context().newPage());
  await heard(two, /Open a file to read/);
  const three = await windows.open((await start()).address);
  await heard(three, /Open a file to read/);
  await place.run('copy', '--text', 'For both');
  await showsSlips(one, 1);
  await showsSlips(two, 1);
  await showsSlips(three, 1);
  await two.locator('drawer-panel [role="listbox"]').focus();
  await heardAfter(two, /Deleted/, () => two.keyboard.press('Delete'));
  await showsSlips(one, 0);
  await showsSlips(three, 0);
});

it('asks for the passphrase of a locked drawer in the page', async () => {
  await place.run('copy', '--text', 'Behind the lock');
  const locking = await openDrawer(place.drawer);
  await locking.lock('correct horse battery');
  await locking.close();
  const desk = await start();
  const page = await windows.open(desk.address);
  const field = page.getByLabel('Passphrase');
  await field.fill('something else');
  await page.keyboard.press('Enter');
  await heard(page, /passphrase is not right|Passphrase/i);
  await field.fill('correct horse battery');
  await page.keyboard.press('Enter');
  await showsSlips(page, 1);
  expect((await slips(page))[0]).toContain('Behind the lock');
});

it('lets in one browser by its address, and nobody else', async () => {
  const desk = await start();
  const address = new URL(desk.address);
  const { origin, pathname, host } = address;
  const bare = `${origin}${pathname}`;
  const socket = `ws://${host}${pathname}socket?session=a`;
  const refused = async (url: string, headers: Record<string, string> = {}) => (await answer(url, headers)).status;
  expect(await refused(bare)).toBe(403);
  expect(await refused(`${bare}?key=${'x'.repeat(32)}`)).toBe(403);
  expect(await refused(`${origin}/?key=${address.searchParams.get('key')}`)).toBe(403);
  expect(await refused(desk.address, { host: `rebound.example:${address.port}` })).toBe(421);
  const letIn = await answer(desk.address);
  expect(letIn.status).toBe(200);
  const [given] = letIn.headers['set-cookie'] as string[];
  expect(given).toMatch(new RegExp(`^key=[\\w-]{32}; Path=${pathname}; HttpOnly; SameSite=Strict$`));
  const cookie = given?.split(';')[0] ?? '';
  expect(await refused(desk.address)).toBe(403); // once
  const page = await answer(bare, { cookie });
  expect([page.status, page.body]).toEqual([200, expect.stringContaining('drawer-panel')]);
  expect(page.headers).toMatchObject({
    'content-security-policy': expect.stringContaining("default-src 'none'"),
    'referrer-policy': 'no-referrer',
    'x-content-type-options': 'nosniff',
  });
  expect(page.headers).not.toHaveProperty('access-control-allow-origin');
  for (const path of ['../package.json', '..%2fpackage.json', 'assets/../../../package.json'])
    expect([403, 404]).toContain(await refused(bare + path, { cookie }));
  expect(await refused(bare, { cookie, host: `rebound.example:${address.port}` })).toBe(421);
  expect(await refused(origin, { cookie })).toBe(403);
  expect(await isLetIn(socket, { cookie })).toBe(true);
  expect(await isLetIn(socket, { cookie, origin })).toBe(true);
  expect(await isLetIn(socket, { cookie, origin: 'http://ferry.example' })).toBe(false);
  expect(await isLetIn(socket, { cookie, origin: `http://localhost:${address.port}` })).toBe(false);
  expect(await isLetIn(socket, { cookie, host: `rebound.example:${address.port}` })).toBe(false);
  expect(await isLetIn(socket, {})).toBe(false);
  expect(await isLetIn(socket, { cookie: 'key=x' })).toBe(false);
});

it('reads and saves files that were named or are in its folder, and no others', async () => {
  const [folder, outside] = [join(place.folder, 'papers'), join(place.folder, 'elsewhere')];
  for (const each of [folder, outside, join(folder, 'below'), join(folder, '.private')]) mkdirSync(each);
  const files: Record<string, string> = {
    [join(folder, 'log.md')]: 'one',
    [join(folder, 'below/two.md')]: 'two',
    [join(folder, '.private/three.md')]: 'three',
    [join(folder, 'key.pem')]: 'secret',
    [join(outside, 'four.md')]: 'four',
    [join(outside, 'five.md')]: 'five',
  };
  for (const [path, text] of Object.entries(files)) writeFileSync(path, text);
  symlinkSync(join(outside, 'five.md'), join(folder, 'link.md'));
  symlinkSync(outside, join(folder, 'way-out'));
  const drawer = await openDrawer(place.drawer);
  try {
    const named = resolve(outside, 'four.md');
    const desk = deskFiles({ folder, named: [named], author: 'Trust' }, drawer);
    expect(await desk.facts()).toMatchObject({ folder: 'papers', named: [{ path: named, size: 4 }], author: 'Trust' });
    const { folders, files: listed } = await desk.list('');
    expect([folders, listed.map(({ path }) => path)]).toEqual([['below'], ['log.md']]);
    expect((await desk.list('below')).files).toMatchObject([{ path: 'below/two.md', size: 3 }]);
    expect(new TextDecoder().decode(await desk.read(named))).toBe('four');
    const bytes = new TextEncoder().encode('changed');
    for (const path of [
      '../elsewhere/five.md',
      join(outside, 'five.md'),
      'link.md',
      'way-out/five.md',
      '.private/three.md',
      'below/../../elsewhere/five.md',
      'key.pem',
      '/etc/passwd',
      '',
    ]) {
      const refusal = { code: expect.stringMatching(/refused|unreadable/) };
      await expect(desk.read(path)).rejects.toMatchObject(refusal);
      await expect(desk.save(path, bytes)).rejects.toBeInstanceOf(DrawerError);
    }
    for (const path of ['..', 'way-out', '.private', '/'])
      await expect(desk.list(path)).rejects.toMatchObject({ code: 'refused' });
    expect(readFileSync(join(outside, 'five.md'), 'utf8')).toBe('five');
    // A new file, a changed one, and one that has changed since.
    await desk.save('below/new.md', bytes);
    await desk.save('log.md', bytes, new TextEncoder().encode('one'));
    await expect(desk.save('log.md', bytes, new TextEncoder().encode('one'))).rejects.toMatchObject({
      code: 'write-failed',
    });
    expect(readFileSync(join(folder, 'log.md'), 'utf8')).toBe('changed');
    await drawer.undo();
    expect(readFileSync(join(folder, 'log.md'), 'utf8')).toBe('one');
  } finally {
    await drawer.close();
  }
});

it('marks what is from a file that was saved since, shows what changed there, and renews it', async () => {
  await place.run('copy', 'costs.xlsx#Timber!A1:D3');
  const desk = await start();
  const page = await windows.open(desk.address);
  await showsSlips(page, 1);
  expect((await slips(page))[0]).not.toContain('file changed');
  await place.run('copy', '--text', 'Elm planks');
  await place.run('paste', 'last', '--into', 'costs.xlsx#Timber!A2', '--over');
  await page.getByText('file changed').waitFor();
  await page.locator('drawer-panel [role="option"]').first().click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Renew from its file' }).click();
  const sheet = page.locator('drawer-panel .renewals');
  await sheet.waitFor();
  expect(await sheet.locator('del').allTextContents()).toEqual([expect.stringMatching(/^− Larch planks, 35 mm/)]);
  expect(await sheet.locator('ins').allTextContents()).toEqual([expect.stringMatching(/^\+ Elm planks/)]);
  expect(await seriousFindings(page)).toEqual([]);
  await heardAfter(page, /^Renewed 1 snippet/, () => page.getByRole('button', { name: 'Renew 1 snippet' }).click());
  expect((await place.run('paste', '1')).out).toContain('Elm planks');
  await page.getByText('file changed').waitFor({ state: 'detached' });
  expect((await place.run('undo')).out).toContain('Renewed 1 snippet');
  expect((await place.run('paste', '1')).out).toContain('Larch planks');
});

it('renews from no file that the desk may not open', async () => {
  await using drawer = createDrawer();
  writeFileSync(place.path('secret.txt'), 'outside');
  mkdirSync(place.path('inside'));
  const origin = { file: '../secret.txt' };
  const [kept] = await drawer.keep({ content: { shape: 'run', inlines: [text('inside')] }, origin });
  const files = deskFiles({ folder: place.path('inside'), named: [] }, drawer);
  const ids = [kept?.kind === 'kept' ? kept.summary.id : ''];
  expect(await files.savedSince(ids)).toEqual([]);
  expect(await files.renewals(ids)).toMatchObject([{ kind: 'unknown', problem: { reason: 'file-outside' } }]);
});

it('ends when nobody has a window any more, and says what is wrong with its options', async () => {
  const served = await serveDesk({ page: place.folder, open: async () => createDrawer(), endsAfter: 50 });
  const { host, pathname } = new URL(served.address);
  const cookie = ((await answer(served.address)).headers['set-cookie'] as string[])[0]?.split(';')[0] ?? '';
  await isLetIn(`ws://${host}${pathname}socket?session=a`, { cookie });
  await served.ended;
  const ran = await Promise.all([
    place.run('desk', '--no-open', '--port', '80'),
    place.run('desk', '--no-open', 'missing.docx'),
  ]);
  expect(ran.map(({ code, err }) => [code, err.split('\n')[0]])).toEqual([
    [2, 'drawer: 80 is no port. Name a number from 1024 to 65535.'],
    [3, expect.stringContaining('missing.docx')],
  ]);
  const taken = await start();
  const { port } = new URL(taken.address);
  expect(await place.run('desk', '--no-open', '--port', port)).toMatchObject({
    code: 2,
    err: expect.stringContaining(`Port ${port} is taken`),
  });
});

it('gathers what is copied in any program while that is switched on, in every window, and nothing of its own', async () => {
  const server = await startXServer();
  const program = await X11Clipboard.open(server.display);
  const copy = (words: string) => program.offer({ forms: new Map([['UTF8_STRING', Buffer.from(words)]]) });
  try {
    const desk = await startDesk(['survey.docx'], {
      cwd: place.folder,
      DRAWER: place.drawer,
      DISPLAY: server.display,
    });
    desks.push(desk);
    const page = await windows.open(desk.address);
    const other = await page.context().newPage();
    await windows.another(page.url(), other);
    for (const each of [page, other])
      await each.getByRole('switch', { name: 'Gather what I copy', checked: false }).waitFor();
    await copy('before');
    await page.getByRole('switch').click();
    await other.getByRole('switch', { checked: true }).waitFor();
    await heard(page, /What you copy in any program is kept in the drawer/);
    await copy('a rope');
    await heard(page, /Kept as 1/);
    await copy('a lamp');
    await heard(page, /Kept as 2/);
    await other.getByRole('option', { name: 'a lamp' }).waitFor();
    // A snippet that is put there is none that was copied; what is marked as secret is passed over, and that is said.
    await runCommand(['paste', '1', '--into', 'clipboard:'], {
      cwd: place.folder,
      DRAWER: place.drawer,
      DISPLAY: server.display,
    });
    await program.offer({
      forms: new Map([
        ['UTF8_STRING', Buffer.from('swordfish')],
        ['x-kde-passwordManagerHint', Buffer.from('secret')],
      ]),
    });
    await heard(page, /marks it as not to be kept/);
    expect(await seriousFindings(page)).toEqual([]);
    await other.getByRole('switch').click();
    await page.getByRole('switch', { checked: false }).waitFor();
    await copy('afterwards');
    const { out } = await runCommand(['list'], { cwd: place.folder, DRAWER: place.drawer });
    expect(out.match(/a rope|a lamp|before|swordfish|afterwards/g)).toEqual(['a rope', 'a lamp']);
  } finally {
    await program.close();
    await server.stop();
  }
});

it('copies a slip in every form that the programs of the desktop ask for', async () => {
  const server = await startXServer();
  const desktop = await Connection.open(server.display);
  const program = await X11Clipboard.open(server.display);
  try {
    const session = { cwd: place.folder, DRAWER: place.drawer, DISPLAY: server.display };
    await runCommand(['copy', place.demo('costs.xlsx#Timber!A1:G6')], session);
    const desk = await startDesk(['survey.docx'], session);
    desks.push(desk);
    const page = await windows.open(desk.address);
    await page.getByRole('switch').waitFor();
    await page.locator('drawer-panel [role="option"]').first().click();
    await bringToFront(desktop, 'office-calc', 'budget.ods');
    await page.keyboard.press('Control+C');
    await heard(page, /Copied/);
    const forms = (await program.copied())?.forms ?? [];
    expect(forms[0]).toMatch(/embed-source/);
    expect(forms).toEqual(expect.arrayContaining(['text/html', 'UTF8_STRING', 'application/vnd.drawer.content+json']));
    const { out } = await runCommand(['copy', 'clipboard:', '--drawer', place.path('other.drawer')], session);
    expect(out).toMatch(/^Kept as 1: table, 6 × 4/);
  } finally {
    await program.close();
    desktop.close();
    await server.stop();
  }
});

it('has no such switch where no clipboard can be reached', async () => {
  const desk = await startDesk(['survey.docx'], { cwd: place.folder, DRAWER: place.drawer, DISPLAY: '' });
  desks.push(desk);
  const page = await windows.open(desk.address);
  await page.getByRole('tab', { name: 'survey.docx' }).waitFor();
  expect(await page.getByRole('switch').count()).toBe(0);
});
