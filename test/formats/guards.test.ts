import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { doc, noMedia, parseFragment } from 'drawer';
import { checkMayChange, type Format, formatNamed, sourceOf } from 'drawer/formats';
import * as fc from 'fast-check';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { demoFiles, type Workplace, workplace } from '../support/cli.ts';

/** Every way of changing a file has the same guards, and one way back. */

type Name = 'docx' | 'odt' | 'xlsx' | 'ods';
const files: Readonly<Record<Name, string>> = {
  docx: 'claim.docx',
  odt: 'history.odt',
  xlsx: 'costs.xlsx',
  ods: 'crew.ods',
};
const place = (name: Name): string => (name === 'xlsx' || name === 'ods' ? 'A1:B2' : 'paragraph=2');

/** The file with parts added or changed. */
function changed(name: Name, change: (parts: Record<string, Uint8Array>) => void): Uint8Array {
  const parts = unzipSync(readFileSync(`${demoFiles}/${files[name]}`));
  change(parts);
  return zipSync(parts);
}
const edited = (part: string, edit: (text: string) => string) => (parts: Record<string, Uint8Array>) => {
  const before = strFromU8(parts[part] as Uint8Array);
  expect(edit(before)).not.toBe(before);
  parts[part] = strToU8(edit(before));
};

const unchangeable: [string, Name, Uint8Array][] = [
  ...(['docx', 'xlsx'] as const).map((name): [string, Name, Uint8Array] => [
    'signed',
    name,
    changed(name, (parts) => {
      parts['_xmlsignatures/sig1.xml'] = strToU8('<Signature/>');
    }),
  ]),
  ...(['odt', 'ods'] as const).map((name): [string, Name, Uint8Array] => [
    'signed',
    name,
    changed(name, (parts) => {
      parts['META-INF/documentsignatures.xml'] = strToU8('<document-signatures/>');
    }),
  ]),
  [
    'protected',
    'docx',
    changed(
      'docx',
      edited('word/settings.xml', (text) =>
        text.replace(/(<w:settings[^>]*>)/, '$1<w:documentProtection w:edit="readOnly" w:enforcement="1"/>'),
      ),
    ),
  ],
  [
    'protected',
    'xlsx',
    changed(
      'xlsx',
      edited('xl/worksheets/sheet1.xml', (text) =>
        text.replace('</sheetData>', '</sheetData><sheetProtection sheet="1"/>'),
      ),
    ),
  ],
  [
    'protected',
    'ods',
    changed(
      'ods',
      edited('content.xml', (text) => text.replaceAll('<table:table ', '<table:table table:protected="true" ')),
    ),
  ],
];

it.each(unchangeable)('a %s .%s file is changed in no way', async (_, name, bytes) => {
  const format: Format = await formatNamed(name).load();
  const source = sourceOf(bytes, files[name]);
  const refused = { code: 'unsupported', reason: expect.stringMatching(/signed|protected/) };
  const insertion = { content: doc('x'), media: noMedia, style: 'local', over: true } as const;
  await expect(format.insert?.(source, parseFragment(place(name)), insertion)).rejects.toMatchObject(refused);
  await expect(checkMayChange(source, place(name))).rejects.toMatchObject(refused);
  await expect(format.remove?.(source, [parseFragment(place(name))])).rejects.toMatchObject(refused);
  const slots = (await format.slots?.(source)) ?? [];
  const values = new Map(slots.filter(({ kind }) => kind === 'text').map(({ key }) => [key, 'x']));
  if (values.size > 0) await expect(format.fill?.(source, values)).rejects.toMatchObject(refused);
});

it.each(Object.entries(files))('a plain .%s file may be changed', async (name, file) => {
  const bytes = readFileSync(`${demoFiles}/${file}`);
  for (const at of ['', place(name as Name)]) await expect(checkMayChange(bytes, at)).resolves.toBeUndefined();
});

it('values and plain text may be changed, and what is never written may not', async () => {
  for (const [text, name] of [
    ['a,b', 'all.csv'],
    ['words', 'all.txt'],
    ['# words', 'all.md'],
    ['<p>words', 'all.html'],
  ] as const)
    await expect(checkMayChange(strToU8(text), '', { name })).resolves.toBeUndefined();
  await expect(checkMayChange(readFileSync(`${demoFiles}/ferry.png`), '', { name: 'ferry.png' })).rejects.toMatchObject(
    {
      reason: 'format-not-pasted',
    },
  );
});

it('a document that is protected but for its fields may be filled', async () => {
  const bytes = changed(
    'docx',
    edited('word/settings.xml', (text) =>
      text.replace(/(<w:settings[^>]*>)/, '$1<w:documentProtection w:edit="forms" w:enforcement="1"/>'),
    ),
  );
  const format = await formatNamed('docx').load();
  const source = sourceOf(bytes, 'claim.docx');
  const [slot] = (await format.slots?.(source))?.filter(({ kind }) => kind === 'text') ?? [];
  const filled = await format.fill?.(source, new Map([[slot?.key ?? '', 'Ada']]));
  expect(strFromU8(unzipSync(filled?.bytes as Uint8Array)['word/document.xml'] as Uint8Array)).toContain('Ada');
});

describe('as a command', () => {
  let work: Workplace;
  beforeEach(() => {
    work = workplace();
    for (const name of ['log.md', 'claim.docx', 'survey.docx'])
      writeFileSync(work.path(name), readFileSync(work.demo(name)));
  });
  afterEach(() => work.remove());
  const bytes = (name: string): string => readFileSync(work.path(name), 'base64');

  it('a file that is open elsewhere is left alone by paste, cut, next, fill and undo', async () => {
    await work.run('copy', '--text', 'oak');
    await work.run('mark', '1', '--label', 'Claimant');
    await work.run('paste', '1', '--into', 'log.md');
    for (const name of ['log.md', 'claim.docx']) writeFileSync(work.path(`.~lock.${name}#`), '');
    const before = [bytes('log.md'), bytes('claim.docx')];
    const list = (await work.run('list', '--json')).out;
    for (const words of [
      ['paste', '1', '--into', 'log.md'],
      ['cut', 'log.md#list=1'],
      ['next', '--into', 'log.md'],
      ['fill', 'claim.docx'],
      ['undo'],
    ]) {
      const { code, err } = await work.run(...words);
      expect([words[0], code, err]).toEqual([words[0], 1, expect.stringContaining('open in another program')]);
      expect([bytes('log.md'), bytes('claim.docx')]).toEqual(before);
    }
    expect((await work.run('list', '--json')).out).toBe(list);
  });

  it('undo takes the pictures of a text back with it', async () => {
    await work.run('copy', 'survey.docx');
    expect((await work.run('paste', '1', '--into', 'new.md')).err).toContain('new-pictures');
    expect(readdirSync(work.path('new-pictures')).length).toBeGreaterThan(0);
    await work.run('undo');
    expect([existsSync(work.path('new.md')), existsSync(work.path('new-pictures'))]).toEqual([false, false]);
    await work.run('redo');
    expect(readFileSync(work.path('new.md'), 'utf8')).toMatch(/new-pictures\/[0-9a-f]{16}\.png/);
    expect(readdirSync(work.path('new-pictures')).length).toBeGreaterThan(0);
    await work.run('undo');
    await work.run('next', '--into', 'next.md');
    expect(readdirSync(work.path('next-pictures')).length).toBeGreaterThan(0);
  });

  it('undo says what cannot be undone, and takes back nothing else instead', async () => {
    await work.run('copy', '--text', 'oak');
    await work.run('copy', '--text', 'hunter2');
    await work.run('mark', '2', '--secret');
    await work.run('delete', '2', '--yes');
    const { code, err } = await work.run('undo');
    expect([code, err]).toEqual([1, expect.stringMatching(/Deleted 1 secret.*cannot be undone/)]);
    expect(JSON.parse((await work.run('list', '--json')).out).count).toBe(1);
    await work.run('undo');
    expect(JSON.parse((await work.run('list', '--json')).out).count).toBe(0);
  });

  it('undo is never stuck: what was changed since is named and passed over, and all else comes back', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.record({ file: fc.constantFrom('a.txt', 'b.txt', 'c.txt'), isChanged: fc.boolean() }), {
          minLength: 1,
          maxLength: 4,
        }),
        async (steps) => {
          work.remove();
          work = workplace();
          await work.run('copy', '--text', 'oak');
          for (const name of ['a.txt', 'b.txt', 'c.txt']) writeFileSync(work.path(name), `${name}\n`);
          for (const { file } of steps) await work.run('paste', '1', '--into', file);
          // The last to be pasted into is changed by somebody else, so that its actions stay.
          const foreign = new Set(steps.filter(({ isChanged }) => isChanged).map(({ file }) => file));
          for (const file of foreign) writeFileSync(work.path(file), 'somebody else\n');
          for (let turn = 0; turn <= steps.length + 1; turn++) {
            const { err } = await work.run('undo', '--skip');
            for (const _file of foreign) if (err.includes('Skipped')) expect(err).toContain('changed since');
            if (foreign.size === 0) expect(err).toBe('');
            for (const file of foreign) expect(readFileSync(work.path(file), 'utf8')).toBe('somebody else\n');
          }
          for (const name of ['a.txt', 'b.txt', 'c.txt'])
            if (![...foreign].some((each) => each === name))
              expect(readFileSync(work.path(name), 'utf8')).toBe(`${name}\n`);
          expect(JSON.parse((await work.run('list', '--json')).out).count).toBe(0);
        },
      ),
      { numRuns: Number(process.env.RUNS ?? 4) },
    );
  });
});
