import {
  compose,
  createDrawer,
  DrawerError,
  type Facts,
  type KeepResult,
  type Message,
  plainText,
  printFragment,
  type Reason,
  run,
  type SnippetSummary,
} from 'drawer';
import {
  type Catalogue,
  catalogueFor,
  english,
  englishCommand,
  locales,
  type Phrase,
  registerLocale,
  Words,
} from 'drawer/messages';
import * as fc from 'fast-check';
import type { ProblemName } from '../../src/content/index.ts';
import { countingTools } from '../support/storages.ts';

const languages = ['en', 'de', 'ar'] as const;
const wordsIn = async (language: string): Promise<Words> => new Words(await catalogueFor(language)).load();

const blanksIn = (phrase: string): string[] =>
  [...phrase.matchAll(/\{(\w+)\}/g)].map(([, name]) => name as string).sort();
const formsOf = (phrase: Phrase): readonly string[] =>
  typeof phrase === 'string' ? [phrase] : Object.values(phrase).filter((form) => form !== undefined);
const listOf = (phrases: Phrase | readonly Phrase[] | undefined): readonly Phrase[] =>
  phrases === undefined ? [] : Array.isArray(phrases) ? (phrases as readonly Phrase[]) : [phrases as Phrase];

/** Every phrase of a language by its name. */
async function phrasesOf({ phrases, details, command }: Catalogue): Promise<Map<string, Phrase>> {
  const { notes, sheets, parts, problems } = await details();
  const ofCommand = (await command?.()) ?? englishCommand;
  const ofCommandNamed = Object.fromEntries(
    Object.entries(ofCommand).map(([name, phrase]) => [`command ${name}`, phrase]),
  );
  const named = Object.entries({ ...phrases, ...sheets, ...parts, ...notes, ...ofCommandNamed }) as [string, Phrase][];
  const told = Object.entries(problems).flatMap(([reason, { what, next }]) => [
    ...listOf(what).map((phrase, at): [string, Phrase] => [`${reason} ${at}`, phrase]),
    ...listOf(next).map((phrase, at): [string, Phrase] => [`${reason} next ${at}`, phrase]),
  ]);
  return new Map([...named, ...told]);
}

it.each(['de', 'ar'])(
  'has every phrase in %s, with nothing to fill in that the English one has not',
  async (language) => {
    const [ours, theirs] = [await phrasesOf(english), await phrasesOf(await catalogueFor(language))];
    expect([...theirs.keys()].sort()).toEqual([...ours.keys()].sort());
    for (const [name, phrase] of ours) {
      const blanks = new Set(formsOf(phrase).flatMap(blanksIn));
      const translated = theirs.get(name) ?? '';
      const general = typeof translated === 'string' ? translated : translated.other;
      for (const form of formsOf(translated))
        expect([name, blanksIn(form).filter((each) => !blanks.has(each))]).toEqual([name, []]);
      if (!name.includes(' next ')) expect([name, new Set(blanksIn(general))]).toEqual([name, blanks]);
      expect([name, general.trim()]).not.toEqual([name, '']);
    }
  },
);

it.each(languages)('has a form for each way of counting in %s', async (language) => {
  const catalogue = await catalogueFor(language);
  const ways = new Intl.PluralRules(catalogue.language).resolvedOptions().pluralCategories;
  for (const [name, phrase] of await phrasesOf(catalogue))
    if (typeof phrase !== 'string') expect([name, ways.filter((way) => phrase[way] === undefined)]).toEqual([name, []]);
});

it.each(languages)('says every reason in %s, with what there is to fill in and nothing left open', async (language) => {
  const words = await wordsIn(language);
  const { problems } = await (await catalogueFor(language)).details();
  for (const reason of Object.keys(problems) as Reason[]) {
    const blanks = [...listOf(problems[reason].what), ...listOf(problems[reason].next)]
      .flatMap(formsOf)
      .flatMap(blanksIn);
    const params = Object.fromEntries(blanks.map((name) => [name, name === 'count' ? 3 : `<${name}>`]));
    const said = words.error(new DrawerError(`usage/${reason}` as ProblemName, params, { where: 'x' }));
    expect([reason, said]).toEqual([reason, expect.stringMatching(/^x: [^{}]+\.$/)]);
  }
});

it('says an error with as much as is known of it, and a front says what to do next in its own way', async () => {
  const words = await wordsIn('en');
  const unknown = (params: object) =>
    new DrawerError('not-found/section-unknown', { name: 'Hul', ...params }, { where: 'a.docx' });
  expect(words.error(unknown({ near: 'Hull' }))).toBe(
    'a.docx: There is no section “Hul”. The nearest is #section=Hull.',
  );
  expect(words.hint(unknown({}))).toMatch(/no headings/);
  expect(words.hint(unknown({}), { 'section-unknown': 'Look at {name}' })).toBe('Look at Hul');
  expect(unknown({}).message).toBe('a.docx: not-found/section-unknown {"name":"Hul"}');
});

it('speaks a language that is added', async () => {
  registerLocale('eo', async () => ({
    ...english,
    language: 'eo',
    phrases: { ...english.phrases, 'did.kept': { one: 'Konservis {count} pecon', other: 'Konservis {count} pecojn' } },
  }));
  expect(locales()).toContain('eo');
  const words = await wordsIn('eo-001');
  expect(words.action({ kind: 'kept', params: { count: 2 } })).toBe('Konservis 2 pecojn');
});

const facts: fc.Arbitrary<Facts> = fc
  .record({
    what: fc.oneof(
      fc
        .constantFrom('words', 'section', 'cell', 'picture', 'quote', 'code', 'heading')
        .map((kind) => ({ kind }) as const),
      fc.record({ rows: fc.nat(99), columns: fc.nat(99) }).map((params) => ({ kind: 'table', params }) as const),
      fc.record({ count: fc.nat(999) }).map((params) => ({ kind: 'list', params }) as const),
      fc.record({ count: fc.nat(9) }).map((params) => ({ kind: 'paragraphs', params }) as const),
    ),
    words: fc.nat(2_000_000),
    // Braces of a writer's own are shown as they are, so they would look like a blank left open.
    preview: fc.string({ maxLength: 60 }).map((text) => text.replaceAll(/[{}]/g, '')),
  })
  .map(({ what, words, preview }) => ({
    shape: what.kind === 'words' ? 'run' : what.kind === 'picture' ? 'picture' : 'blocks',
    what,
    preview,
    characters: 0,
    words,
    lines: 0,
    bytes: 0,
  }));

const summary: fc.Arbitrary<SnippetSummary> = fc
  .record({ facts, file: fc.option(fc.string({ minLength: 1 }), { nil: undefined }) })
  .map(({ facts: shown, file }) => ({
    id: 'x',
    order: 'a0',
    origin: file === undefined ? {} : { file },
    takenAt: '2026-05-04T09:00:00Z',
    facts: shown,
  }));

const kept: fc.Arbitrary<KeepResult> = fc
  .record({
    kind: fc.constantFrom('kept' as const, 'appended' as const, 'moved' as const),
    position: fc.integer({ min: 1, max: 999 }),
    summary,
    room: fc.option(fc.integer({ min: 0, max: 900 }), { nil: undefined }),
    sameAs: fc.option(fc.integer({ min: 1, max: 999 }), { nil: undefined }),
    nextToGo: fc.option(summary, { nil: undefined }),
  })
  .map(({ room, sameAs, nextToGo, ...result }) => ({
    ...result,
    ...(room !== undefined && { room }),
    ...(sameAs !== undefined && { sameAs }),
    ...(nextToGo && { nextToGo }),
  }));

it.each(languages)('says what was kept in %s, with nothing left to fill in', async (language) => {
  const words = await wordsIn(language);
  fc.assert(
    fc.property(kept, (result) => {
      const said = words.kept({
        ...result,
        ...('summary' in result && { summary: { ...result.summary, origin: { file: 'f' } } }),
      } as KeepResult);
      expect(said).not.toMatch(/\{\w+\}/);
    }),
  );
});

it.each(languages)('says the braces of what was kept as they are in %s', async (language) => {
  const words = await wordsIn(language);
  const facts: Facts = {
    shape: 'run',
    what: { kind: 'words' },
    preview: '{preview} {0} {{what}}',
    characters: 0,
    words: 3,
    lines: 1,
    bytes: 0,
  };
  const summary: SnippetSummary = {
    id: 'x',
    order: 'a0',
    origin: { file: '{file}' },
    takenAt: '2026-05-04T09:00:00Z',
    facts,
  };
  expect(words.kept({ kind: 'kept', position: 1, summary, room: 0, nextToGo: summary })).toContain(facts.preview);
});

it('names every action of a drawer in every language, by what it did', async () => {
  const drawer = createDrawer(countingTools());
  const names: Message[] = [];
  const note = async (): Promise<void> => void names.push((await drawer.lastAction())?.name ?? { kind: 'none' });
  await drawer.keep([
    { content: run('one'), origin: {} },
    { content: run('two'), origin: {} },
  ]);
  await note();
  const [one, two] = (await drawer.list()).map(({ summary: { id } }) => id) as [string, string];
  for (const deed of [
    () => drawer.move([two], 1),
    () => drawer.mark([one], { label: 'x' }),
    () => drawer.mark([one], { label: '' }),
    () => drawer.mark([one], { held: true }),
    () => drawer.mark([one], { held: false }),
    () => drawer.mark([one], { secret: true }),
    () => drawer.mark([one], { secret: false }),
    () => drawer.edit(one, run('three four')),
    () => drawer.append([{ content: run('five'), origin: {} }], { onto: one }),
    () => drawer.split(one, [run('three'), run('four')]),
    () => drawer.merge({ of: [two, two], content: run('two two') }),
    () => drawer.changeSettings({ repeats: 'skip' }),
    () => drawer.moveSequence(2),
    () => drawer.remove([two]),
  ]) {
    await deed();
    await note();
  }
  for (const language of languages) {
    const words = await wordsIn(language);
    const unnamed = names.filter((name) => words.action(name) === words.say('did.unnamed'));
    expect([language, unnamed]).toEqual([language, []]);
  }
  const english = await wordsIn('en');
  expect(names.map((name) => english.action(name)).slice(0, 3)).toEqual([
    'Kept 2 snippets',
    'Moved 1 snippet',
    'Labelled 1 snippet',
  ]);
});

it('counts in Arabic by its own rules, and says sizes and ages as people do', async () => {
  const arabic = await wordsIn('ar');
  expect([1, 2, 3, 11].map((count) => arabic.say('slipCount', { count }))).toEqual([
    'قصاصة واحدة',
    'قصاصتان',
    `${new Intl.NumberFormat('ar').format(3)} قصاصات`,
    `${new Intl.NumberFormat('ar').format(11)} قصاصة`,
  ]);
  const [english, german] = [await wordsIn('en'), await wordsIn('de')];
  const now = new Date('2026-05-04T09:00:00Z');
  expect(english.age('2026-05-04T08:57:00Z', now)).toBe('3 minutes ago');
  expect(german.age('2026-05-03T08:00:00Z', now)).toBe('gestern');
  expect(english.age('2026-05-04T09:09:00Z', now)).toBe('in 9 minutes');
  expect(english.bytes(12_288)).toBe('12 KB'); // as the rules of a drawer take it
  expect(german.what({ kind: 'table', params: { rows: 4, columns: 3 } })).toBe('Tabelle, 4 × 3');
});

it('says ages in English as the Unicode locale data has them', async () => {
  const english = await wordsIn('en');
  const format = new Intl.RelativeTimeFormat('en', { numeric: 'auto' });
  const known = new Set(['just now']);
  for (const unit of ['second', 'minute', 'hour', 'day', 'week', 'month', 'year'] as const)
    for (let count = -60; count <= 60; count++) known.add(format.format(count, unit));
  const now = Date.parse('2026-05-04T09:00:00Z');
  const tenYears = 3650 * 86_400;
  fc.assert(
    fc.property(fc.integer({ min: -tenYears, max: tenYears }), (seconds) => {
      expect(known).toContain(english.age(new Date(now + seconds * 1000).toISOString(), new Date(now)));
    }),
  );
  const ages = [-86_400, -7 * 86_400, -2 * 86_400, 3600].map((seconds) =>
    english.age(new Date(now + seconds * 1000).toISOString(), new Date(now)),
  );
  expect(ages).toEqual(['yesterday', 'last week', '2 days ago', 'in 1 hour']);
});

it.each([
  ['table=2', 'table 2', 'Tabelle 2', 'الجدول 2'],
  ['picture=1-3', 'pictures 1–3', 'Bild 1–3', 'الصورة 1–3'],
  ['table=2!B2:D9', 'table 2!B2:D9', 'Tabelle 2!B2:D9', 'الجدول 2!B2:D9'],
  ['table=2!row=5-7', 'table 2, rows 5–7', 'Tabelle 2, Zeile 5–7', 'الجدول 2, الصف 5–7'],
  ['line=2,3', 'line 3', 'Zeile 3', 'السطر 3'],
  ['row=2;5-7', 'rows 2, 5–7', 'Zeile 2, 5–7', 'الصف 2, 5–7'],
  ['bookmark=quote1', 'bookmark quote1', 'Textmarke quote1', 'الإشارة المرجعية quote1'],
])('calls #%s by its name in each language', async (place, ...named) => {
  expect(await Promise.all(languages.map(async (language) => (await wordsIn(language)).place(place)))).toEqual(named);
});

it.each(languages)('calls every place by a name that is its own words, in %s', async (language) => {
  const words = await wordsIn(language);
  const name = fc.string({ minLength: 1 }).filter((each) => each.trim() !== '' && !/[%;]/.test(each));
  fc.assert(
    fc.property(name, fc.integer({ min: 1, max: 999 }), (named, number) => {
      const section = printFragment({ kind: 'section', name: named, nth: number });
      expect(words.place(section)).toBe(named);
      const quote = printFragment({ kind: 'quote', prefix: 'of the', start: named, end: 'Elm' });
      expect(words.place(quote)).toBe(`“${named} … Elm”`);
      const heading = printFragment({ kind: 'table', from: number, to: number, cells: { heading: named } });
      expect(words.place(heading)).toMatch(new RegExp(`${number}(!|, )`));
      for (const free of [`${number}`, 'Timber!B2:D5', `${number}-${number + 1}`]) expect(words.place(free)).toBe(free);
    }),
  );
});

it('puts sources and totals into a document in its language', async () => {
  const cents = (amount: string): Parameters<typeof compose>[0][number] => ({
    content: run(amount),
    origin: { file: 'costs.odt', place: 'table=2', piece: { number: 1, of: 3 } },
  });
  const composed = async (language: string): Promise<string> =>
    plainText(
      compose([cents('£1.50'), cents('£2.00')], {
        totals: ['sum'],
        attribution: 'list',
        readAs: 'en',
        words: (await wordsIn(language)).inDocuments(),
      }).content,
    );
  expect(await composed('en')).toMatch(/Sum: £3\.50[\s\S]*Sources[\s\S]*costs\.odt, table 2, 1 of 3/);
  expect(await composed('de')).toMatch(/Summe: £3\.50[\s\S]*Quellen[\s\S]*costs\.odt, Tabelle 2, 1 von 3/);
});
