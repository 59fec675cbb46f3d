// Holds the readers against an independent one (LibreOffice) on many real office files: test documents of document libraries
// and converters. They are fetched as Debian source packages (`deb-src` has to be among apt's sources) into a folder of
// their own, and none is committed. Writes docs/fidelity.md.
//   node scripts/fidelity.mjs --fetch   fetches and unpacks the files
//   node scripts/fidelity.mjs           compares, and writes the figures
import { execFileSync, spawnSync } from 'node:child_process';
import {
  appendFileSync,
  copyFileSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, extname, join } from 'node:path';
import { compareCells, compareWords } from './fidelity-compare.mjs';

const folder = process.env.FIDELITY_DIR ?? join(tmpdir(), 'drawer-fidelity');
const packages = [
  'pandoc',
  'python-docx',
  'odfpy',
  'libexcel-writer-xlsx-perl',
  'python-docxcompose',
  'jodconverter',
  'calligra',
  'gnumeric',
  'abiword',
  'libapache-poi-java',
  'libreoffice',
];
const endings = { docx: ['docx', 'docm', 'dotx'], odt: ['odt', 'ott'], xlsx: ['xlsx', 'xlsm'], ods: ['ods', 'ots'] };
/** How many of each kind are compared with LibreOffice, chosen by a fixed sequence; all are read. */
const samples = { docx: 500, odt: 350, xlsx: 350, ods: 250 };
const kindOf = (file) =>
  Object.keys(endings).find((kind) => endings[kind].includes(extname(file).slice(1).toLowerCase()));

if (process.argv.includes('--fetch')) fetchFiles();
else await compareAll();

function fetchFiles() {
  mkdirSync(join(folder, 'files'), { recursive: true });
  const wanted = Object.values(endings)
    .flat()
    .map((ending) => `*.${ending}`);
  for (const name of packages) {
    spawnSync('apt-get', ['source', '--download-only', '-qq', name], { cwd: folder, stdio: 'inherit' });
    for (const archive of readdirSync(folder).filter(
      (each) => each.startsWith(`${name}_`) && each.includes('.orig.tar'),
    )) {
      if (archive.endsWith('.asc')) continue;
      const target = join(folder, 'files', name);
      mkdirSync(target, { recursive: true });
      spawnSync('tar', ['-xf', archive, '-C', target, '--wildcards', '--no-anchored', ...wanted], { cwd: folder });
    }
  }
  console.log(`${filesIn(join(folder, 'files')).length} files in ${folder}`);
}

function filesIn(path) {
  return readdirSync(path, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && kindOf(entry.name))
    .map((entry) => join(entry.parentPath ?? entry.path, entry.name))
    .sort();
}

/** The same files every time. */
function choose(files, kind) {
  let seed = 7;
  const next = () => (seed = (seed * 1_103_515_245 + 12_345) & 0x7fffffff);
  return files
    .filter((file) => kindOf(file) === kind && !/CVE|password|\/fail\//i.test(file))
    .map((file) => [next(), file])
    .sort(([one], [other]) => one - other)
    .slice(0, samples[kind])
    .map(([, file]) => file);
}

async function compareAll() {
  if (!existsSync(join(folder, 'files'))) throw new Error('First: node scripts/fidelity.mjs --fetch');
  const files = filesIn(join(folder, 'files'));
  const read = await readAllFiles(files);
  const compared = {};
  for (const kind of Object.keys(endings)) compared[kind] = await compareKind(kind, choose(files, kind));
  writeFileSync('docs/fidelity.md', report(files, read, compared));
}

/** Reads every file whole and outlines it: no crash, no hang. */
async function readAllFiles(files) {
  const { readFromFile, outlineFile } = await import('../dist/node/index.js');
  const { DrawerError, parseContent } = await import('../dist/index.js');
  const result = { whole: 0, refused: new Map(), crashed: [], slow: [], slowest: 0 };
  for (const file of files) {
    const start = performance.now();
    try {
      parseContent((await readFromFile({ file, fragment: { kind: 'whole' } })).content);
      await outlineFile(file);
      result.whole++;
    } catch (error) {
      if (DrawerError.is(error)) {
        const what = error.reason
          .replace(/“[^”]*”|\d[\d,]*/g, '…')
          .replace(/\([^)]*\)/g, '')
          .slice(0, 100);
        result.refused.set(what, [...(result.refused.get(what) ?? []), basename(file)]);
      } else result.crashed.push(`${basename(file)}: ${error.message}`);
    }
    const took = (performance.now() - start) / 1000;
    result.slowest = Math.max(result.slowest, took);
    if (took > 10) result.slow.push(basename(file));
  }
  return result;
}

/** LibreOffice writes each file as text, or each of its sheets as separated values. */
function convert(kind, files) {
  const [input, output] = [join(folder, 'in', kind), join(folder, 'out', kind)];
  for (const path of [input, output]) {
    rmSync(path, { recursive: true, force: true });
    mkdirSync(path, { recursive: true });
  }
  const names = files.map((file, index) => {
    const name = `${String(index).padStart(4, '0')}${extname(file)}`;
    copyFileSync(file, join(input, name));
    return join(input, name);
  });
  const filter =
    kind === 'docx' || kind === 'odt'
      ? 'txt:Text (encoded):UTF8'
      : 'csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,true,true,false,false,-1';
  for (let at = 0; at < names.length; at += 20)
    spawnSync(
      'soffice',
      [
        `-env:UserInstallation=file://${folder}/profile`,
        '--headless',
        '--convert-to',
        filter,
        '--outdir',
        output,
        ...names.slice(at, at + 20),
      ],
      { stdio: 'ignore', timeout: 180_000 },
    );
  return output;
}

async function compareKind(kind, files) {
  const output = process.env.FIDELITY_OUT ?? convert(kind, files);
  const written = readdirSync(output);
  const { readFromFile } = await import('../dist/node/index.js');
  const total = { files: 0, unread: 0, same: 0, units: 0, missing: 0, differing: [] };
  for (const [index, file] of files.entries()) {
    const prefix = `${process.env.FIDELITY_OUT ? kind : ''}${String(index).padStart(4, '0')}`;
    const own = written.filter((name) => name.startsWith(`${prefix}.`) || name.startsWith(`${prefix}-`));
    if (own.length === 0) {
      total.unread++;
      continue;
    }
    let result;
    try {
      const take = (fragment, hidden = true) => readFromFile({ file, fragment }, { hidden });
      const texts = new Map(
        own.map((name) => [name.slice(prefix.length + 1, -4), readFileSync(join(output, name), 'utf8')]),
      );
      result = kind === 'docx' || kind === 'odt' ? await compareWords(take, texts) : await compareCells(take, texts);
    } catch {
      continue; // counted among those refused
    }
    total.files++;
    total.units += result.units;
    total.missing += result.missing.length;
    if (result.missing.length === 0) total.same++;
    else total.differing.push({ file: basename(file), ...result });
  }
  appendFileSync(
    join(folder, 'differences.jsonl'),
    `${total.differing.map((each) => JSON.stringify({ kind, ...each })).join('\n')}\n`,
  );
  return total;
}

function report(files, read, compared) {
  const version = execFileSync('soffice', ['--version'], { encoding: 'utf8' }).trim().split(' ').slice(0, 2).join(' ');
  const counts = Object.keys(endings).map((kind) => `${files.filter((file) => kindOf(file) === kind).length} ${kind}`);
  const row = (cells) => `| ${cells.join(' | ')} |`;
  const percent = (part, all) => `${((100 * part) / Math.max(1, all)).toFixed(2)} %`;
  return `# Fidelity

Made by \`node scripts/fidelity.mjs\`: the readers on ${files.length} office files of many programs and years (${counts.join(', ')}),
the test documents of other document libraries and converters in Debian's source packages (${packages.join(', ')}). Many of
them are there because they once broke a program.

## Reading all of them

Each was taken whole, checked against the schema, and outlined. ${read.whole} were read; ${read.crashed.length} crashed; ${read.slow.length} took longer
than 10 s (the slowest ${read.slowest.toFixed(1)} s). These were refused, each with one clear error:

${row(['files', 'why'])}
${row(['---: ', '---'])}
${[...read.refused]
  .sort(([, one], [, other]) => other.length - one.length)
  .map(([what, names]) => row([names.length, what]))
  .join('\n')}

## Beside an independent reader

A fixed choice of them, beside ${version}: every word of its plain text has to be in ours (notes, headers and footers,
fields and list numbers are written in other ways by the two, so words are compared as a bag, without numbering), and every
cell it shows has to show the same here, hidden rows, columns and sheets included.

${row(['format', 'files compared', 'without a difference', 'words or cells', 'missing in ours', 'not converted there'])}
${row(['---', '---:', '---:', '---:', '---:', '---:'])}
${Object.entries(compared)
  .map(([kind, { files: count, same, units, missing, unread }]) =>
    row([kind, count, `${same} (${percent(same, count)})`, units, `${missing} (${percent(missing, units)})`, unread]),
  )
  .join('\n')}

${readFileSync('scripts/fidelity-notes.md', 'utf8')}`;
}
