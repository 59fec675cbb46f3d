import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { type Workplace, workplace } from '../support/cli.ts';

/** What people type, and what they get to see. */

let place: Workplace;
beforeEach(() => {
  place = workplace();
});
afterEach(() => place.remove());

const listed = async (...words: string[]): Promise<{ position: number; facts: { preview: string } }[]> =>
  (JSON.parse((await place.run('list', '--json', ...words)).out) as { snippets: never[] }).snippets;
const previews = async (...words: string[]): Promise<string[]> =>
  (await listed(...words)).map(({ facts }) => facts.preview);
const keep = (...words: string[]) => place.run('copy', ...words.flatMap((each) => ['--text', each]));

/** The command with words on its standard input. */
const fed = (input: string, ...words: string[]): Promise<string> =>
  new Promise((done) => {
    const child = spawn(process.execPath, [resolve('dist/bin/drawer.cjs'), ...words], {
      cwd: place.folder,
      env: { ...process.env, DRAWER: place.drawer, COLUMNS: '100' },
    });
    let out = '';
    child.stdout.on('data', (chunk: Buffer) => {
      out += chunk;
    });
    child.on('close', () => done(out));
    child.stdin.end(input);
  });

it('keeps every --text, and appends every one', async () => {
  await keep('oak', 'larch');
  expect(await previews()).toEqual(['oak', 'larch']);
  await place.run('append', '--text', 'elm', '--text', 'ash', '--join', ', ');
  expect((await place.run('paste', 'last')).out).toBe('larch, elm, ash\n');
});

it('keeps the same lines as the same, typed, handed over or in a file', async () => {
  writeFileSync(place.path('lines.txt'), 'oak\nlarch\n');
  await place.run('copy', 'lines.txt');
  await keep('oak\nlarch');
  await fed('oak\nlarch\n', 'copy', '-');
  const contents = await Promise.all(
    ['1', '2', '3'].map(
      async (each) => JSON.parse((await place.run('paste', each, '--as', 'json')).out).snippets[0].content,
    ),
  );
  expect(contents[1]).toEqual(contents[0]);
  expect(contents[2]).toEqual(contents[0]);
  await keep('one line');
  expect(await fed('one line\n', 'copy', '-')).toContain('the same as 4');
});

it('lists the newest, on a terminal of any width, and all of them for programs', async () => {
  const words = Array.from(
    { length: 60 },
    (_, at) => `snippet ${at + 1} of many that go on for longer than a line has room`,
  );
  await keep(...words);
  await place.run('mark', '60', '--hold', '--for', '3d');
  const { out } = await place.run('list');
  expect(out).toMatch(
    /^\s+What[\s\S]*\n11 {2}[\s\S]*\n60 {2}[\s\S]*The newest 50 of 60; those before: drawer list 1-10/,
  );
  expect(await listed()).toHaveLength(60);
  for (const width of [60, 80, 100]) {
    const narrow = await fedWidth(width, 'list');
    expect(
      Math.max(
        ...narrow
          .split('\n')
          .slice(0, -3)
          .map((line) => line.length),
      ),
    ).toBeLessThanOrEqual(width);
  }
});
const fedWidth = (width: number, ...words: string[]): Promise<string> =>
  new Promise((done) => {
    const child = spawn(process.execPath, [resolve('dist/bin/drawer.cjs'), ...words], {
      env: { ...process.env, DRAWER: place.drawer, COLUMNS: String(width) },
    });
    let out = '';
    child.stdout.on('data', (chunk: Buffer) => {
      out += chunk;
    });
    child.on('close', () => done(out));
  });

it('shows every word of every cell', async () => {
  const cells = Array.from({ length: 12 }, (_, at) => `column${at}withalongname`);
  writeFileSync(place.path('wide.csv'), `${cells.join(',')}\n${cells.join(',')}\n`);
  await place.run('copy', 'wide.csv');
  const shown = (await place.run('show', '1')).out.replace(/[\s-]/g, '');
  for (const letter of 'withalongname') expect(shown).toContain(letter);
  expect(shown).not.toContain('…');
  expect(shown.match(/\d/g)?.length).toBeGreaterThanOrEqual(24);
});

it('lists what a reference names', async () => {
  await keep('a', 'b', 'c');
  await keep('d', 'e');
  await place.run('mark', '1', '--label', 'x');
  const wanted: Record<string, string[]> = {
    '3': ['c'],
    '2-4': ['b', 'c', 'd'],
    '4-': ['d', 'e'],
    '-2': ['a', 'b'],
    'last-1..last': ['d', 'e'],
    'first..2': ['a', 'b'],
    '1,3-4,last': ['a', 'c', 'd', 'e'],
    new: ['d', 'e'],
    '2,2': ['b'],
  };
  for (const [reference, found] of Object.entries(wanted)) {
    expect([reference, await previews(reference)]).toEqual([reference, found]);
  }
});

it('narrows by several filters, as finding does, and lists nothing twice', async () => {
  await place.run('copy', `${place.demo('survey.docx')}#table=1`, `${place.demo('costs.xlsx')}#Timber!A1:D3`);
  await keep('costs');
  expect((await listed('is:table', 'from:costs')).map(({ position }) => position)).toEqual([2]);
  expect((await place.run('list', 'is:picture', 'from:costs')).code).toBe(3);
  expect((await listed('1-2', 'is:table')).map(({ position }) => position)).toEqual([1, 2]);
});

it('names the source of every part, and the parts', async () => {
  await place.run('copy', `${place.demo('log.md')}#list=1`);
  await place.run('append', `${place.demo('survey.docx')}#paragraph=2`);
  expect((await place.run('show', '1')).out).toMatch(/part 1: list.*from log\.md[\s\S]*part 2: .*from survey\.docx/);
  expect((await place.run('paste', '1', '--sources', 'list')).out).toMatch(/1\. log\.md.*\n2\. survey\.docx/);
  expect((await place.run('paste', '1', '--sources', 'inline')).out).toMatch(/log\.md.*; survey\.docx/);
});

it('makes no drawer by a mistyped name, and says what a folder is not', async () => {
  await keep('oak');
  const typo = await place.run('list', '--drawer', './typo.drawer');
  expect([typo.code, existsSync(place.path('typo.drawer'))]).toEqual([3, false]);
  expect((await place.run('copy', '--text', 'x', '-d', './made.drawer')).code).toBe(0);
  mkdirSync(place.path('folder'));
  for (const words of [['list'], ['copy', '--text', 'x']])
    expect((await place.run(...words, '--drawer', './folder')).err).toMatch(
      /folder: This is a folder, and a drawer is a file/,
    );
});

it('refuses a join that is none, and takes signs', async () => {
  await keep('oak', 'larch');
  expect(await place.run('paste', 'all', '--join', 'bulleted')).toMatchObject({
    code: 2,
    err: expect.stringContaining('bullets'),
  });
  expect(await place.run('append', '--text', 'x', '--join', 'bulleted')).toMatchObject({ code: 2 });
  expect((await place.run('paste', 'all', '--join', ' and ')).out).toBe('oak and larch\n');
});

it('goes across until another place is named', async () => {
  await keep('a', 'b', 'c', 'd');
  await place.run('next', '--into', 'row.csv', '--as-words');
  await place.run('next', '--restart');
  writeFileSync(place.path('row.csv'), '');
  await place.run('next', '--into', 'new.xlsx#A1', '--across');
  for (let turn = 0; turn < 2; turn++) await place.run('next');
  await place.run('copy', 'new.xlsx');
  expect(await previews('last')).toEqual(['a · b · c']);
});

it('writes quotation marks as the language has them, and reads a quoted place as it is written first', async () => {
  await keep('say "hi" it\'s');
  const tidied = async (language: string) =>
    (await place.run('paste', '1', '--tidy', 'curly-quotes', '--language', language)).out.trim();
  expect([await tidied('de'), await tidied('en-GB'), await tidied('sv')]).toEqual([
    'say „hi“ it’s',
    'say “hi” it’s',
    'say ”hi” it’s',
  ]);
  writeFileSync(place.path('case.txt'), 'Climate first.\n\nThen climate again.\n');
  await place.run('copy', 'case.txt#:~:text=climate');
  expect(await previews('last')).toEqual(['climate']);
});

it('says the date that would give way as it is shown', async () => {
  await place.run('copy', '--text', '3 May 2026');
  await place.run('paste', '1', '--into', 'date.xlsx#A1');
  const { err } = await place.run('paste', '1', '--into', 'date.xlsx#A1');
  expect(err).toMatch(/A1 “3 May 2026”/);
});

it('reads a picture’s description with a line break', async () => {
  writeFileSync(place.path('broken.md'), 'Before ![two\nlines](missing.png) after\n');
  expect((await place.run('copy', 'broken.md')).code).toBe(0);
  expect(await previews()).toEqual(['Before two lines after']);
});

it('takes - for standard input and output, and says its version and what commands do', async () => {
  expect(await fed('<h1>Hull</h1><p>oak</p>', 'outline', '-', '--as', 'html')).toContain('#section=Hull');
  await fed('a,b\n1,2\n', 'copy', '-#col=2', '--as', 'csv');
  expect((await place.run('paste', '1', '--into', '-')).out).toBe('b\n2\n');
  const { version } = JSON.parse(readFileSync(resolve('package.json'), 'utf8')) as { version: string };
  expect((await place.run('--version')).out).toBe(`drawer ${version}\n`);
  expect((await place.run('help', 'copy')).out).toBe((await place.run('copy', '--help')).out);
  expect((await place.run('help')).out).toContain('Usage: drawer COMMAND');
});

describe.each(['docx', 'odt', 'html', 'md'])('names cut from the lines of one cell of a .%s', (ending) => {
  it('are lines of their own under those of another, and words between words', async () => {
    const lines = (words: readonly string[]) => `<td>${words.map((each) => `<p>${each}</p>`).join('')}</td>`;
    const row =
      ending === 'md' ? '' : `<table><tr>${lines(['Ash', 'Birch', 'Cedar'])}${lines(['Oak', 'Pine'])}</tr></table>`;
    writeFileSync(
      place.path('start.html'),
      `<!doctype html>${row}<p>Ash</p><p>Birch</p><p>Cedar</p><p>Oak and Pine stand.</p><p>End</p>`,
    );
    const file = `trees.${ending}`;
    if (ending === 'html') writeFileSync(place.path(file), readFileSync(place.path('start.html')));
    else {
      await place.run('copy', 'start.html');
      await place.run('paste', '1', '--into', file);
      await place.run('delete', '1');
    }
    expect((await place.run('cut', `${file}#:~:text=Birch`, `${file}#:~:text=Cedar`)).code).toBe(0);
    const target = ending === 'md' ? 'End' : 'Pine';
    expect((await place.run('paste', 'all', '--into', `${file}#:~:text=${target}`)).code).toBe(0);
    await place.run('copy', file);
    const { content } = JSON.parse((await place.run('paste', 'last', '--as', 'json')).out).snippets[0];
    const paragraphs = JSON.stringify(content)
      .match(/"inlines":\[\{"type":"text","text":"[^"]*"/g)
      ?.map((each) => each.split('"text":"')[1]?.slice(0, -1));
    const at = paragraphs?.indexOf(target) ?? -1;
    expect(paragraphs?.slice(at, at + 3)).toEqual([target, 'Birch', 'Cedar']);
    await place.run('paste', '1', '--into', `${file}#:~:text=Oak,and`);
    expect(
      JSON.stringify(JSON.parse((await place.run('copy', `${file}#:~:text=Oak%20and%20Birch`, '--json')).out)),
    ).toContain('Oak and Birch');
  });
});

it('takes a section by how its name begins, and words as they stand', async () => {
  const survey = place.demo('survey.docx');
  await place.run('copy', `${survey}#section=hull con`);
  expect((await place.run('list')).out).toContain('Hull condition');
  expect((await place.run('copy', `${survey}#section=Hul`)).code).toBe(0);
  writeFileSync(place.path('many.md'), '# Hull one\n\na\n\n# Hull two\n\nb\n');
  expect(await place.run('copy', 'many.md#section=Hull')).toMatchObject({
    code: 3,
    err: expect.stringContaining('#section=Hull one'),
  });
  await place.run('copy', survey, '--from', 'carvel built', '--to', 'oak frames');
  expect(await previews('last')).toEqual(['carvel built of larch on oak frames']);
  expect((await place.run('copy', survey, '--to', 'x')).code).toBe(2);
});

it('takes places by their numbers in the outline, several areas of a sheet, and names by how they begin', async () => {
  writeFileSync(place.path('log.md'), '# Log\n\nHauled out.\n\n- keel\n- stem\n\n## Hull\n\nSound.\n');
  const { out } = await place.run('outline', 'log.md');
  expect(out).toMatch(/ 1 {2}Log .*\n 2 .*#list=1\n 3 {4}Hull .*#section=Hull\n/);
  expect((await place.run('copy', 'log.md#3,2')).out).toMatch(/1: section.*Hull\n.*2: list, 2 items/);
  expect((await place.run('copy', 'log.md#3-4')).err).toMatch(/The outline has 3 places and no number 4/);
  expect((await place.run('cut', 'log.md#2')).out).toContain('Taken out of log.md');
  expect(readFileSync(place.path('log.md'), 'utf8')).toBe('# Log\n\nHauled out.\n\n## Hull\n\nSound.\n');
  const said = (await place.run('paste', '1', '--into', 'log.md#2', '--side', 'replace')).out;
  expect(said).toContain('instead of Hull');

  writeFileSync(place.path('a.csv'), 'wood,price\noak,3\nelm,5\n');
  await place.run('copy', 'a.csv');
  await place.run('paste', 'last', '--into', 'a.xlsx#Timber!A1');
  await place.run('paste', 'last', '--into', 'a.ods#Timber!A1');
  for (const file of ['a.xlsx', 'a.ods']) {
    expect((await place.run('copy', `${file}#Tim!A2,B3,B:B`)).out).toMatch(/Timber!A2\n.*Timber!B3\n.*Timber!B:B\n$/);
    expect((await place.run('show', 'last-1')).out).toMatch(/\n5\n$/);
  }
  expect((await place.run('paste', '1', '--into', 'a.xlsx#C1,D1')).err).toMatch(/matches 2 places/);
});

it('shows paragraphs and the fields of a form when asked', async () => {
  writeFileSync(place.path('log.md'), '# Log\n\nHauled out.\n\n- keel\n\nSound.\n');
  const { out } = await place.run('outline', 'log.md', '--paragraphs');
  expect(out).toMatch(/ 1 {2}Log .*\n {4}.*Hauled out\. .*#paragraph=2\n 2 .*#list=1\n {4}.*Sound\. .*#paragraph=3\n/);
  writeFileSync(
    place.path('form.html'),
    '<form><label>Name <input name="n"></label><label>Day <input type="date" name="d"></label></form>',
  );
  const fields = (await place.run('outline', 'form.html', '--fields')).out;
  expect(fields).toMatch(/Field +Takes\nName +words\nDay +a date\n/);
  const { out: json } = await place.run('outline', 'form.html', '--fields', '--json');
  expect(JSON.parse(json).fields).toMatchObject([{ kind: 'text' }, { kind: 'date' }]);
  expect((await place.run('outline', 'log.md', '--fields')).out).toMatch(/no fields to fill|Fill them/);
});

describe.each(['docx', 'odt', 'html', 'md'])('the cells of a table in a .%s', (ending) => {
  const file = `prices.${ending}`;
  beforeEach(async () => {
    writeFileSync(
      place.path('prices.html'),
      '<!doctype html><html lang="en-GB"><p>Prices</p><table><thead><tr><th>Wood</th><th>Price</th><th>Day</th></tr></thead><tr><td>Oak</td><td>£1,250.00</td><td>3 May 2026</td></tr><tr><td>Elm</td><td>£20.50</td><td>4 May 2026</td></tr></table></html>',
    );
    if (ending !== 'html') {
      await place.run('copy', 'prices.html');
      await place.run('paste', '1', '--into', file);
      await place.run('delete', '1');
    }
  });
  const taken = async (cells: string): Promise<unknown> => {
    await place.run('copy', `${file}#table=1!${cells}`);
    const { content } = JSON.parse((await place.run('paste', 'last', '--as', 'json')).out).snippets[0];
    return content.rows.map((row: { value?: unknown }[]) => row.map(({ value }) => value));
  };

  it('are taken as values, by address, by row, and by the heading of a column', async () => {
    expect(await taken('B2:C3')).toEqual([
      [1250, '2026-05-03'],
      [20.5, '2026-05-04'],
    ]);
    expect(await taken('A:A')).toEqual([['Wood'], ['Oak'], ['Elm']]);
    expect(await taken('row=3')).toEqual([['Elm', 20.5, '2026-05-04']]);
    expect(await taken('price')).toEqual([[1250], [20.5]]);
    expect(await place.run('copy', `${file}#table=1!Prise`)).toMatchObject({
      code: 3,
      err: expect.stringContaining('#table=1!Price'),
    });
    expect(await place.run('copy', `${file}#table=1!B9`)).toMatchObject({
      code: 3,
      err: expect.stringContaining('3 rows and 3 columns'),
    });
  });

  it('are filled one after another, on in a new row, and are told of', async () => {
    await keep('Ash', 'Fir');
    await place.run('next', '--into', `${file}#table=1!A3`, '--side', 'replace');
    expect((await place.run('next')).out).toContain(`in table 1!A4`);
    expect(await taken('A:A')).toEqual([['Wood'], ['Oak'], ['Ash'], ['Fir']]);
    const { out } = await place.run('outline', file, '--columns');
    expect(out).toMatch(/#table=1\n +Wood +3 rows +#table=1!Wood\n +Price +3 rows +#table=1!Price\n/);
  });

  it('are cut, a row going when it is whole, and take words', async () => {
    await place.run('copy', '--text', 'Ash');
    const before = readFileSync(place.path(file));
    expect((await place.run('cut', `${file}#table=1!row=3`)).code).toBe(0);
    await place.run('copy', `${file}#table=1`);
    expect((await place.run('list')).out).toMatch(/table, 2 × 3/);
    expect((await place.run('cut', `${file}#table=1!A2`)).code).toBe(0);
    expect((await place.run('paste', '1', '--into', `${file}#table=1!A2`)).code).toBe(0);
    expect(await taken('A2:B2')).toEqual([['Ash', 1250]]);
    const now = readFileSync(place.path(file));
    await place.run('copy', `${file}#table=1`);
    expect(await place.run('paste', 'last', '--into', `${file}#table=1!A2`)).toMatchObject({
      code: 1,
      err: expect.stringContaining('cells there are not empty'),
    });
    if (ending === 'md') {
      await place.run('copy', '--text', 'a\n\nb');
      expect((await place.run('paste', 'last', '--into', `${file}#table=1!A2`)).err).toContain('one line of words');
      await place.run('copy', `${file}#:~:text=Prices`);
      await place.run('paste', 'last', '--into', `${file}#:~:text=Ash`);
      expect(readFileSync(place.path(file), 'utf8')).toMatch(/\| Ash Prices +\|/);
      await place.run('undo');
    }
    expect(readFileSync(place.path(file)).equals(now)).toBe(true);
    for (let turn = 0; turn < 12 && !readFileSync(place.path(file)).equals(before); turn++)
      await place.run('undo', '--yes');
    expect(readFileSync(place.path(file)).equals(before)).toBe(true);
  });
});
