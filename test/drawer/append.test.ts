import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  bullets,
  type Cell,
  type Content,
  type Drawer,
  doc,
  heading,
  joinContents,
  loadDateFinder,
  paragraph,
  plainText,
  run,
  table,
} from 'drawer';
import { fileSystem, openDrawer, replaceFile } from 'drawer/node';
import * as fc from 'fast-check';
import { bold, eachOf, measure } from '../../src/content/index.ts';
import { changedBytes, fileChange, traits } from '../../src/drawer/index.ts';
import { blocks } from '../support/arbitrary.ts';
import { did } from '../support/said.ts';
import { newDrawer, type StorageKind, storageKinds } from '../support/storages.ts';

const bytesOf = (words: string): Uint8Array => new TextEncoder().encode(words);

const cells = (...rows: string[][]): Content => ({
  shape: 'cells',
  rows: rows.map((row) => row.map((value): Cell => (value === '' ? { type: 'empty' } : { type: 'text', value }))),
});
const picture: Content = { shape: 'picture', picture: { media: 'a'.repeat(64), mediaType: 'image/png' } };

describe('putting contents together', () => {
  it.each([
    ['words to words, with nothing', run('oak'), run('larch'), 'nothing', run('oaklarch')],
    ['words to words, with a space', run('oak'), run(bold('larch')), 'space', run('oak ', bold('larch'))],
    ['words to words, on a new line', run('oak'), run('larch'), 'line', run('oak\nlarch')],
    ['words to words, as paragraphs', run('oak'), run('larch'), 'paragraph', doc('oak', 'larch')],
    ['words to words, with any text', run('oak'), run('larch'), { text: ', ' }, run('oak, larch')],
    ['words to a cell', cells(['oak']), run('larch'), 'space', run('oak larch')],
    [
      'words to a paragraph',
      doc(heading(1, 'Wood'), 'oak'),
      run('larch'),
      'space',
      doc(heading(1, 'Wood'), 'oak larch'),
    ],
    ['words to a heading stand under it', doc(heading(1, 'Wood')), run('oak'), 'space', doc(heading(1, 'Wood'), 'oak')],
    ['words to a list are an item', doc(bullets('oak')), run('larch'), 'space', doc(bullets('oak', 'larch'))],
    [
      'items to a list',
      doc('Wood', bullets('oak')),
      doc(bullets('larch', 'elm')),
      'line',
      doc('Wood', bullets('oak', 'larch', 'elm')),
    ],
    [
      'rows to a table, the same heading once',
      doc(table(1, ['a', 'b'], ['1', '2'])),
      doc(table(1, ['a', 'b'], ['3', '4'])),
      'line',
      doc(table(1, ['a', 'b'], ['1', '2'], ['3', '4'])),
    ],
    ['a row to a range as wide', cells(['1', '2']), cells(['3', '4']), 'line', cells(['1', '2'], ['3', '4'])],
    [
      'a table of another width stands under it',
      doc(table(0, ['a'])),
      doc(table(0, ['b', 'c'])),
      'line',
      doc(table(0, ['a']), table(0, ['b', 'c'])),
    ],
    [
      'a picture under words',
      run('oak'),
      picture,
      'space',
      doc('oak', { type: 'picture', ...(picture as { picture: object }).picture } as never),
    ],
  ] as const)('%s', (_, first, second, join, expected) => {
    expect(joinContents(first as Content, second as Content, join)).toEqual(expected);
  });

  it('loses no word, whatever is put together', () =>
    fc.assert(
      fc.property(blocks, blocks, fc.constantFrom('nothing', 'space', 'line', 'paragraph'), (first, second, join) => {
        const letters = (content: Content): string =>
          (JSON.stringify(content).match(/"text":"(?:[^"\\]|\\.)*"/g) ?? [])
            .join('')
            .replace(/"text":|"|\s|\\[nt]/g, '');
        const joined = joinContents(first, second, join as 'space');
        const both = letters(first) + letters(second);
        // A heading that two tables share is there once; all else is all there.
        expect(both.startsWith(letters(joined).slice(0, letters(first).length))).toBe(true);
        if (first.blocks.at(-1)?.type !== 'table') expect(letters(joined)).toBe(both);
      }),
    ));
});

describe('each of', () => {
  it.each([
    ['a range: its rows', cells(['a', 'b'], ['c', 'd']), [cells(['a', 'b']), cells(['c', 'd'])]],
    ['a column: its cells', cells(['a'], ['b']), [cells(['a']), cells(['b'])]],
    ['a list: its items', doc(bullets('a', 'b')), [run('a'), run('b')]],
    [
      'a table: its rows, not the heading',
      doc(table(1, ['h'], ['a'], ['b'])),
      [doc(table(0, ['a'])), doc(table(0, ['b']))],
    ],
    ['paragraphs', doc('a', paragraph(), 'b'), [doc('a'), doc('b')]],
  ])('%s', (_, content, expected) => {
    expect(eachOf(content)).toEqual(expected);
  });
});

describe('traits', () => {
  const traitsOf = async (content: Content, language?: string) => {
    const drawer = await newDrawer(storageKinds[0] as StorageKind);
    const [result] = await drawer.keep([{ content, origin: {}, ...(language !== undefined && { language }) }]);
    return result?.kind === 'kept' ? (result.summary.facts.traits ?? []) : [];
  };
  const seen = new Set<string>();
  it.each([
    ['3 May 2026', ['date']],
    ['2026-05-03', ['date']],
    ['£1,250.00', ['money']],
    ['1 250,00 EUR', ['money']],
    ['1250', ['number']],
    ['12.5 kg', ['quantity']],
    ['40 %', ['quantity']],
    ['office@marigold.example', ['email']],
    ['https://marigold.example/plan?x=1', ['url']],
    ['020 7946 0018', ['phone']],
    ['#1f3a5f', ['colour']],
    ['Keel and stem: sound', []],
    ['red', []],
    ['The survey of 3 May 2026 found oak.', []],
  ])('%s: %j', async (words, expected) => {
    const found = await traitsOf(run(words));
    for (const trait of found) seen.add(trait);
    expect(found.filter((trait) => trait !== 'number' || expected.includes('number'))).toEqual(expected);
  });

  it('of a cell are those of its value, of code that it is code', async () => {
    const cell: Cell = { type: 'number', value: 5, text: '£5', format: '"£"0' };
    expect(await traitsOf({ shape: 'cells', rows: [[cell]] })).toEqual(['money', 'number']);
    expect(await traitsOf(run({ type: 'text', text: 'npm test', marks: { code: true } }))).toEqual(['code']);
    expect([...seen, 'code'].sort()).toEqual([...traits].sort());
  });

  it.each(['ar', 'de-AT', 'es', 'fi', 'fr-CA', 'id', 'it', 'ja', 'nl', 'pt-BR', 'ru', 'sv', 'uk', 'zh'])(
    'of a date are found as %s writes it, and sorted by the day',
    async (language) => {
      const write = new Intl.DateTimeFormat(language, { dateStyle: 'long', timeZone: 'UTC' });
      const findDate = await loadDateFinder(language);
      const day = fc.date({ min: new Date('2000-01-01'), max: new Date('2099-12-31'), noInvalidDate: true });
      fc.assert(
        fc.property(day, (date) => {
          expect(findDate(write.format(date))).toBe(date.toISOString().slice(0, 10));
        }),
        { numRuns: 20 },
      );
      expect(await traitsOf(run(write.format(new Date('2026-05-03'))), language)).toEqual(['date']);
    },
  );

  it('of a date follow the language’s order', async () => {
    expect(await traitsOf(run('13/05/2026'))).toEqual(['date']);
    expect(await traitsOf(run('05/13/2026'), 'en-US')).toEqual(['date']);
  });
});

const gathered = (words: string, file = 'survey.docx') => ({ content: run(words), origin: { file } });
const textOf = async (drawer: Drawer, number: number): Promise<string> => {
  const [listed] = await drawer.list(number, 1);
  return plainText((await drawer.get(listed?.summary.id ?? '')).content);
};

describe.each(storageKinds)('a drawer in $name that is appended to', (kind) => {
  it('grows its newest snippet, which keeps where each part came from', async () => {
    const drawer = await newDrawer(kind);
    await drawer.keep([gathered('oak'), gathered('larch', 'log.md')]);
    const [result] = await drawer.append([gathered('elm', 'history.odt'), gathered('ash', 'log.md')], {
      join: { text: '; ' },
    });
    expect(result).toMatchObject({ kind: 'appended', position: 2 });
    expect(await textOf(drawer, 2)).toBe('larch; elm; ash');
    const [, second] = await drawer.list();
    expect(second?.summary.parts?.map(({ origin }) => origin.file)).toEqual(['log.md', 'history.odt', 'log.md']);
    await drawer.append([gathered('pine')], { onto: (await drawer.list())[0]?.summary.id });
    expect(await textOf(drawer, 1)).toBe('oak; pine'); // the join is remembered
    await drawer.close();
  });

  it('gives back exactly what was, undone', async () => {
    const drawer = await newDrawer(kind);
    await drawer.keep([gathered('oak')]);
    const [before] = await drawer.list();
    const snippet = await drawer.get(before?.summary.id ?? '');
    await drawer.append([gathered('larch')], { join: 'space' });
    expect(did(await drawer.undo())).toBe('Appended to 1 snippet');
    expect(await drawer.get(snippet.id)).toEqual(snippet);
    await drawer.redo();
    expect(await textOf(drawer, 1)).toBe('oak larch');
    await drawer.close();
  });

  it('begins a snippet where there is none, and keeps no blank', async () => {
    const drawer = await newDrawer(kind);
    expect(await drawer.append([{ content: run(' '), origin: {} }])).toMatchObject([{ kind: 'blank' }]);
    expect(await drawer.append([gathered('oak')])).toMatchObject([{ kind: 'kept', position: 1 }]);
    expect(await drawer.count()).toBe(1);
    await drawer.close();
  });

  it('does not lose what was built up by mistake', async () => {
    const drawer = await newDrawer(kind);
    await drawer.keep([gathered('oak')]);
    await drawer.append([gathered('larch')]);
    const [listed] = await drawer.list();
    await expect(drawer.remove([listed?.summary.id ?? ''])).rejects.toMatchObject({ code: 'consent' });
    expect(await drawer.count()).toBe(1);
    await drawer.remove([listed?.summary.id ?? ''], { builtUp: true });
    expect(await drawer.count()).toBe(0);
    await drawer.close();
  });

  it('says how much room is left, and refuses what does not fit instead of letting any go', async () => {
    const drawer = await newDrawer(kind);
    await drawer.changeSettings({ capacity: 40 });
    await drawer.keep(Array.from({ length: 37 }, (_, index) => gathered(`snippet ${index}`)));
    const [result] = await drawer.keep([gathered('one more')]);
    expect(result).toMatchObject({ position: 38, room: 2 });
    await expect(drawer.keep([gathered('a'), gathered('b'), gathered('c')])).rejects.toMatchObject({ code: 'full' });
    expect([await drawer.count(), await textOf(drawer, 1)]).toEqual([38, 'snippet 0']);
    await drawer.close();
  });

  it('says when something is the same as the newest', async () => {
    const drawer = await newDrawer(kind);
    expect(
      (await drawer.keep([gathered('oak'), gathered('oak'), gathered('larch')])).map((each) => 'sameAs' in each),
    ).toEqual([false, true, false]);
    expect((await drawer.keep([gathered('larch')]))[0]).toMatchObject({ sameAs: 3 });
    await drawer.close();
  });
});

describe('changes of files', () => {
  let folder: string;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'drawer-files-'));
  });
  afterEach(() => rmSync(folder, { recursive: true, force: true }));

  it('are told by the bytes that differ, and made again from them', () =>
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 60 }), fc.uint8Array({ maxLength: 60 }), (from, to) => {
        const { change, between } = fileChange('/x', from, to);
        expect(changedBytes(from, change, between)).toEqual(to);
      }),
    ));

  it('are undone byte for byte, and refused when the file has changed since', async () => {
    const path = join(folder, 'log.txt');
    const drawer = await openDrawer(join(folder, 'own.drawer'));
    const [before, after] = [bytesOf('one two'), bytesOf('one')];
    writeFileSync(path, before);
    await drawer.cut([gathered('two')], [{ path, before, after }]);
    expect(readFileSync(path, 'utf8')).toBe('one');
    writeFileSync(path, 'one, and more');
    await expect(drawer.undo()).rejects.toMatchObject({
      code: 'write-failed',
      reason: 'undo-file-changed',
    });
    expect([readFileSync(path, 'utf8'), await drawer.count()]).toEqual(['one, and more', 1]);
    writeFileSync(path, after);
    expect(did(await drawer.undo())).toBe('Cut 1 snippet');
    expect([readFileSync(path, 'utf8'), await drawer.count()]).toEqual(['one two', 0]);
    expect(did(await drawer.redo())).toBe('Cut 1 snippet');
    expect([readFileSync(path, 'utf8'), await drawer.count()]).toEqual(['one', 1]);
    await drawer.undo({ onlyFiles: true });
    expect([readFileSync(path, 'utf8'), await drawer.count()]).toEqual(['one two', 1]);
    rmSync(path);
    await drawer.close();
  });

  it('replace a file whole, keep its rights, and go through a link', async () => {
    const path = join(folder, 'a.txt');
    const link = join(folder, 'link.txt');
    writeFileSync(path, 'old', { mode: 0o640 });
    symlinkSync(path, link);
    await replaceFile(link, bytesOf('new'), bytesOf('old'));
    await expect(replaceFile(link, bytesOf('newer'), bytesOf('old'))).rejects.toMatchObject({ reason: 'file-changed' });
    expect([readFileSync(path, 'utf8'), statSync(path).mode & 0o777]).toEqual(['new', 0o640]);
    expect(await fileSystem.read(join(folder, 'none'))).toBeUndefined();
    await expect(replaceFile(join(folder, 'none', 'x'), new Uint8Array(), new Uint8Array())).rejects.toMatchObject({
      code: 'write-failed',
    });
    expect(existsSync(join(folder, 'none'))).toBe(false);
  });
});

it('counting takes time in proportion to the length, not to its square', () => {
  const line = 'Größe fünf £5.50 and oak ';
  const long = run(line.repeat(8000));
  expect(measure(long)).toMatchObject({ words: 8000 * 5, characters: line.length * 8000 });
});
