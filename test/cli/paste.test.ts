import { copyFileSync, existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { openDrawer } from 'drawer/node';
import * as fc from 'fast-check';
import { type Workplace, workplace } from '../support/cli.ts';

const names = [
  'survey.docx',
  'costs.xlsx',
  'application.docx',
  'budget.xlsx',
  'letters.html',
  'log.md',
  'sailings.csv',
  'claim.docx',
  'claim.html',
];
let place: Workplace;
beforeEach(() => {
  place = workplace();
  for (const name of names) copyFileSync(place.demo(name), place.path(name));
});
afterEach(() => place.remove());

const bytes = (name: string): string | undefined =>
  existsSync(place.path(name)) ? readFileSync(place.path(name)).toString('base64') : undefined;
const gather = (...words: string[]): Promise<unknown> =>
  Promise.all([]).then(async () => {
    for (const each of words) await place.run('copy', '--text', each);
  });
const count = async (): Promise<number> =>
  (JSON.parse((await place.run('list', '--json')).out) as { count: number }).count;

it('joins, orders and totals what it prints', async () => {
  await gather('oak', 'larch', 'elm', '£1.20', '£2.30');
  expect((await place.run('paste', '3', '1', '2', '--join', 'sentence', '--or')).out).toBe('elm, oak or larch\n');
  expect((await place.run('paste', '1-3', '--join', ' + ', '--order', 'reversed')).out).toBe('elm + larch + oak\n');
  expect((await place.run('paste', '4-5', '--totals', 'sum', '--join', 'line')).out).toBe(
    '£1.20\n£2.30\n\nSum: £3.50\n',
  );
  expect((await place.run('paste', '1', '--around', '{number}. {content}')).out).toBe('1. oak\n');
});

it('merges into one new snippet, which undo takes apart', async () => {
  await gather('oak', 'larch');
  const merged = await place.run('merge', 'all', '--join', 'bullets', '--label', 'Timber', '--take-out');
  expect(merged.out).toMatch(/^Kept as 1: list, 2 items.*label: Timber\n/);
  expect((await place.run('paste', '1')).out).toBe('- oak\n- larch\n');
  expect(await count()).toBe(1);
  await place.run('undo');
  expect((await place.run('paste', 'all', '--join', 'line')).out).toBe('oak\nlarch\n');
});

it('shows what would land, and writes nothing', async () => {
  await gather('oak');
  const before = bytes('log.md');
  const { out } = await place.run('paste', '1', '--into', 'log.md#paragraph=2', '--side', 'replace', '--preview');
  expect(out).toMatch(/^Would paste 1 snippet into log\.md, instead of paragraph 2: 1 word; it would replace “/);
  expect(bytes('log.md')).toBe(before);
});

it('is one action over several files and places, new ones too, and comes back byte for byte', async () => {
  await gather('oak');
  const before = names.map(bytes);
  const targets = [
    'application.docx#section=Background',
    'budget.xlsx#Lines!F9',
    'log.md',
    'letters.html#paragraph=1',
    'sailings.csv',
    'new.xlsx',
    'new.docx',
  ];
  const { code, out } = await place.run('paste', '1', ...targets.flatMap((each) => ['--into', each]));
  expect([code, out.split('\n').length]).toEqual([0, targets.length + 1]);
  const after = [...names, 'new.xlsx', 'new.docx'].map(bytes);
  expect((await place.run('undo')).out).toMatch(
    /sailings\.csv is as before\.\n.*new\.xlsx is gone again\.\n.*new\.docx is gone again\.\n$/,
  );
  expect(names.map(bytes)).toEqual(before);
  expect([bytes('new.xlsx'), bytes('new.docx')]).toEqual([undefined, undefined]);
  await place.run('redo');
  expect([...names, 'new.xlsx', 'new.docx'].map(bytes)).toEqual(after);
});

it('writes none of the files when one of them cannot be', async () => {
  await gather('oak');
  const before = names.map(bytes);
  const { code } = await place.run('paste', '1', '--into', 'log.md', '--into', 'application.docx#section=Nowhere');
  expect([code, names.map(bytes)]).toEqual([3, before]);
  writeFileSync(place.path('.~lock.log.md#'), '');
  const locked = await place.run('paste', '1', '--into', 'letters.html', '--into', 'log.md');
  expect(locked.err).toMatch(/log\.md: The file is open in another program/);
  expect(names.map(bytes)).toEqual(before);
  expect((await place.run('undo')).out).toMatch(/^Undone: Kept/);
});

it('fills no form that is open in another program', async () => {
  await place.run('copy', '--text', '2026-04-14');
  await place.run('merge', '1', '1', '--label', 'Date');
  const before = bytes('claim.docx');
  writeFileSync(place.path('.~lock.claim.docx#'), '');
  const { code, err } = await place.run('fill', 'claim.docx', '--from', '1');
  expect([code, err]).toEqual([1, expect.stringContaining('open in another program')]);
  expect(bytes('claim.docx')).toEqual(before);
  rmSync(place.path('.~lock.claim.docx#'));
  expect((await place.run('fill', 'claim.docx', '--from', '1')).code).toBe(0);
  expect(bytes('claim.docx')).not.toEqual(before);
});

it('does not undo over what somebody changed since, in any of the files', async () => {
  await gather('oak');
  await place.run('paste', '1', '--into', 'letters.html', '--into', 'log.md');
  writeFileSync(place.path('log.md'), 'mine');
  const after = bytes('letters.html');
  expect((await place.run('undo')).err).toMatch(/log\.md: The file has changed since/);
  expect([bytes('letters.html'), readFileSync(place.path('log.md'), 'utf8')]).toEqual([after, 'mine']);
  rmSync(place.path('log.md'));
  expect((await place.run('undo')).err).toMatch(/not there any more/);
});

it('remembers the style', async () => {
  await gather('oak');
  await place.run('paste', '1', '--into', 'log.md', '--style', 'plain');
  const drawer = await openDrawer(place.drawer);
  expect((await drawer.settings()).style).toBe('plain');
  await drawer.close();
});

it('any sequence of pastes is undone to the start, files and drawer', async () => {
  await gather('oak', '£1.20', 'two words');
  const before = names.map(bytes);
  const action = fc.constantFrom(
    ['paste', '1', '--into', 'log.md'],
    ['paste', '2', '3', '--into', 'application.docx#section=Background', '--side', 'end'],
    ['paste', 'all', '--into', 'sailings.csv'],
    ['next', '--into', 'budget.xlsx'],
    ['merge', '1', '2'],
    ['cut', 'letters.html#paragraph=2'],
  );
  await fc.assert(
    fc.asyncProperty(fc.array(action, { minLength: 2, maxLength: 4 }), async (actions) => {
      let done = 0;
      for (const words of actions) done += (await place.run(...words)).code === 0 ? 1 : 0;
      expect(done).toBeGreaterThan(0);
      for (let at = 0; at < done; at++) expect((await place.run('undo', '--yes')).code).toBe(0);
      expect(names.map(bytes)).toEqual(before);
      expect((await place.run('paste', 'all', '--join', 'line')).out).toBe('oak\n£1.20\ntwo words\n');
    }),
    { numRuns: Number(process.env.RUNS ?? 3) },
  );
});

describe('next', () => {
  it('pastes one after another across restarts, and says what comes and how many are left', async () => {
    await gather('a', 'b', 'c');
    expect((await place.run('next', '--peek')).out).toBe('Next is 1: a (3 left)\n');
    expect(await place.run('next')).toMatchObject({ out: 'a\n', err: 'Next is 2: b (2 left)\n' });
    expect((await place.run('next', '--skip')).out).toBe('Next is 3: c (1 left)\n');
    expect((await place.run('next', '--back')).out).toBe('Next is 2: b (2 left)\n');
    await place.run('next');
    expect(await place.run('next')).toMatchObject({ out: 'c\n', err: expect.stringMatching(/^Nothing is left/) });
    expect(await place.run('next')).toMatchObject({ code: 3, err: expect.stringMatching(/are pasted/) });
    expect((await place.run('next', '--restart')).out).toBe('Next is 1: a (3 left)\n');
  });

  it('lands under the last cell without being told, takes out as it goes, and undo steps back', async () => {
    await gather('a', 'b', 'c');
    await place.run('next', '--into', 'budget.xlsx#Lines!F1', '--take-out');
    const second = await place.run('next', '--take-out');
    expect(second.out).toMatch(/^Pasted 1 into budget\.xlsx, Lines!F2/);
    expect([await count(), (await place.run('next', '--peek')).out]).toEqual([
      1,
      'Next is 1: c (1 left, into budget.xlsx#Lines!F3)\n',
    ]);
    await place.run('undo');
    expect([await count(), (await place.run('next', '--peek')).out]).toEqual([
      2,
      'Next is 1: b (2 left, into budget.xlsx#Lines!F2)\n',
    ]);
  });
});

describe('fill', () => {
  beforeEach(() => gather('The Marigold Ferry Trust', '12 June 2026', '£2,428.05', 'yes', 'Hull'));

  it('fills a document by name and by what it asks for, and reports the rest', async () => {
    const { out } = await place.run(
      'fill',
      'claim.docx',
      '--into',
      'filled.docx',
      '--slot',
      'Claimant=1',
      '--slot',
      'Receipts enclosed=4',
    );
    expect(out).toBe(
      'Filled 4 places of filled.docx:\n  Claimant: The Marigold Ferry Trust (by name)\n  Receipts enclosed: ticked (by name)\n  Date: 12 June 2026 (by trait)\n  Amount: £2,428.05 (by trait)\nLeft empty: Work done\nNot used: 1 snippet\n',
    );
    expect((await place.run('copy', 'filled.docx')).code).toBe(0);
    expect((await place.run('paste', 'last')).out).toMatch(
      /Claimant: The Marigold Ferry Trust\n\nDate: 12 June 2026\n\nAmount claimed: £2,428\.05.*☒/s,
    );
    await place.run('undo');
    await place.run('undo');
    expect(existsSync(place.path('filled.docx'))).toBe(false);
  });

  it('fills the fields of a page, each in its own form', async () => {
    await place.run(
      'fill',
      'claim.html',
      '--slot',
      'Claimant=1',
      '--slot',
      'receipts=4',
      '--slot',
      'Part of the boat=5',
    );
    const page = readFileSync(place.path('claim.html'), 'utf8');
    expect(page).toContain('<input name="date" type="date" value="2026-06-12">');
    expect(page).toContain('<input name="amount" type="number" step="0.01" value="2428.05">');
    expect(page).toContain('type="checkbox" checked>');
    expect(page).toContain('<option selected>Hull</option>');
  });

  it('never guesses between two', async () => {
    await gather('13 June 2026');
    const { err, out } = await place.run('fill', 'claim.docx', '--preview');
    expect(err).toMatch(/Date could be any of 2: say which with --slot "Date=NUMBER"/);
    expect(out).not.toMatch(/Date: /);
    expect(await place.run('fill', 'claim.docx', '--slot', 'Nobody=1')).toMatchObject({
      code: 3,
      err: expect.stringMatching(/It has Claimant, Date/),
    });
  });
});
