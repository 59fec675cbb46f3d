import { cpSync } from 'node:fs';
import { catalogueFor, englishCommand } from 'drawer/messages';
import { demoFiles, type Ran, runCommand, type Workplace, workplace } from '../support/cli.ts';

let place: Workplace;
beforeEach(() => {
  place = workplace();
});
afterEach(() => place.remove());

/** The command on a terminal that is set to a language, as POSIX has it. */
const runIn = (locale: Record<string, string>, ...words: string[]): Promise<Ran> =>
  runCommand(words, {
    cwd: place.folder,
    DRAWER: place.drawer,
    DRAWER_LANGUAGE: '',
    LC_ALL: '',
    LC_MESSAGES: '',
    LANG: '',
    ...locale,
  });

/** The list of commands describes each, but for redo, which it lists with undo. */
const describes = (name: string): boolean =>
  name === 'mergeAndSplit' || (name.startsWith('command.') && !/\.(?:redo|merge|split)$/.test(name));
const descriptions = Object.entries(englishCommand).flatMap(([name, phrase]) =>
  describes(name) ? [String(phrase)] : [],
);

it.each([
  ['de', { LANG: 'de_DE.UTF-8' }],
  ['de', { LANG: 'en_GB.UTF-8', LC_MESSAGES: 'de_AT@euro' }],
  ['ar', { LC_ALL: 'ar_EG.UTF-8', LANG: 'de_DE.UTF-8' }],
  ['ar', { DRAWER_LANGUAGE: 'ar', LC_ALL: 'C' }],
])('helps in %s where the terminal says so by %j', async (language, locale) => {
  const { out } = await runIn(locale, '--help');
  const told = await (await catalogueFor(language)).command?.();
  for (const [name, phrase] of Object.entries(told ?? {})) if (describes(name)) expect(out).toContain(String(phrase));
  expect(descriptions.filter((each) => out.includes(each))).toEqual([]);
});

it.each([{ LANG: 'en_US.UTF-8' }, { LC_ALL: 'C.UTF-8', LANG: 'de_DE' }, { LANG: 'POSIX' }, {}, { LANG: 'tlh_XX' }])(
  'helps in English where the terminal says %j',
  async (locale) => {
    const { out } = await runIn(locale, '--help');
    expect(descriptions.filter((each) => !out.includes(each))).toEqual([]);
  },
);

it('gathers, lists, pastes and undoes in German', async () => {
  const german = (...words: string[]): Promise<Ran> => runIn({ LANG: 'de_DE.UTF-8' }, ...words);
  expect((await german('list')).out).toBe('Die Schublade ist leer. Sammeln Sie etwas: drawer copy DATEI\n');
  expect((await german('copy', '--text', 'Eiche', '--text', 'Lärche')).out).toContain('Aufbewahrt als 1: 1 Wort');
  expect((await german('list')).out).toMatch(/^ +Was +Anfang +Woher +Wann\n/);
  expect((await german('mark', '1', '--hold')).out).toBe('1 Zettel festgehalten.\n');
  expect((await german('delete', 'all')).out).toBe(
    '1 Zettel gelöscht. 1 festgehaltener bleibt (drawer mark held --release). drawer undo bringt ihn zurück.\n',
  );
  expect((await german('undo')).out).toMatch(/^Zurückgenommen: .+\.\n$/);
  expect((await german('paste', 'all', '--into', 'neu.txt')).out).toBe(
    'Eingefügt: 2 Zettel in neu.txt (neu): 2 Wörter\n',
  );
  expect((await german('rules')).out).toContain('höchstens 250.000 Zettel');
  expect((await german('check')).out).toBe('Durchgesehen: 2 Zettel, 0 Bilder und 3 Aktionen: alles ist gut.\n');
});

it('says in Arabic what is wrong, and what to do next', async () => {
  const arabic = (...words: string[]): Promise<Ran> => runIn({ LC_ALL: 'ar' }, ...words);
  const option = await arabic('copy', '--txet', 'x');
  expect([option.code, option.err]).toEqual([2, 'خطأ: لا يوجد خيار --txet\nالأقرب --text.\nانظر drawer --help\n']);
  const named = await arabic('paste');
  expect([named.code, named.err.split('\n')[0]]).toEqual([2, 'خطأ: لم يُذكر أي القصاصات؛ اذكر رقمًا مثل 3، أو --pick']);
  await arabic('copy', '--text', 'x');
  const missing = await arabic('show', '7');
  expect([missing.code, missing.err]).toEqual([3, expect.stringMatching(/^drawer: .*[\u0600-\u06ff]/)]);
  const json = await arabic('list', '--json');
  expect(JSON.parse(json.out)).toMatchObject({ count: 1 });
});

describe('a day’s work', () => {
  /** What people do in a day, on the demo files; each says something. */
  const work: readonly (readonly string[])[] = [
    ['outline', 'survey.docx', '--paragraphs', '--columns'],
    ['outline', 'claim.docx', '--fields'],
    ['copy', 'survey.docx#section=Hull condition', 'costs.xlsx#Timber!A1:D6', 'ferry.png'],
    ['copy', 'costs.xlsx#Timber!B2:B6', '--each'],
    ['append', 'log.md#list=1', '--join', 'line'],
    ['cut', 'history.odt#section=Laid up'],
    ['undo', '--yes'],
    ['redo'],
    ['undo', '--list'],
    ['list', '--long'],
    ['show', '1', '3'],
    ['find', 'oak'],
    ['paste', '1', '--as', 'markdown'],
    ['paste', 'all', '--into', 'draft.docx', '--into', 'sums.xlsx', '--into', 'page.md'],
    ['paste', '1', '2', '--into', 'budget.xlsx#Lines!B4', '--over', '--preview'],
    ['paste', '1', '--into', 'other.drawer'],
    ['next', '--into', 'budget.xlsx#Lines!B30'],
    ['next', '--peek'],
    ['merge', '2-4', '--join', 'bullets', '--label', 'Quotes', '--take-out'],
    ['fill', 'claim.docx', '--into', 'claim-filled.docx', '--slot', 'Claimant=2'],
    ['move', '2', '--top'],
    ['move', 'all', '--by', 'origin'],
    ['mark', '1', '--hold'],
    ['mark', '2', '--secret', '--for', '10m'],
    ['list'],
    ['split', '3', '--by', 'row'],
    ['delete', 'last'],
    ['delete', 'all', '--yes'],
    ['rules', 'most=500', 'full=let-go', 'lasts=picture:7d', 'ignore=secret.txt'],
    ['rules', '--pause', '30m'],
    ['check'],
    ['list', '--drawers'],
    ['paste', '99'],
    ['copy', 'nothing-here.docx'],
    ['copy', 'survey.docx#section=Hul'],
    ['paste', '1', '--join', 'semtence'],
    ['frob'],
  ];

  /** Phrases of the command and of errors that are several words long, without what is filled in. */
  const english: readonly string[] = Object.values(englishCommand)
    .flatMap((phrase) => (typeof phrase === 'string' ? [phrase] : Object.values(phrase)))
    .flatMap((phrase) => String(phrase).split(/\{\w+\}|\n/))
    .map((part) => part.trim())
    .filter((part) => part.split(' ').length > 2 && !part.startsWith('#') && !/\.\w+#/.test(part));

  it.each(['de', 'ar'])('is told in %s throughout', async (language) => {
    cpSync(demoFiles, place.folder, { recursive: true });
    expect(english.length).toBeGreaterThan(100);
    for (const words of work) {
      const { out, err } = await runIn({ DRAWER_LANGUAGE: language }, ...words);
      const said = `${out}${err}`;
      expect([words, said.trim()]).not.toEqual([words, '']);
      expect([words, english.filter((part) => said.includes(part))]).toEqual([words, []]);
      expect([words, said]).toEqual([words, expect.not.stringMatching(/\{\w+\}|usage\/|not-found\//)]);
    }
  });
});
