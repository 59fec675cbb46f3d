import { spawnSync } from 'node:child_process';
import { chmodSync, copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { asBlocks } from 'drawer';
import { readFromFile, wholeOf } from 'drawer/node';
import { parseWith } from '../../src/content/index.ts';
import { exportedSchema } from '../../src/drawer/index.ts';
import { type Ran, runCommand, type Workplace, workplace } from '../support/cli.ts';
import { zipOf } from '../support/office.ts';

let place: Workplace;
beforeEach(() => {
  place = workplace();
});
afterEach(() => place.remove());

const gatherThree = (): Promise<Ran> =>
  place.run(
    'copy',
    `${place.demo('survey.docx')}#section=Hull condition`,
    `${place.demo('costs.xlsx')}#Timber!A1:D6`,
    `${place.demo('letters.html')}#:~:text=The%20first%20crossing,that%20morning`,
  );

describe('the main job on the demo data', () => {
  it('gathers, lists, shows and pastes', async () => {
    const gathered = await gatherThree();
    expect(gathered).toMatchObject({ code: 0 });
    expect(gathered.out.split('\n')).toEqual([
      'Kept as 1: section, 160 words, from survey.docx, Hull condition',
      'Kept as 2: table, 6 × 4, from costs.xlsx, Timber!A1:D6',
      'Kept as 3: 43 words, from letters.html, “The first crossing … that morning”',
      '',
    ]);
    expect(gathered.err).toMatch(/^Simplified: inserted text .*deleted text/);

    const listed = await place.run('list');
    expect(listed.out).toMatch(
      /What +Begins +From +When\n 1 {2}section, 160 words .*just now\n 2 .*costs\.xlsx, Timber!A1:D6.*\n 3 /,
    );
    expect(listed.out.split('\n').every((line) => [...line].length <= 100)).toBe(true);

    const shown = await place.run('show', '2');
    expect(shown.out).toMatch(/Larch planks, 35 mm +96\.50 +£1,250\.00 +3 May 2026/);
    expect(shown.out).toContain('38 words');

    expect((await place.run('paste', '3')).out).toBe(
      'The first crossing of the year was always on the first of April, and the whole school went down to see it. The first crossing I remember was in the frost: the ropes were stiff as rods, and nobody spoke much that morning\n',
    );
    const markdown = (await place.run('paste', '3', '2', '--as', 'markdown')).out;
    expect(markdown.indexOf('stiff as')).toBeLessThan(markdown.indexOf('£1,250.00'));
    expect(markdown).toContain('**stiff as rods**');
    expect((await place.run('paste', '2', '--as', 'html')).out).toMatch(
      /<td style="text-align: end" sdval="1250" sdnum="[^"]*">£1,250\.00<\/td>/,
    );
  });

  it.each(['docx', 'html'])('pastes all into a new .%s that holds what was gathered, in order', async (ending) => {
    await gatherThree();
    const file = place.path(`draft.${ending}`);
    const pasted = await place.run('paste', 'all', '--into', file);
    expect(pasted.out).toBe(`Pasted 3 snippets into ${file} (new): 241 words, 2 tables, 1 picture\n`);
    const { content, media } = await readFromFile(wholeOf(file));
    const blocks = asBlocks(content);
    expect(blocks[0]).toMatchObject({ type: 'heading', level: 1 });
    expect(blocks.filter(({ type }) => type === 'table')).toHaveLength(2);
    expect(JSON.stringify(blocks)).toContain('£1,250.00');
    expect(blocks.at(-1)).toMatchObject({ type: 'paragraph' });
    expect(media.size).toBe(1);
  });

  it('puts the pictures of a Markdown file beside it', async () => {
    await gatherThree();
    await place.run('paste', 'all', '--into', place.path('draft.md'));
    const [address] = /draft-pictures\/[0-9a-f]{16}\.png/.exec(readFileSync(place.path('draft.md'), 'utf8')) ?? [
      'none',
    ];
    expect(readFileSync(place.path(address)).equals(readFileSync(place.demo('hull-plan.png')))).toBe(true);
  });

  it('is still there for the next process, and says so as JSON', async () => {
    await gatherThree();
    const listed = JSON.parse((await place.run('list', '2-3', '--json')).out) as {
      count: number;
      snippets: { position: number }[];
    };
    expect([listed.count, listed.snippets.map(({ position }) => position)]).toEqual([3, [2, 3]]);
    expect(JSON.parse((await place.run('show', '3', '--json')).out)).toMatchObject([
      { position: 3, content: { shape: 'run' }, origin: { file: 'letters.html' } },
    ]);
    const exported = parseWith(
      exportedSchema,
      JSON.parse((await place.run('paste', 'all', '--as', 'json')).out),
      'output',
    );
    expect([exported.snippets.length, Object.keys(exported.media).length]).toEqual([3, 1]);
  });

  it('outlines what every file offers, each place as it can be taken', async () => {
    for (const name of ['survey.docx', 'costs.xlsx', 'letters.html', 'application.docx', 'budget.xlsx', 'claim.docx']) {
      const { entries } = JSON.parse((await place.run('outline', place.demo(name), '--json')).out) as {
        entries: { place: string }[];
      };
      expect(entries.length).toBeGreaterThan(0);
      const copied = await place.run('copy', ...entries.map((entry) => entry.place));
      expect(copied).toMatchObject({ code: 0 });
      expect(copied.out.trim().split('\n')).toHaveLength(entries.length);
    }
    expect((await place.run('outline', place.demo('survey.docx'))).out).toMatch(
      /Hull condition +\d+ words +#section=Hull condition/,
    );
  });

  it('takes the drawer’s place from --drawer, from DRAWER, or from the user’s own folder', async () => {
    await place.run('--drawer', 'other.drawer', 'copy', place.demo('letters.html'));
    expect([existsSync(place.path('other.drawer')), existsSync(place.drawer)]).toEqual([true, false]);
    expect((await place.run('list', '--drawer', 'other.drawer')).out).toContain('letters.html');
    await runCommand(['copy', place.demo('letters.html')], {
      cwd: place.folder,
      DRAWER: '',
      HOME: place.folder,
      XDG_DATA_HOME: place.path('data'),
    });
    expect(existsSync(place.path('data/drawer/default.drawer'))).toBe(true);
  });

  it('takes a file with a # in its name', async () => {
    copyFileSync(place.demo('letters.html'), place.path('letters #2.html'));
    expect((await place.run('copy', 'letters #2.html')).out).toContain('from letters #2.html');
    expect((await place.run('copy', 'letters %232.html#section=From Alder Bank')).out).toContain(
      'from letters #2.html, From Alder Bank',
    );
  });
});

describe('help', () => {
  it('fits a screen, and shows a worked example for every command', async () => {
    const { out, code } = await place.run('--help');
    expect(code).toBe(0);
    expect(out.split('\n').length).toBeLessThanOrEqual(24);
    expect(out.split('\n').every((line) => line.length <= 80)).toBe(true);
    const commands = [...out.matchAll(/^ {2}(\w+)(?:, (\w+))? .* {2}/gm)].flatMap(([, ...names]) =>
      names.filter((name) => name !== undefined),
    );
    expect(commands).toEqual(
      'outline copy cut append list show find paste next merge split fill move mark edit renew delete undo redo rules check sync desk'.split(
        ' ',
      ),
    );
    for (const name of commands) expect((await place.run(name, '--help')).out).toMatch(/Example:\n {2}drawer /);
  });

  it.each([[[]], [['sing']], [['copy']], [['list', '--loud']]])('follows wrong usage: %j', async (words) => {
    const { code, err } = await place.run(...words);
    expect([code, err !== '']).toEqual([2, true]);
  });
});

/** A compound file ([MS-CFB]) as far as telling it apart needs: its signature and the name of a stream. */
const compound = (stream: string): Uint8Array =>
  Uint8Array.from([
    0xd0,
    0xcf,
    0x11,
    0xe0,
    0xa1,
    0xb1,
    0x1a,
    0xe1,
    ...new Array(504).fill(0),
    ...Buffer.from(`${stream}\0`, 'utf16le'),
  ]);

describe('bad input ends in one clear line and loses nothing', () => {
  const survey = readFileSync(workplace().demo('survey.docx'));
  const badFiles: [string, string | Uint8Array, RegExp][] = [
    ['empty.docx', '', /The file is empty/],
    ['notes.zip', zipOf({ 'a.txt': 'hello' }), /zip file, but not a document/],
    ['cut.docx', survey.subarray(0, 20_000), /damaged or cut short/],
    ['secret.docx', compound('EncryptedPackage'), /protected by a password/],
    ['old.doc', compound('WordDocument'), /old binary office file \(\.doc\).*save it as \.docx/],
    ['old.xls', compound('Workbook'), /old binary office file \(\.xls\).*save it as \.xlsx/],
    ['words.docx', 'Dear Sir', /named like a \.docx file/],
    ['letter.pdf', '%PDF-1.7', /does not read files of this kind \(PDF\)/],
    ['thing.bin', Uint8Array.from([1, 2, 3]), /does not know this kind of file/],
    ['broken.png', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 1]), /picture is damaged/],
    ['other.json', '{', /is not valid JSON/],
  ];

  it.each(badFiles)('%s', async (name, bytes, message) => {
    await gatherThree();
    writeFileSync(place.path(name), bytes);
    for (const command of ['copy', 'outline']) expectOneLine(await place.run(command, name), 1, message, name);
    expect(JSON.parse((await place.run('list', '--json')).out)).toMatchObject({ count: 3 });
  });

  it.each<[string[], number, RegExp]>([
    [['copy', 'nowhere.docx'], 3, /There is no such file/],
    [['copy', '.'], 1, /This is a folder/],
    [['copy', 'SURVEY#section=Hull conditions'], 3, /nearest is #section=Hull condition/],
    [['copy', 'SURVEY#section=Findings'], 3, /2 sections are named/],
    [['copy', 'SURVEY#colour=red'], 2, /Unknown kind of place/],
    [['copy', 'SURVEY', 'nowhere.docx'], 3, /There is no such file/],
    [['copy', 'COSTS#Timbre!A1'], 3, /nearest is #Timber!/],
    [['copy', 'SURVEY#line=1,2'], 1, /no place such as “line=1,2”/],
    [['copy'], 2, /Nothing to gather is named/],
    [['copy', '-', '--as', 'pdf'], 2, /does not read the format/],
    [['cut', '-'], 2, /cut out of standard input/],
    [['cut', 'FERRY'], 1, /Nothing can be cut out of a picture/],
    [['append', '--text', 'x', '--onto', '1-3'], 2, /matches 3 snippets/],
    [['append', '--text', 'x', '--onto', '9'], 3, /There is no snippet 9/],
    [['show', '9'], 3, /There is no snippet 9.*holds 3 snippets/],
    [['paste', 'last-3'], 3, /There is no snippet last-3/],
    [['paste', 'hull'], 2, /is not a reference to snippets/],
    [['paste', 'all', '--into', 'draft.pdf'], 2, /cannot write a new file.*\.docx.*\.xlsx/],
    [['paste', 'all', '--join', 'sentence'], 2, /Only plain text can be listed in a sentence/],
    [['paste', 'all', '--preview'], 2, /what would land in a file/],
    [['paste', 'all', '--into', 'x.docx', '--side', 'below'], 2, /Unknown side/],
    [['merge', '1'], 2, /One snippet alone/],
    [['next', '--skip', '--back'], 2, /cannot be combined/],
    [['fill', 'FERRY'], 1, /has no places to fill/],
    [['paste', 'all', '--into', 'there.docx'], 1, /there\.docx: The file is named like a \.docx file/],
    [['paste', 'all', '--into', 'no/such/folder/draft.docx'], 1, /no such folder/],
    [['paste', 'all', '--as', 'poem'], 2, /Unknown format to print/],
    [['paste', 'all', '--as', 'html', '--into', 'draft.html'], 2, /cannot be combined/],
    [['paste', 'all', '--language', 'x'], 2, /Unknown language tag/],
    [['list', '--drawer', 'there.docx'], 1, /not a drawer/],
  ])('%j', async (words, code, message) => {
    await gatherThree();
    writeFileSync(place.path('there.docx'), 'mine');
    const files = readdirSync(place.folder).sort();
    const named = words.map((word) =>
      word
        .replace('FERRY', place.demo('ferry.png'))
        .replace('SURVEY', place.demo('survey.docx'))
        .replace('COSTS', place.demo('costs.xlsx')),
    );
    expectOneLine(await place.run(...named), code, message);
    expect(readFileSync(place.path('there.docx'), 'utf8')).toBe('mine');
    expect(readdirSync(place.folder).sort()).toEqual(files);
    expect(JSON.parse((await place.run('list', '--json')).out)).toMatchObject({ count: 3 });
  });

  it('a folder that may not be written to', async () => {
    await gatherThree();
    mkdirSync(place.path('closed'), { mode: 0o555 });
    chmodSync(place.folder, 0o755);
    // The root user may write anywhere, so it hands over to one who may not.
    const user = process.getuid?.() === 0 ? { uid: 65_534, gid: 65_534 } : {};
    const environment = { PATH: process.env.PATH ?? '', COLUMNS: '100', HOME: '/nonexistent' };
    const command = resolve(import.meta.dirname, '../../dist/bin/drawer.cjs');
    const script = `cd '${place.folder}' && export DRAWER="$(mktemp -d)/d.drawer" && node '${command}' copy '${place.demo('letters.html')}' && node '${command}' paste all --into closed/draft.docx; echo "code $?"; node '${command}' copy --text x --drawer closed/new.drawer; echo "code $?"`;
    const { stdout, stderr } = spawnSync('sh', ['-c', script], { env: environment, encoding: 'utf8', ...user });
    expect(stdout).toMatch(/Kept as 1.*\ncode 1\ncode 1\n/s);
    expect(stderr).toMatch(/closed\/draft\.docx: You are not allowed to write to the folder.*nothing was written/);
    expect(stderr).toMatch(/closed\/new\.drawer: You are not allowed to write the drawer there/);
    expect(readdirSync(place.path('closed'))).toEqual([]);
  });

  it('no room for the file', async () => {
    await gatherThree();
    const command = resolve(import.meta.dirname, '../../dist/bin/drawer.cjs');
    const { stdout, stderr } = spawnSync(
      'sh',
      ['-c', `ulimit -f 128; node '${command}' paste 1 1 1 --into draft.html; echo "code $?"`],
      { cwd: place.folder, encoding: 'utf8', env: { ...process.env, DRAWER: place.drawer } },
    );
    expect(stdout).toBe('code 1\n');
    expect(stderr).toMatch(/draft\.html: The file would exceed.*nothing was written\.\n$/);
    expect(readdirSync(place.folder).filter((name) => name.startsWith('draft'))).toEqual([]);
  });
});

/** One line on standard error, nothing on standard output, and no trace of the program. */
function expectOneLine({ code, out, err }: Ran, expected: number, message: RegExp, file = ''): void {
  expect([code, out]).toEqual([expected, '']);
  expect(err).toMatch(message);
  expect(err).toContain(file);
  expect(err.trim().split('\n')).toHaveLength(1);
  expect(err).not.toMatch(/\bat .*\.[cm]?[jt]s/);
}
