import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { type Content, DrawerError, doc, paragraph, plainText, run, table } from 'drawer';
import {
  type FormatName,
  fields,
  fill,
  formatNames,
  insert,
  outline,
  read,
  remove,
  sourceOf,
  write,
} from 'drawer/formats';
import * as fc from 'fast-check';

const demo = (name: string): Buffer => readFileSync(resolve(import.meta.dirname, '../../examples/demo/files', name));
const files = [
  'survey.docx',
  'history.odt',
  'budget.xlsx',
  'crew.ods',
  'letters.html',
  'log.md',
  'sailings.csv',
  'ferry.png',
];
const written: readonly FormatName[] = ['docx', 'odt', 'xlsx', 'ods', 'html', 'markdown', 'text', 'csv'];

it.each(files)('reads %s whatever holds its bytes', async (name) => {
  const bytes = demo(name);
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) as ArrayBuffer;
  const { content } = await read(bytes, '', { name });
  for (const file of [buffer, new Blob([buffer]), sourceOf(bytes, '')])
    expect((await read(file, '', { name })).content).toEqual(content);
  expect((await read(new File([buffer], name))).content).toEqual(content);
});

it.each(files)('lists the places of %s, and reads each', async (name) => {
  const { entries } = await outline(demo(name), { name });
  for (const { place } of entries.slice(0, 6))
    expect(await read(demo(name), `#${place}`, { name })).toEqual(await read(demo(name), place, { name }));
});

it.each(written)('writes words and tables as %s, and reads them again', async (format) => {
  const content = doc(paragraph('Elm & oak'), table(1, ['Wood', 'Price'], ['Elm', '12.50'], ['Oak', '9.00']));
  const file = new Blob([(await write(content, { format })) as Uint8Array<ArrayBuffer>]);
  const name = format === 'csv' ? 'a.csv' : format === 'markdown' ? 'a.md' : 'a';
  const words = plainText((await read(file, '', { name })).content);
  for (const word of ['Elm & oak', 'Wood', '12.50', '9.00']) expect(words).toContain(word);
});

it.each<FormatName>(['xlsx', 'ods'])('writes values as %s, on a sheet of any name', async (format) => {
  const rows = [
    [{ type: 'number', value: 1.5, text: '1.5' }],
    [{ type: 'boolean', value: true, text: 'TRUE' }],
  ] as const;
  const bytes = await write({ shape: 'cells', rows }, { format, sheet: 'Timber & more' });
  expect((await read(bytes, "'Timber & more'!A1:A2")).content).toMatchObject({
    shape: 'cells',
    rows: [[rows[0][0]], [{ value: true }]],
  });
});

it('puts content in, takes it out, and fills forms, by places as text', async () => {
  const log = demo('log.md');
  const options = { name: 'log.md' };
  const { bytes, where } = await insert(log, 'paragraph=1', run('Elm'), { ...options, side: 'after' });
  expect([where.kind, plainText((await read(bytes, 'paragraph=2', options)).content)]).toEqual(['landed.after', 'Elm']);
  const back = await remove(bytes, 'paragraph=2', options);
  expect(Buffer.from(back.bytes).equals(log)).toBe(true);
  const form = demo('claim.docx');
  const [slot] = await fields(form);
  const filled = await fill(form, { [slot?.key ?? '']: 'Elm' });
  expect(plainText((await read(filled.bytes)).content)).toContain('Elm');
});

it('ends when it is told to, and says how far it is', async () => {
  const stopping = new AbortController();
  const told: number[] = [];
  const reading = read(demo('survey.docx'), '', {
    signal: stopping.signal,
    onProgress: (done, all) => {
      told.push(done / all);
      if (told.length === 3) stopping.abort(new Error('enough'));
    },
  });
  await expect(reading).rejects.toThrow('enough');
  expect(told.length).toBeLessThan(8);
  expect(told.toSorted((one, other) => one - other)).toEqual(told);
  await expect(read(demo('log.md'), '', { signal: stopping.signal })).rejects.toThrow('enough');
});

it('says which file an error is about', async () => {
  await expect(read(new File(['PK\u0003\u0004'], 'broken.docx'))).rejects.toMatchObject({
    code: 'unreadable',
    where: 'broken.docx',
  });
  await expect(read(demo('log.md'), 'section=Nowhere', { name: 'log.md' })).rejects.toMatchObject({
    reason: 'section-unknown',
    where: 'log.md',
  });
});

const anything = fc.oneof(
  fc.anything({ withBigInt: true, withDate: true, withMap: true, withTypedArray: true }),
  fc.constantFrom(
    '',
    'table=1',
    'Timber!B2',
    '#',
    'x=',
    null,
    undefined,
    0,
    [],
    {},
    demo('log.md'),
    demo('budget.xlsx'),
  ),
);
const calls: Readonly<Record<string, (given: never) => Promise<unknown>>> = {
  'read what': (given) => read(given),
  'read where': (given) => read(demo('survey.docx'), given),
  'read as': (given) => read(demo('log.md'), '', { format: given }),
  'read named': (given) => read(demo('log.md'), '', { name: given }),
  'read with': (given) => read(demo('log.md'), '', given),
  'read until': (given) => read(demo('log.md'), '', { name: 'log.md', signal: given }),
  'read and tell': (given) => read(demo('survey.docx'), '', { onProgress: given }),
  'insert with': (given) => insert(demo('survey.docx'), 'paragraph=1', run('Elm'), given),
  'write with': (given) => write(run('Elm'), given),
  'outline what': (given) => outline(given),
  'insert where': (given) => insert(demo('history.odt'), given, run('Elm')),
  'insert what': (given) => insert(demo('survey.docx'), 'paragraph=1', given),
  'insert at a side': (given) => insert(demo('log.md'), 'paragraph=1', run('Elm'), { name: 'log.md', side: given }),
  'insert in a style': (given) => insert(demo('budget.xlsx'), 'Lines!H9', run('Elm'), { style: given }),
  'insert with pictures': (given) => insert(demo('letters.html'), '', run('Elm'), { media: given }),
  'remove where': (given) => remove(demo('survey.docx'), given),
  'fill with': (given) => fill(demo('claim.docx'), given),
  'write what': (given) => write(given, { format: 'odt' }),
  'write as': (given) => write(run('Elm'), { format: given }),
  'write on a sheet': (given) => write(run('Elm'), { format: 'xlsx', sheet: given }),
  'write in a language': (given) => write(run('Elm'), { format: 'docx', language: given }),
};

it.each(Object.keys(calls))('refuses in words what it cannot use: %s', async (name) => {
  await fc.assert(
    fc.asyncProperty(anything, async (given) => {
      await Promise.resolve(calls[name]?.(given as never)).catch((error: unknown) => {
        if (!DrawerError.is(error)) throw error;
      });
    }),
    { numRuns: Number(process.env.RUNS ?? 40) },
  );
});

it('knows every format by name', () => {
  expect(formatNames).toEqual(expect.arrayContaining([...written]));
  const content: Content = run('Elm');
  return expect(write(content, { format: 'picture' })).rejects.toMatchObject({ reason: 'format-not-written' });
});
