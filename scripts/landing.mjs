// Pastes into many real office files and holds what comes out against what was there: other parts byte for byte the same,
// the changed part the same but for what was put in, our own reader and an independent one (LibreOffice) reading the words
// that were there and the new ones. The files are those that scripts/fidelity.mjs fetches. Prints its figures; --demo takes
// the demo data alone, as CI does where LibreOffice is there.
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, extname, join } from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { formatNamed, sourceOf } from '../dist/formats/index.js';
import { bullets, doc, heading, paragraph, parseFragment, plainText, table } from '../dist/index.js';
import { nodeDeflate, nodeInflate } from '../dist/node/index.js';

const isDemo = process.argv.includes('--demo');
const folder = isDemo
  ? join(import.meta.dirname, '../examples/demo/files')
  : (process.env.FIDELITY_DIR ?? join(tmpdir(), 'drawer-fidelity', 'files'));
const kinds = { docx: ['docx', 'docm', 'dotx'], odt: ['odt', 'ott'], xlsx: ['xlsx', 'xlsm'], ods: ['ods', 'ots'] };
const kindOf = (file) => Object.keys(kinds).find((kind) => kinds[kind].includes(extname(file).slice(1).toLowerCase()));
const sample = isDemo ? 99 : Number(process.env.SAMPLE ?? 40);
const tools = { inflate: nodeInflate, deflate: nodeDeflate };
const marker = 'Pastedwords';
const prose = doc(
  heading(2, `${marker} heading`),
  paragraph(`${marker} paragraph`),
  bullets(`${marker} item`),
  table(1, [`${marker} name`, 'x'], ['1', '2']),
);
const cell = { shape: 'cells', rows: [[{ type: 'text', value: `${marker} cell` }]] };
const mainParts = /^(?:word\/(?!numbering)[^/]*\.xml|content\.xml|xl[\\/]worksheets[\\/][^/]*\.xml)$/i;
/** What may be added to beside the part that the place is in. */
const leaned =
  /^(?:\[Content_Types\]\.xml|word\/_rels\/.*|word\/numbering.*\.xml|xl[\\/](?:workbook|styles|calcChain).*\.xml|xl\/worksheets\/.*\.xml|xl\/_rels\/.*|META-INF\/manifest\.xml)$/i;

const files = readdirSync(folder, { recursive: true, withFileTypes: true })
  .filter((entry) => entry.isFile() && kindOf(entry.name))
  .map((entry) => join(entry.parentPath ?? entry.path, entry.name))
  .sort();
const letters = (text) => text.replace(/[\s\d.>•◦–-]+/g, '');
const work = mkdtempSync(join(tmpdir(), 'drawer-landing-'));
const figures = Object.fromEntries(
  Object.keys(kinds).map((kind) => [kind, { pasted: 0, refused: 0, reasons: {}, faults: [], opened: 0, compared: 0 }]),
);

for (const file of files) {
  if (process.env.TRACE) console.error(file);
  const kind = kindOf(file);
  const figure = figures[kind];
  const bytes = new Uint8Array(readFileSync(file));
  const source = sourceOf(bytes, basename(file));
  const format = await formatNamed(kind).load();
  const isSheet = kind === 'xlsx' || kind === 'ods';
  let before;
  try {
    before = plainText((await format.take(source, parseFragment(''), tools)).content);
  } catch {
    continue; // not to be read, so not to be changed
  }
  try {
    const insertion = { content: isSheet ? cell : prose, media: new Map(), style: 'local' };
    const places = isSheet ? [''] : ['', 'paragraph=1'];
    for (const place of places) {
      const { bytes: after } = await format.insert(source, parseFragment(place), insertion, tools);
      check(figure, file, bytes, after, isSheet);
      const now = plainText((await format.take(sourceOf(after, basename(file)), parseFragment(''), tools)).content);
      if (!now.includes(marker)) figure.faults.push([file, place, 'the words are not there']);
      if (!isSheet && letters(now).length !== letters(before).length + letters(plainText(prose)).length)
        figure.faults.push([file, place, `words: ${letters(before).length} and ${letters(now).length}`]);
      if (place === places[0] && figure.compared < sample && !/CVE|password|\/fail\//i.test(file))
        openElsewhere(figure, file, after, kind);
    }
    figure.pasted++;
  } catch (error) {
    if (error?.code === undefined || error.details === undefined)
      figure.faults.push([file, '', String(error?.stack ?? error).slice(0, 300)]);
    else {
      figure.refused++;
      const reason = error.message.replace(/“[^”]*”|[A-Z]+\d+(?::[A-Z]+\d+)?/g, '…').slice(0, 60);
      figure.reasons[reason] = (figure.reasons[reason] ?? 0) + 1;
    }
  }
}
rmSync(work, { recursive: true, force: true });
for (const [kind, { faults, ...figure }] of Object.entries(figures)) {
  console.log(kind, JSON.stringify(figure), `${faults.length} faults`);
  for (const fault of faults.slice(0, Number(process.env.SHOW ?? 5))) console.log('  ', ...fault);
}
const faults = Object.values(figures).reduce((sum, figure) => sum + figure.faults.length, 0);
if (isDemo && (faults > 0 || files.length < 6)) process.exit(1);

/** Every part but those that paste leans on is as it was, and the text part only has more. */
function check(figure, file, before, after, isSheet) {
  const [old, now] = [unzipSync(before), unzipSync(after)];
  for (const name of Object.keys(old)) {
    if (!now[name]) {
      if (!/calcChain/.test(name)) figure.faults.push([file, name, 'is gone']);
      continue;
    }
    if (Buffer.compare(Buffer.from(old[name]), Buffer.from(now[name])) === 0) continue;
    if (mainParts.test(name)) {
      if (!isSheet && !isInsertion(strFromU8(old[name]), strFromU8(now[name])))
        figure.faults.push([file, name, 'changed elsewhere']);
    } else if (!leaned.test(name)) figure.faults.push([file, name, 'changed']);
  }
}

/** Whether one text is another with stretches put in: at the place, and among the automatic styles. */
function isInsertion(before, after) {
  const [old, now] = [before, after].map((text) =>
    text.replace('<office:automatic-styles/>', '<office:automatic-styles></office:automatic-styles>'),
  );
  let start = 0;
  while (start < old.length && old[start] === now[start]) start++;
  let end = 0;
  while (end < old.length - start && old[old.length - 1 - end] === now[now.length - 1 - end]) end++;
  const middle = old.slice(start, old.length - end);
  return middle === '' || now.slice(start, now.length - end).includes(middle);
}

function openElsewhere(figure, file, after, kind) {
  const name = `f${figure.compared++}.${kind}`;
  mkdirSync(join(work, 'in'), { recursive: true });
  writeFileSync(join(work, 'in', name), after);
  const filter =
    kind === 'docx' || kind === 'odt'
      ? 'txt:Text (encoded):UTF8'
      : 'csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,true,false,false,false,-1';
  spawnSync('soffice', ['--headless', '--convert-to', filter, '--outdir', join(work, 'out'), join(work, 'in', name)], {
    timeout: 60_000,
    stdio: 'ignore',
  });
  const made = readdirSync(work).includes('out')
    ? readdirSync(join(work, 'out')).filter((each) => each.startsWith(name.split('.')[0]))
    : [];
  const text = made.map((each) => readFileSync(join(work, 'out', each), 'utf8')).join('\n');
  rmSync(join(work, 'out'), { recursive: true, force: true });
  if (text.includes(marker)) figure.opened++;
  else figure.faults.push([file, '', 'LibreOffice does not show the words']);
}
