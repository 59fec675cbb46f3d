import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Cell, type Content, noMedia } from 'drawer';
import { formatNamed } from 'drawer/formats';
import fc from 'fast-check';
import { decode } from 'fast-png';
import { encode as encodeJpeg } from 'jpeg-js';
import type { Copied } from '../../src/desktop/index.ts';
import { offeringOf, readCopied } from '../../src/desktop/index.ts';
import { readWebForm, webForms } from '../../src/desktop/web-forms.ts';
import { Connection } from '../../src/desktop/x11/connection.ts';
import { X11Clipboard } from '../../src/desktop/x11/x11-clipboard.ts';
import { command, demoFiles, type Ran, runCommand, type Workplace, workplace } from '../support/cli.ts';
import { bringToFront, startXServer, type XServer } from '../support/x-server.ts';

const bytes = (words: string): Uint8Array => new TextEncoder().encode(words);
const latin = (words: string): Uint8Array => Buffer.from(words, 'latin1');

/** A copy in these forms, and which of them were read. */
function copiedAs(forms: Readonly<Record<string, Uint8Array>>): Copied & { readonly asked: string[] } {
  const asked: string[] = [];
  return {
    forms: Object.keys(forms),
    asked,
    read: async (form) => {
      asked.push(form);
      return forms[form];
    },
  };
}

describe('what is offered', () => {
  const table: Content = {
    shape: 'cells',
    rows: [
      [
        { type: 'text', value: 'Item' },
        { type: 'text', value: 'Paid' },
      ],
      [
        { type: 'number', value: 1250.5, text: '1,250.50', format: '#,##0.00' },
        { type: 'date', value: '2026-05-03', text: '3 May 2026', format: 'd mmm yyyy' },
      ],
      [
        { type: 'text', value: '007' },
        { type: 'boolean', value: true, text: 'TRUE' },
      ],
    ],
  };

  it('is taken as it was by a drawer, and by its page and its workbook with every value', async () => {
    const { forms, forSpreadsheets } = await offeringOf(table, noMedia);
    const only = (wanted: RegExp, of = forms) =>
      readCopied(copiedAs(Object.fromEntries([...of].filter(([form]) => wanted.test(form)))));
    const kindAndValue = (cell: Cell) => `${cell.type} ${'value' in cell ? cell.value : ''}`;
    const values = ({ content }: { readonly content: Content }) =>
      content.shape === 'cells' ? content.rows.map((row) => row.map(kindAndValue)) : [];
    expect((await readCopied(copiedAs(Object.fromEntries(forms)))).content).toEqual(table);
    expect((await only(/^application\/web|^text\/plain/)).content).toEqual(table);
    expect((await only(/^chromium|^text\/plain/)).content).toEqual(table);
    expect(values(await only(/embed-source/, forSpreadsheets))).toEqual(values({ content: table }));
    // A page has no kinds of cells, but for numbers: the words of the others are read for what they write.
    expect(JSON.stringify((await only(/^text\/html/)).content)).toContain('"value":1250.5');
  });

  it('is words alone where there is no table, in Latin-1 only where that has every sign of it', async () => {
    const run = (words: string): Content => ({ shape: 'run', inlines: [{ type: 'text', text: words }] });
    const plain = await offeringOf(run('Fähre'), noMedia);
    expect(plain.forSpreadsheets).toBeUndefined();
    expect(Buffer.from(plain.forms.get('STRING') ?? []).toString('latin1')).toBe('Fähre');
    expect((await offeringOf(run('Fähre ☂'), noMedia)).forms.has('STRING')).toBe(false);
  });

  it('offers a photograph as it is and as PNG with the same size and colours, unless it is too large or damaged', async () => {
    const [width, height] = [24, 16];
    const data = Buffer.alloc(width * height * 4, Buffer.from([200, 40, 90, 255]));
    const offered = async (bytes: Uint8Array) => {
      const picture = { media: '1'.repeat(64), mediaType: 'image/jpeg' as const };
      return (await offeringOf({ shape: 'picture', picture }, new Map([[picture.media, bytes]]))).forms;
    };
    const photograph = encodeJpeg({ width, height, data }, 95).data;
    const forms = await offered(photograph);
    expect(forms.get('image/jpeg')).toBe(photograph);
    const png = decode(forms.get('image/png') ?? new Uint8Array());
    expect(png).toMatchObject({ width, height, channels: 3 });
    for (const [at, value] of [200, 40, 90].entries()) expect(Math.abs((png.data[at] ?? 0) - value)).toBeLessThan(6);
    for (const bytes of [
      photograph.subarray(0, 40),
      encodeJpeg({ width: 2_000, height: 1_200, data: Buffer.alloc(9_600_000) }).data,
    ])
      expect([...(await offered(bytes)).keys()]).not.toContain('image/png');
  });

  it('is a picture where it is one alone, and says where it is a secret', async () => {
    const picture = readFileSync(join(demoFiles, 'ferry.png'));
    const { read } = await formatNamed('picture').load();
    const source = { name: 'ferry.png', size: picture.length, read: async () => picture };
    const taken = await read?.(source, { kind: 'whole' });
    const { forms } = await offeringOf(taken?.content as Content, taken?.media ?? noMedia, { isSecret: true });
    expect(Buffer.compare(forms.get('image/png') ?? Buffer.alloc(0), picture)).toBe(0);
    await expect(readCopied(copiedAs(Object.fromEntries(forms)))).rejects.toMatchObject({ reason: 'clipboard-secret' });
  });

  it('comes through Chromium under any name and in any words', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.string({ minLength: 1, unit: 'binary' }),
        fc.string({ unit: 'binary' }),
        async (name, words) => {
          const forms = webForms(name, words);
          for (const some of [forms.slice(0, 2), forms.slice(2)]) {
            const read = await readWebForm(copiedAs(Object.fromEntries(some)), name);
            expect(new TextDecoder().decode(read)).toBe(words.replace(/^\ufeff/, ''));
          }
          // What is cut off or foreign is passed over.
          const [, , [form, data] = ['', bytes('')]] = forms;
          for (const size of [0, 3, 5, data.length - 1])
            await readWebForm(copiedAs({ [form]: data.subarray(0, size) }), name);
        },
      ),
    );
  });
});

describe('what was copied', () => {
  it('is taken by the best of its forms, and no other is read', async () => {
    const crew = readFileSync(join(demoFiles, 'crew.ods'));
    const office = 'application/x-openoffice-embed-source-xml;windows_formatname="Star Embed Source (XML)"';
    const copied = copiedAs({
      'text/html': bytes('<table><tr><td>1</td></tr></table>'),
      [office]: crew,
      'text/plain;charset=utf-8': bytes('1'),
      'image/png': bytes('no picture'),
    });
    const taken = await readCopied(copied);
    const { read } = await formatNamed('ods').load();
    const source = {
      name: 'crew.ods',
      size: crew.length,
      read: async (from: number, to: number) => crew.subarray(from, to),
    };
    expect(taken.content).toEqual((await read?.(source, { kind: 'whole' }))?.content);
    expect(copied.asked).toEqual([office]);
  });

  it('keeps numbers as they stand in a page where a lone table has them only there', async () => {
    const { write } = await formatNamed('odt').load();
    const cell = (words: string) =>
      ({ blocks: [{ type: 'paragraph', inlines: [{ type: 'text', text: words }] }] }) as const;
    const table = { type: 'table', rows: [{ cells: [cell('3'), cell('4')] }] } as const;
    const odt = await write?.({ shape: 'blocks', blocks: [table] }, { media: new Map() });
    const { content } = await readCopied(
      copiedAs({
        'application/x-openoffice-embed-source-xml': odt as Uint8Array,
        'text/html': bytes('<table><tr><td>three</td></tr></table>'),
      }),
    );
    expect(JSON.stringify(content)).toContain('three');
  });

  it.each([
    ['UTF-16 with its mark', 'text/html', new Uint8Array(Buffer.from('\ufeff<p>Fähre</p>', 'utf16le')), 'Fähre'],
    ['UTF-16 without', 'text/html', new Uint8Array(Buffer.from('<p>Fähre</p>', 'utf16le')), 'Fähre'],
    ['a zero at its end', 'text/html', bytes('<p>Fähre</p>\0'), 'Fähre'],
    ['Latin-1 of old programs', 'STRING', latin('Fähre'), 'Fähre'],
    ['UTF-8', 'UTF8_STRING', bytes('Fähre'), 'Fähre'],
  ])('is read in %s', async (_, form, held, words) => {
    expect(JSON.stringify((await readCopied(copiedAs({ [form]: held }))).content)).toContain(`"${words}"`);
  });

  it('is cells where its words are rows of as many', async () => {
    const { content } = await readCopied(copiedAs({ UTF8_STRING: bytes('Item\tPrice\nOak\t12.50\n') }));
    expect(content).toMatchObject({
      shape: 'cells',
      rows: [
        [{ value: 'Item' }, {}],
        [{ value: 'Oak' }, {}],
      ],
    });
    const uneven = await readCopied(copiedAs({ UTF8_STRING: bytes('a\tb\nc\n') }));
    expect(uneven.content.shape).not.toBe('cells');
  });

  it.each([
    'org.nspasteboard.ConcealedType',
    'org.nspasteboard.TransientType',
    'org.nspasteboard.AutoGeneratedType',
    'ExcludeClipboardContentFromMonitorProcessing',
    'Clipboard Viewer Ignore',
  ])('is not kept, and not read, where its program says so by %s', async (hint) => {
    const copied = copiedAs({ UTF8_STRING: bytes('swordfish'), [hint]: bytes('') });
    await expect(readCopied(copied)).rejects.toMatchObject({ code: 'refused', reason: 'clipboard-secret' });
    expect(copied.asked).toEqual([]);
  });

  it.each([
    ['x-kde-passwordManagerHint', bytes('secret'), bytes('public')],
    ['CanIncludeInClipboardHistory', Uint8Array.from([0, 0, 0, 0]), Uint8Array.from([1, 0, 0, 0])],
  ])('is not kept where %s says so, and is where it says otherwise', async (hint, secret, open) => {
    const copied = copiedAs({ UTF8_STRING: bytes('swordfish'), [hint]: secret });
    await expect(readCopied(copied)).rejects.toMatchObject({ reason: 'clipboard-secret' });
    expect(copied.asked).toEqual([hint]);
    const { content } = await readCopied(copiedAs({ UTF8_STRING: bytes('ferry'), [hint]: open }));
    expect(JSON.stringify(content)).toContain('ferry');
  });

  it('tells where it came from, and what it cannot read', async () => {
    const range = await readCopied(
      copiedAs({
        UTF8_STRING: bytes('x'),
        'application/x-openoffice-link': bytes('soffice\0/home/costs 2026.ods\0Timber.A1:G6\0'),
      }),
    );
    expect(range).toMatchObject({ file: 'costs 2026.ods', place: 'Timber!A1:G6' });
    const page = copiedAs({
      'text/html': bytes('<p>x</p>'),
      'chromium/x-source-url': bytes('https://ferry.example/log'),
    });
    expect(await readCopied(page)).toMatchObject({ url: 'https://ferry.example/log' });
    await expect(readCopied(copiedAs({ 'application/x-other': bytes('x') }))).rejects.toMatchObject({
      reason: 'clipboard-forms',
    });
  });
});

/** A command that goes on, and what it has told so far. */
function started(words: readonly string[], { cwd, ...environment }: Record<string, string>) {
  const child = spawn(process.execPath, [command, ...words], { cwd, env: { ...process.env, ...environment } });
  let told = '';
  let heard: () => void = () => {};
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (chunk: Buffer) => {
      told += chunk;
      heard();
    });
  const ended = new Promise<number | null>((end) => child.on('close', end));
  const until = async (words: RegExp): Promise<void> => {
    while (!words.test(told)) await new Promise<void>((next) => (heard = next));
  };
  return { ended, until, told: () => told, stop: () => child.kill('SIGINT') };
}

describe('the command', () => {
  let server: XServer;
  let program: X11Clipboard;
  let place: Workplace;
  beforeAll(async () => {
    server = await startXServer();
    program = await X11Clipboard.open(server.display);
    place = workplace();
  });
  afterAll(async () => {
    await program.close();
    await server.stop();
    place.remove();
  });
  const drawer = (...words: string[]): Promise<Ran> =>
    runCommand(words, { cwd: place.folder, DRAWER: place.drawer, DISPLAY: server.display });

  it('keeps what is on the clipboard, appends it, and says what it comes in', async () => {
    expect(await drawer('copy', 'clipboard:')).toMatchObject({
      code: 3,
      err: expect.stringContaining('Nothing is on the clipboard'),
    });
    await program.offer({
      forms: new Map([
        ['text/html', bytes('<ul><li>oars</li><li>ropes</li></ul>')],
        ['UTF8_STRING', bytes('oars ropes')],
      ]),
    });
    expect((await drawer('outline', 'clipboard:')).out).toMatch(
      /^Form \(X11\) +Size\ntext\/html +36 bytes\nUTF8_STRING\n\nKeep it/,
    );
    expect((await drawer('copy', 'clipboard:')).out).toMatch(/^Kept as 1: list, 2 items/);
    await program.offer({ forms: new Map([['UTF8_STRING', bytes('and a lamp')]]) });
    expect((await drawer('append', 'clipboard:')).code).toBe(0);
    expect((await drawer('show', '1')).out).toMatch(/ropes[\s\S]*and a lamp/);
    expect((await drawer('copy', 'survey.docx', '--follow')).err).toContain(
      '--follow gathers from the clipboard alone',
    );
    expect(
      (await runCommand(['copy', 'clipboard:'], { cwd: place.folder, DRAWER: place.drawer, DISPLAY: '' })).err,
    ).toContain('No clipboard can be reached in this session');
  });

  const formsNow = async (): Promise<readonly string[]> => (await program.copied())?.forms ?? [];
  const wordsNow = async (): Promise<string> =>
    new TextDecoder().decode(await (await program.copied())?.read('UTF8_STRING'));

  it('puts snippets where other programs paste them, and they stay there after it has ended', async () => {
    const folder = workplace();
    const run = (...words: string[]): Promise<Ran> =>
      runCommand(words, { cwd: folder.folder, DRAWER: folder.drawer, DISPLAY: server.display });
    await run('copy', folder.demo('costs.xlsx#Timber!A1:G6'), folder.demo('letters.html'), '--text', 'and a lamp');
    expect(await run('paste', '1', '--into', 'clipboard:')).toMatchObject({
      code: 0,
      out: 'On the clipboard: 1 snippet, 38 words, 1 table\n',
    });
    expect(await wordsNow()).toMatch(/^Item\tLength, m/);
    // Every form is as good as the snippet: what is taken back is the same.
    expect(JSON.stringify((await readCopied((await program.copied()) as Copied)).content)).toBe(
      JSON.stringify(JSON.parse((await run('paste', '1', '--as', 'json')).out).snippets[0].content),
    );
    const html = new TextDecoder().decode(await (await program.copied())?.read('text/html'));
    expect(html).toContain('sdval="1250"');
    // A file, the clipboard and what leaves the drawer are one step.
    const both = await run('paste', '3', '--into', 'draft.txt', '--into', 'clipboard:', '--take-out');
    expect(both.out).toMatch(/Pasted 1 snippet into draft\.txt.*\nOn the clipboard: 1 snippet, 3 words\n/);
    expect(readFileSync(folder.path('draft.txt'), 'utf8').trim()).toBe(await wordsNow());
    expect((await run('list', '--json')).out).not.toContain('and a lamp');
    expect((await run('paste', '1', '--into', 'clipboard:', '--preview')).out).toMatch(/^Would be on the clipboard/);
    expect(await wordsNow()).toBe('and a lamp');
    // What was put there before is no action of its own.
    expect((await run('undo')).code).toBe(0);
    expect((await run('list', '--json')).out).toContain('and a lamp');
    // A secret is marked so that nobody keeps it.
    await run('mark', '3', '--once');
    const secret = await run('paste', '3', '--into', 'clipboard:');
    expect(secret.err).toMatch(/leaves the clipboard after a minute[\s\S]*1 secret gone for good/);
    expect(await formsNow()).toContain('x-kde-passwordManagerHint');
    expect((await run('copy', 'clipboard:')).err).toContain('marks it as not to be kept');
    expect((await run('list', '--json')).out).not.toContain('and a lamp');
    folder.remove();
  });

  it('puts one after another there, the next as soon as the last was pasted', async () => {
    const folder = workplace();
    const environment = { cwd: folder.folder, DRAWER: folder.drawer, DISPLAY: server.display };
    const run = (...words: string[]): Promise<Ran> => runCommand(words, environment);
    await run('copy', '--text', 'one', '--text', 'two', '--text', 'three');
    expect((await run('next', '--follow')).err).toContain('--into clipboard:');
    expect((await run('next', '--into', 'clipboard:')).out).toMatch(/^On the clipboard: 1, 1 word\n/);
    expect(await wordsNow()).toBe('one');
    const desktop = await Connection.open(server.display);
    await bringToFront(desktop, 'editor', 'report');
    const following = started(['next', '--follow'], environment);
    await following.until(/On the clipboard: 2/);
    // Another program than the one in front reads it: that is no paste.
    expect((await run('outline', 'clipboard:')).out).toContain('Form');
    expect(await wordsNow()).toBe('two');
    await following.until(/On the clipboard: 3/);
    expect(await wordsNow()).toBe('three');
    expect(await following.ended).toBe(0);
    expect(following.told()).toMatch(/Nothing is left/);
    // Where another program copies something, the one that was not pasted is still to come.
    await run('next', '--back');
    const interrupted = started(['next', '--follow'], environment);
    await interrupted.until(/On the clipboard: 3/);
    await program.offer({ forms: new Map([['UTF8_STRING', bytes('other')]]) });
    expect(await interrupted.ended).toBe(0);
    expect(interrupted.told()).toMatch(/3 is still to come/);
    expect((await run('next', '--peek')).out).toMatch(/^Next is 3: three/);
    desktop.close();
    folder.remove();
  });

  it('gathers whatever is copied until it is stopped, in order, and no secret', async () => {
    const following = started(['copy', 'clipboard:', '--follow'], {
      cwd: place.folder,
      DRAWER: place.path('followed.drawer'),
      DISPLAY: server.display,
    });
    const { until } = following;
    await until(/Gathering what is copied/);
    for (let copy = 1; copy <= 4; copy++) {
      await program.offer({ forms: new Map([['UTF8_STRING', bytes(`crossing ${copy}`)]]) });
      await until(new RegExp(`Kept as ${copy}:`));
    }
    await program.offer({
      forms: new Map([
        ['UTF8_STRING', bytes('swordfish')],
        ['x-kde-passwordManagerHint', bytes('secret')],
      ]),
    });
    await until(/marks it as not to be kept/);
    // What came out of a drawer is not gathered again.
    await runCommand(['paste', '1', '--into', 'clipboard:'], {
      cwd: place.folder,
      DRAWER: place.path('followed.drawer'),
      DISPLAY: server.display,
    });
    await program.offer({ forms: new Map([['UTF8_STRING', bytes('crossing 5')]]) });
    await until(/Kept as 5:/);
    following.stop();
    expect(await following.ended).toBe(0);
    const { out } = await runCommand(['list'], { cwd: place.folder, DRAWER: place.path('followed.drawer') });
    expect(out.match(/crossing \d/g)).toEqual([1, 2, 3, 4, 5].map((each) => `crossing ${each}`));
    expect(`${following.told()}${out}`).not.toContain('swordfish');
  });
});
