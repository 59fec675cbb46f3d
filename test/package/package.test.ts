import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { exportSnippets, type Snippet } from 'drawer';
import * as fc from 'fast-check';
import { build } from 'rolldown';
import { allMedia, blocks } from '../support/arbitrary.ts';

const root = resolve(import.meta.dirname, '../..');
const manifest = JSON.parse(readFileSync(resolve(root, 'package.json'), 'utf8')) as {
  exports: Record<string, string | { types: string; default: string }>;
  dependencies: Record<string, string>;
};

/** What a browser bundle of `code` holds, by the names of the modules that went in. */
async function bundle(code: string): Promise<{ bytes: number; inputs: string[] }> {
  const { output } = await build({
    input: 'code',
    platform: 'browser',
    plugins: [
      {
        name: 'code',
        resolveId: (id) => (id === 'code' ? resolve(root, 'code.js') : null),
        load: (id) => (id === resolve(root, 'code.js') ? code : null),
      },
    ],
    output: { minify: true, sourcemapIgnoreList: false },
    write: false,
    logLevel: 'silent',
  });
  // What is loaded at once: the first chunk, and those that it imports other than by `import()`.
  const names = new Set([output[0].fileName]);
  const loaded = [];
  for (const name of names)
    for (const part of output)
      if (part.fileName === name && part.type === 'chunk') {
        loaded.push(part);
        for (const each of part.imports) names.add(each);
      }
  const used = loaded
    .flatMap(({ modules }) => Object.entries(modules))
    .filter(([, { renderedLength }]) => renderedLength > 0);
  return { bytes: loaded.reduce((sum, { code: { length } }) => sum + length, 0), inputs: used.map(([name]) => name) };
}

describe('the package', () => {
  it.each(Object.entries(manifest.exports).filter(([, entry]) => typeof entry === 'object'))(
    'offers %s with its types',
    async (name, entry) => {
      const { types, default: code } = entry as { types: string; default?: string };
      // Those of a framework add to its own types.
      expect(readFileSync(resolve(root, types), 'utf8')).toContain(code === undefined ? 'declare module' : 'export');
      if (code === undefined) return;
      const module = (await import(resolve(root, code))) as Record<string, unknown>;
      expect([name, Object.keys(module).length > 0]).toEqual([name, true]);
    },
  );

  it('costs nothing where nothing of it is used', async () => {
    expect((await bundle("import 'drawer'; import 'drawer/formats'; import 'drawer/browser'")).bytes).toBeLessThan(100);
  });

  it('carries no Node code into a browser, and a reader only when a file of its kind is opened', async () => {
    const whole = await bundle(
      "export * from 'drawer'; export * from 'drawer/formats'; export * from 'drawer/browser'",
    );
    expect(whole.inputs.length).toBeGreaterThan(10);
    expect(whole.inputs.filter((name) => /libsql|write-file-atomic|parse5|saxes|node:/.test(name))).toEqual([]);
    const small = await bundle("import { compose, doc } from 'drawer'; console.log(compose([{ content: doc('a') }]))");
    expect(small.inputs.filter((name) => /fractional|exodus|noble|parse5|saxes|node_modules\/lit/.test(name))).toEqual(
      [],
    );
  });

  it('carries nothing that touches a document where a worker reads files', async () => {
    const files = await bundle("export * from 'drawer'; export * from 'drawer/formats'");
    expect(files.inputs.filter((name) => /node_modules\/lit|browser\/(?!files)/.test(name))).toEqual([]);
  });

  it('says of every dependency why it is there', () => {
    const reasons = readFileSync(resolve(root, 'docs/dependencies.md'), 'utf8');
    expect(Object.keys(manifest.dependencies).length).toBeGreaterThan(10);
    for (const name of Object.keys(manifest.dependencies)) expect(reasons).toContain(`\`${name}\``);
  });
});

it('describes exported snippets by a JSON Schema that agrees with the validator', () => {
  const schema = JSON.parse(readFileSync(resolve(root, 'docs/snippets.schema.json'), 'utf8')) as object;
  const validate = new Ajv2020({ strict: false, validateFormats: false }).compile(schema);
  const snippet = (content: Snippet['content']): Snippet => ({
    id: 'a',
    order: 'a0',
    origin: { file: 'a' },
    takenAt: '2026-05-04T09:00:00.000Z',
    facts: { shape: 'blocks', what: { kind: 'section' }, preview: '', characters: 0, words: 0, lines: 0, bytes: 0 },
    content,
  });
  fc.assert(
    fc.property(blocks, (content) =>
      expect([validate(exportSnippets([snippet(content)], allMedia)), validate.errors]).toEqual([true, null]),
    ),
    { numRuns: 60 },
  );
  expect(validate(exportSnippets([snippet({ shape: 'blob' } as never)], allMedia))).toBe(false);
  expect(validate({ ...exportSnippets([], allMedia), version: 2 })).toBe(false);
});
