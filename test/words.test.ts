import { Drawer, type Facts, type KeepResult, keptInWords, memoryStorage, run, type SnippetHead } from 'drawer';
import { catalogues, type PhraseName, Words } from 'drawer/browser';
import * as fc from 'fast-check';
import { countingTools } from './support/storages.ts';

const languages = ['en', 'de', 'ar'] as const;
const wordsIn = async (language: string): Promise<Words> =>
  new Words(await (catalogues[language] as () => Promise<never>)());

const valuesIn = (phrase: string): string[] =>
  [...phrase.matchAll(/\{(\w+)\}/g)].map(([, name]) => name as string).sort();

it.each(['de', 'ar'])('has every phrase in %s, with every value that the English one fills in', async (language) => {
  const [english, other] = [(await wordsIn('en')).catalogue, (await wordsIn(language)).catalogue];
  expect(Object.keys(other.phrases).sort()).toEqual(Object.keys(english.phrases).sort());
  for (const [name, phrase] of Object.entries(english.phrases)) {
    const translated = other.phrases[name as PhraseName];
    const values = new Set(valuesIn(typeof phrase === 'string' ? phrase : phrase.other));
    const forms = typeof translated === 'string' ? { other: translated } : translated;
    expect([name, new Set(valuesIn(forms.other))]).toEqual([name, values]);
    // A form for one or two may leave the number out, and names nothing that is not there.
    for (const form of Object.values(forms))
      expect([name, valuesIn(form).every((value) => values.has(value))]).toEqual([name, true]);
    expect([name, forms.other.trim()]).not.toEqual([name, '']);
  }
});

it.each(languages)('has a form for each way of counting in %s', async (language) => {
  const { catalogue } = await wordsIn(language);
  const ways = new Intl.PluralRules(catalogue.language).resolvedOptions().pluralCategories;
  for (const [name, phrase] of Object.entries(catalogue.phrases))
    if (typeof phrase !== 'string') expect([name, ways.filter((way) => phrase[way] === undefined)]).toEqual([name, []]);
});

const facts: fc.Arbitrary<Facts> = fc
  .record({
    what: fc.oneof(
      fc.constantFrom('words', 'section', 'cell', 'picture', 'quote', 'code', 'heading'),
      fc.tuple(fc.nat(99), fc.nat(99)).map(([rows, columns]) => `table, ${rows} × ${columns}`),
      fc.integer({ min: 2, max: 999 }).map((count) => `list, ${count} items`),
      fc.integer({ min: 2, max: 9 }).map((count) => `${count} paragraphs`),
    ),
    words: fc.nat(2_000_000),
    preview: fc.string({ maxLength: 60 }),
  })
  .map(({ what, words, preview }) => ({
    shape: what === 'words' ? 'run' : what === 'picture' ? 'picture' : 'blocks',
    what,
    preview,
    characters: 0,
    words,
    lines: 0,
    bytes: 0,
  }));

const head: fc.Arbitrary<SnippetHead> = fc
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
    head,
    room: fc.option(fc.integer({ min: 0, max: 900 }), { nil: undefined }),
    sameAs: fc.option(fc.integer({ min: 1, max: 999 }), { nil: undefined }),
    nextToGo: fc.option(head, { nil: undefined }),
  })
  .map(({ room, sameAs, nextToGo, ...result }) => ({
    ...result,
    ...(room !== undefined && { room }),
    ...(sameAs !== undefined && { sameAs }),
    ...(nextToGo && { nextToGo }),
  }));

it('says in English what the command says', async () => {
  const words = await wordsIn('en');
  fc.assert(fc.property(kept, (result) => expect(words.kept(result)).toBe(keptInWords(result))));
});

it('names every action of a drawer in every language, by what it did', async () => {
  const drawer = new Drawer(memoryStorage(), countingTools());
  const names: string[] = [];
  const note = async (): Promise<void> => void names.push((await drawer.lastAction())?.name ?? '');
  await drawer.keep([
    { content: run('one'), origin: {} },
    { content: run('two'), origin: {} },
  ]);
  await note();
  const [one, two] = (await drawer.list()).map(({ head: { id } }) => id) as [string, string];
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
    const unnamed = names.filter((name) => words.action(name) === words.say('did.other'));
    expect([language, unnamed]).toEqual([language, []]);
  }
  const english = await wordsIn('en');
  expect(names.map((name) => english.action(name)).slice(0, 3)).toEqual([
    'Kept 2 slips',
    'Moved 1 slip',
    'Labelled 1 slip',
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
  expect(english.bytes(12_288)).toBe('12 kB');
  expect(german.what('table, 4 × 3')).toBe('Tabelle, 4 × 3');
});
