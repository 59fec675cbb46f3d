import { execFileSync, spawnSync } from 'node:child_process';
import { copyFileSync, linkSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { type Content, parseFragment, plainText } from 'drawer';
import { formatNamed, formatOf, isStill, readAll, sourceOf } from 'drawer/formats';
import { openDrawer } from 'drawer/node';
import fc from 'fast-check';
import { unzipSync, zipSync } from 'fflate';
import Database from 'libsql';
import { demoFiles, runCommand, type Workplace, workplace } from '../support/cli.ts';
import { documentBytes, openDocument } from '../support/office.ts';

let place: Workplace;
beforeEach(() => {
  place = workplace();
});
afterEach(() => place.remove());

it('says that a pipe is no file, instead of waiting for it', async () => {
  execFileSync('mkfifo', [place.path('pipe.csv')]);
  const { code, err } = await place.run('copy', 'pipe.csv');
  expect([code, err]).toEqual([1, expect.stringContaining('This is a pipe or a device')]);
});

it('says of a file with other names that they still lead to what it was', async () => {
  copyFileSync(place.demo('log.md'), place.path('log.md'));
  const before = readFileSync(place.path('log.md'));
  for (const name of ['one.md', 'two.md']) linkSync(place.path('log.md'), place.path(name));
  await place.run('copy', '--text', 'oak');
  const said = /log\.md has (\d) other names? on this disk \(hard links\): there it still is what it was\.\n$/;
  expect((await place.run('paste', '1', '--into', 'log.md')).err.match(said)?.[1]).toBe('2');
  expect([readFileSync(place.path('one.md')), readFileSync(place.path('two.md'))]).toEqual([before, before]);
  expect((await place.run('paste', '1', '--into', 'log.md')).err).toBe('');
  expect((await place.run('cut', 'two.md#list=1')).err).toMatch(/two\.md has 1 other name /);
});

const hasAttributes = spawnSync('setfattr', ['--version']).status === 0;
(hasAttributes ? it : it.skip)('keeps what the system knows of a file beside its words', async () => {
  const target = place.path('log.md');
  copyFileSync(place.demo('log.md'), target);
  execFileSync('setfattr', ['-n', 'user.origin', '-v', 'ferry.example', target]);
  const attributes = () => execFileSync('getfattr', ['--absolute-names', '-d', target], { encoding: 'utf8' });
  const before = attributes();
  await place.run('copy', '--text', 'oak');
  await place.run('paste', '1', '--into', 'log.md');
  expect([attributes(), readFileSync(target, 'utf8')]).toEqual([before, expect.stringContaining('oak')]);
});

it('rescues what a damaged drawer holds with all that can be undone, where nothing is lost of it', async () => {
  await place.run('copy', '--text', 'oak', '--text', 'ash');
  await place.run('delete', '1', '--yes');
  const database = new Database(place.drawer);
  database.exec('DROP INDEX snippet_alike');
  database.close();
  const { out } = await place.run('check');
  expect(out).toMatch(/Rescued: 1 snippet .*is kept as [^ ]+\.damaged\.\n$/s);
  await place.run('undo');
  expect((await place.run('paste', 'all')).out).toMatch(/oak\s+ash/);
});

it('says which copies still hold what is locked or erased', async () => {
  await place.run('copy', '--text', 'PIN 4711');
  await place.run('mark', '1', '--secret');
  writeFileSync(`${place.drawer}.damaged`, 'PIN 4711');
  writeFileSync(`${place.drawer}.damaged-wal`, '');
  const said = expect.stringMatching(/^Older copies of the drawer are .*own\.drawer\.damaged\. Delete them/);
  expect((await place.run('delete', '1', '--yes')).err).toEqual(said);
  const locked = { cwd: place.folder, DRAWER: place.drawer, DRAWER_PASSPHRASE: 'copper rivets' };
  expect((await runCommand(['rules', '--lock'], locked)).err).toEqual(said);
});

it('gives a drawer up only when it is damaged at a second look too', async () => {
  await place.run('copy', '--text', 'oak');
  const database = new Database(place.drawer);
  database.exec('CREATE TABLE extra (a)');
  const opening = openDrawer(place.drawer, { onRescued: () => expect('rescued').toBe('not rescued') });
  database.exec('DROP TABLE extra'); // as where a disk answers the second time
  database.close();
  const drawer = await opening;
  expect(await drawer.count()).toBe(1);
  await drawer.close();
  expect(readdirSync(place.folder).filter((name) => name.includes('damaged'))).toEqual([]);
});

describe('an SVG that a page points to', () => {
  const svg = (inside: string, more = '', before = ''): string =>
    `${before}<svg xmlns="http://www.w3.org/2000/svg" width="40" height="30" ${more}>${inside}<path d="M0 0h9"/></svg>`;

  it.each<[string, string]>([
    ['holds a script', svg('<script>alert(1)</script>')],
    ['holds a script by another prefix', svg('<s:script xmlns:s="http://www.w3.org/2000/svg">alert(1)</s:script>')],
    ['acts when it is loaded', svg('', 'onload="alert(1)"')],
    ['acts on a new line', svg('', '\n\tonClick = "alert(1)"')],
    ['holds a page', svg('<foreignObject><p xmlns="http://www.w3.org/1999/xhtml"/></foreignObject>')],
    ['holds a frame', svg('<h:iframe xmlns:h="http://www.w3.org/1999/xhtml" src="data:text/html,a"/>')],
    ['leads to a script', svg('<a href="javascript:alert(1)"/>')],
    ['leads to a script in references', svg('<a href="java&#115;cript:alert(1)"/>')],
    [
      'leads to a page of its own',
      svg('<a xlink:href="data:text/html,a" xmlns:xlink="http://www.w3.org/1999/xlink"/>'),
    ],
    ['is led elsewhere in time', svg('<a><set attributeName="href" to="data:text/html,a"/></a>')],
    ['is laid out by a style sheet', svg('', '', '<?xml version="1.0"?><?xml-stylesheet href="data:text/xsl,a"?>')],
    ['declares what may be anything', svg('&a;', '', '<!DOCTYPE svg [<!ENTITY a "<script/>">]>')],
    ['declares attributes', svg('', '', '<!DOCTYPE svg [<!ATTLIST svg onload CDATA "alert(1)">]>')],
    ['has an encoding of its own', svg('', '', '<?xml version="1.0" encoding="UTF-7"?>')],
  ])('stays within the page where it %s', async (_, source) => {
    expect(isStill(new TextEncoder().encode(source))).toBe(false);
  });

  it('lies beside the page when it is a picture and nothing else, and within it byte for byte when not', async () => {
    const acting = svg('<script>alert(1)</script>');
    writeFileSync(place.path('acting.svg'), acting);
    await place.run('copy', place.demo('hull-plan.svg'), 'acting.svg');
    expect((await place.run('paste', 'all', '--into', 'page.md')).code).toBe(0);
    const page = readFileSync(place.path('page.md'), 'utf8');
    expect(page).toContain(`data:image/svg+xml;base64,${Buffer.from(acting).toString('base64')}`);
    const [beside, ...others] = readdirSync(place.path('page-pictures'));
    expect(others).toEqual([]);
    expect(page).toContain(`page-pictures/${beside}`);
    expect(readFileSync(place.path(`page-pictures/${beside}`))).toEqual(readFileSync(place.demo('hull-plan.svg')));
    const again = await place.run('copy', 'page.md');
    expect([again.code, again.err]).toEqual([0, '']);
  });
});

describe('a zip file whose parts are not what its directory says', () => {
  const demo = unzipSync(readFileSync(`${demoFiles}/survey.docx`));
  const take = async (bytes: Uint8Array, name = 'survey.docx') => {
    const source = sourceOf(bytes, name);
    return (await (await formatOf(source)).load()).read?.(source, parseFragment(''));
  };

  it.each([0, 6] as const)(
    'is refused whichever bit of a part was turned, but for those behind its end, packed at level %i',
    async (level) => {
      const name = 'word/document.xml';
      const part = zipSync({ [name]: demo[name] as Uint8Array }, { level });
      const whole = zipSync(demo, { level });
      const body = part.subarray(30 + name.length, part.length - 22 - 46 - name.length);
      const start = Buffer.from(whole).indexOf(body);
      expect(start).toBeGreaterThan(0);
      const sound = await take(whole);
      await fc.assert(
        fc.asyncProperty(fc.nat(body.length * 8 - 1), async (bit) => {
          const turned = whole.slice();
          turned[start + (bit >> 3)] = (turned[start + (bit >> 3)] as number) ^ (1 << (bit & 7));
          const taken = await take(turned).catch((error) => error.code);
          if (level === 0 || bit < (body.length - 1) * 8) expect(taken).toBe('unreadable');
          else expect(['unreadable', sound]).toContainEqual(taken);
        }),
        { numRuns: 25 },
      );
    },
  );

  it.each(['word/document.xml', 'WORD/Document.xml'])('is refused where two have one name: %s', async (name) => {
    const once = zipSync({ ...demo, 'word/dokument.xml': demo['word/document.xml'] as Uint8Array }, { level: 0 });
    const twice = Buffer.from(Buffer.from(once).toString('latin1').replaceAll('word/dokument.xml', name), 'latin1');
    await expect(take(twice)).rejects.toMatchObject({
      params: { fault: { kind: 'fault.partTwice', params: { part: name } } },
    });
  });

  it('is read where names differ by case only and may, as in OpenDocument', async () => {
    const parts = unzipSync(readFileSync(`${demoFiles}/crew.ods`));
    const both = { ...parts, 'Pictures/a.png': new Uint8Array(1), 'pictures/A.png': new Uint8Array(2) };
    expect((await take(zipSync(both), 'crew.ods'))?.content).toBeDefined();
  });
});

describe('a document with one detail that no snippet can hold', () => {
  const utf8 = (text: string): Uint8Array => new TextEncoder().encode(text);
  const paragraph = (properties: string, run = ''): Uint8Array =>
    documentBytes({ body: `<w:p><w:pPr>${properties}</w:pPr><w:r><w:rPr>${run}</w:rPr><w:t>words</w:t></w:r></w:p>` });
  const page = (words: string): Uint8Array => utf8(`<!doctype html>${words}`);

  it.each<[string, 'docx' | 'html' | 'markdown' | 'odt', () => Promise<Uint8Array> | Uint8Array]>([
    ['a size over a million points', 'docx', () => paragraph('', '<w:sz w:val="99999999999"/>')],
    ['an indent over a million points', 'docx', () => paragraph('<w:ind w:left="99999999999"/>')],
    ['a font of a long name', 'docx', () => paragraph('', `<w:rFonts w:ascii="${'x'.repeat(5000)}"/>`)],
    ['a list that starts over a billion', 'html', () => page('<ol start="99999999999"><li>words</ol>')],
    ['a long class', 'html', () => page(`<p class="${'x'.repeat(5000)}">words`)],
    ['a long syntax of code', 'html', () => page(`<pre><code class="language-${'x'.repeat(5000)}">words</code></pre>`)],
    ['a size over a million points, in a page', 'html', () => page('<p style="font-size: 99999999pt">words')],
    ['a description of several lines', 'markdown', () => utf8('words ![one\ntwo](https://ferry.example/a.png)')],
    ['a long syntax of code in Markdown', 'markdown', () => utf8(`\`\`\`${'x'.repeat(5000)}\nwords\n\`\`\``)],
    [
      'a list that starts over a billion, in OpenDocument',
      'odt',
      () =>
        readAll(
          openDocument('text', {
            body: '<text:list><text:list-item text:start-value="99999999999"><text:p>words</text:p></text:list-item></text:list>',
          }),
        ),
    ],
  ])('is taken without it: %s', async (_, name, bytes) => {
    const { read } = await formatNamed(name).load();
    const taken = await read?.(sourceOf(await bytes(), `x.${name}`), parseFragment(''), {});
    expect(plainText(taken?.content as Content)).toContain('words');
    const file = `x.${name === 'markdown' ? 'md' : name}`;
    writeFileSync(place.path(file), await bytes());
    expect((await place.run('copy', file)).out).toMatch(/^Kept as 1/);
  });
});
