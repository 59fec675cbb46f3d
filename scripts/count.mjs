// Counts what the source comes to: lines, files, lengths of functions, circles of imports, and the files that a copy and a paste pass through.
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, relative, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { circlesOf, functionLengths, linesOf } from './source.mjs';

const src = resolve('src');
const files = readdirSync(src, { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.ts'))
  .map((name) => join(src, name));
const texts = new Map(files.map((file) => [file, readFileSync(file, 'utf8')]));
/** The files that each file names, those it needs for types alone included. */
const imports = new Map(
  files.map((file) => [
    file,
    [...texts.get(file).matchAll(/(?:from\s+|^import\s+)'(\.[^']+)'/gm)]
      .map(([, name]) => resolve(dirname(file), name))
      .filter((target) => texts.has(target)),
  ]),
);

// --- What a copy and a paste pass through ------------------------------------------------------------------------------

/** The files of ours in which some function runs while a script does its work. */
function filesPassed(script) {
  const folder = mkdtempSync(join(tmpdir(), 'drawer-count-'));
  try {
    execFileSync(process.execPath, ['--input-type=module', '-e', script], {
      env: { ...process.env, NODE_V8_COVERAGE: folder },
    });
    const passed = new Set();
    for (const name of readdirSync(folder))
      for (const { url, functions } of JSON.parse(readFileSync(join(folder, name), 'utf8')).result) {
        if (!url.startsWith('file:') || !fileURLToPath(url).startsWith(resolve('dist'))) continue;
        const ran = functions.some(({ functionName, ranges: [range] }) => functionName !== '' && range.count > 0);
        if (ran) passed.add(url);
      }
    return passed.size;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const at = (path) => JSON.stringify(resolve(path));
const copy = `
  const { readFromFile } = await import(${at('dist/node/index.js')});
  const { parsePlace } = await import(${at('dist/places/index.js')});
  const { createDrawer } = await import(${at('dist/index.js')});
  let id = 0;
  const drawer = createDrawer({ clock: () => new Date(0), generateId: () => String(++id) });
  const { content, media } = await readFromFile(parsePlace(${JSON.stringify(`${resolve('examples/demo/files/survey.docx')}#table=1`)}), {});
  await drawer.keep([{ content, media, origin: {} }]);
`;
const paste = `
  const { formatNamed, sourceOf } = await import(${at('dist/formats/index.js')});
  const { parseFragment } = await import(${at('dist/places/index.js')});
  const { readFileSync } = await import('node:fs');
  const { nodeTools } = await import(${at('dist/node/index.js')});
  const { noMedia } = await import(${at('dist/index.js')});
  const xlsx = await formatNamed('xlsx').load();
  const source = sourceOf(readFileSync(${at('examples/demo/files/budget.xlsx')}), 'budget.xlsx');
  const rows = [[{ type: 'text', value: 'oak' }, { type: 'number', value: 2, text: '2' }]];
  await xlsx.insert(source, parseFragment('Z90'), { content: { shape: 'cells', rows }, media: noMedia, style: 'local' }, nodeTools);
`;

const lengths = files
  .flatMap((file) => functionLengths(texts.get(file)).map((length) => [length, file]))
  .sort(([one], [other]) => one - other);
const part = (share) => lengths[Math.floor(lengths.length * share)][0];
const long = lengths.filter(([length]) => length > 60);
const all = circlesOf(imports);
console.log(
  `lines that are not blank: ${[...texts.values()].reduce((sum, text) => sum + linesOf(text), 0).toLocaleString('en-GB')}`,
);
console.log(`files: ${files.length}`);
console.log(
  `functions: ${lengths.length}; median ${part(0.5)} lines, 90 % up to ${part(0.9)}, longest ${lengths.at(-1)[0]}; over 60: ${long.length}`,
);
for (const [length, file] of long) console.log(`  ${length} ${relative(src, file)}`);
console.log(`circles of imports of three files or more: ${all.filter(({ length }) => length > 2).length}`);
for (const circle of all) console.log(`  ${circle.map((file) => relative(src, file)).join(' ')}`);
console.log(`files that a range copied from .docx passes through: ${filesPassed(copy)}`);
console.log(`files that a paste into .xlsx passes through: ${filesPassed(paste)}`);
