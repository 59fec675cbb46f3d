// Pastes into many real office files and holds what comes out against what was there: other parts byte for byte the same,
// the changed part the same but for what was put in, our own reader and an independent one (LibreOffice) reading the words
// that were there and the new ones, as many tables as there should be, the same cells, and the pages that this takes. The
// files are those that scripts/fidelity.mjs fetches. Prints its figures; --demo takes the demo data alone, as CI does where
// LibreOffice is there, and holds new files of every kind beside LibreOffice too.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, extname, join } from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { formatNamed, sourceOf } from '../dist/formats/index.js';
import { asBlocks, bullets, doc, heading, paragraph, parseFragment, plainText, table, text } from '../dist/index.js';
import { nodeTools } from '../dist/node/index.js';

const isDemo = process.argv.includes('--demo');
const folder = isDemo
  ? join(import.meta.dirname, '../examples/demo/files')
  : (process.env.FIDELITY_DIR ?? join(tmpdir(), 'drawer-fidelity', 'files'));
const kinds = { docx: ['docx', 'docm', 'dotx'], odt: ['odt', 'ott'], xlsx: ['xlsx', 'xlsm'], ods: ['ods', 'ots'] };
const kindOf = (file) => Object.keys(kinds).find((kind) => kinds[kind].includes(extname(file).slice(1).toLowerCase()));
const sample = isDemo ? 99 : Number(process.env.SAMPLE ?? 40);
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
const asText = 'txt:Text (encoded):UTF8';
const asCells = 'csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,true,true,false,false,-1';
const pagesIn = (pdf) => pdf?.match(/\/Type\s*\/Page\b(?!s)/g)?.length ?? 0;
const tablesIn = (html) => html?.match(/<table\b/g)?.length ?? 0;
/** Words, whatever stands between them. */
const words = (text) =>
  text
    .match(/[\p{L}\p{N}]+/gu)
    ?.sort()
    .join(' ') ?? '';
const work = mkdtempSync(join(tmpdir(), 'drawer-landing-'));
const isText = (kind) => kind === 'docx' || kind === 'odt';
/** Files with what was pasted into them, to be opened by the independent reader, and those as they were. */
const pairs = [];
mkdirSync(join(work, 'in'));
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
    before = plainText((await format.read(source, parseFragment(''), nodeTools)).content);
  } catch {
    continue; // not to be read, so not to be changed
  }
  try {
    const insertion = { content: isSheet ? cell : prose, media: new Map(), style: 'local' };
    const places = isSheet ? [''] : ['', 'paragraph=1'];
    for (const place of places) {
      const { bytes: after } = await format.insert(source, parseFragment(place), insertion, nodeTools);
      check(figure, file, bytes, after, isSheet);
      const now = plainText((await format.read(sourceOf(after, basename(file)), parseFragment(''), nodeTools)).content);
      if (!now.includes(marker)) figure.faults.push([file, place, 'the words are not there']);
      if (!isSheet && letters(now).length !== letters(before).length + letters(plainText(prose)).length)
        figure.faults.push([file, place, `words: ${letters(before).length} and ${letters(now).length}`]);
      if (place === places[0] && figure.compared < sample && !/CVE|password|\/fail\//i.test(file)) {
        pairs.push({
          figure,
          file,
          kind,
          before: keep(bytes, `before${pairs.length}.${kind}`),
          after: keep(after, `after${pairs.length}.${kind}`),
        });
        figure.compared++;
      }
    }
    figure.pasted++;
  } catch (error) {
    if (error?.code === undefined || error.reason === undefined)
      figure.faults.push([file, '', String(error?.stack ?? error).slice(0, 300)]);
    else {
      figure.refused++;
      const reason = error.message.replace(/“[^”]*”|[A-Z]+\d+(?::[A-Z]+\d+)?/g, '…').slice(0, 60);
      figure.reasons[reason] = (figure.reasons[reason] ?? 0) + 1;
    }
  }
}
compareElsewhere();
if (isDemo) await compareNewFiles();
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
  const styles = '<office:automatic-styles>';
  const [old, now] = [before, after].map((text) => {
    const told = text
      .replace('<office:automatic-styles/>', `${styles}</office:automatic-styles>`)
      .replace('<office:text/>', '<office:text></office:text>');
    return told.includes(styles) || !told.includes('<office:body')
      ? told
      : told.replace('<office:body', `${styles}</office:automatic-styles><office:body`);
  });
  let start = 0;
  while (start < old.length && old[start] === now[start]) start++;
  let end = 0;
  while (end < old.length - start && old[old.length - 1 - end] === now[now.length - 1 - end]) end++;
  const middle = old.slice(start, old.length - end);
  return middle === '' || now.slice(start, now.length - end).includes(middle);
}

function keep(bytes, name) {
  writeFileSync(join(work, 'in', name), bytes);
  return name;
}

/** LibreOffice's own reading of files, by their names without the ending; it is started once for many. */
function convert(names, filter, ending) {
  const out = join(work, ending);
  for (let from = 0; from < names.length; from += 10)
    spawnSync(
      'soffice',
      [
        '--headless',
        '--convert-to',
        filter,
        '--outdir',
        out,
        ...names.slice(from, from + 10).map((name) => join(work, 'in', name)),
      ],
      { timeout: 600_000, stdio: 'ignore' },
    );
  const made = existsSync(out) ? readdirSync(out).sort() : [];
  const found = new Map();
  for (const each of made) {
    const name = each.split(/[.-]/)[0];
    found.set(name, (found.get(name) ?? '') + readFileSync(join(out, each), ending === 'pdf' ? 'latin1' : 'utf8'));
  }
  rmSync(out, { recursive: true, force: true });
  return (name) => found.get(name.split('.')[0]);
}

/** Our own words but for pictures' descriptions and notes, of which the other reader's text shows the numbers alone. */
function wordsShown(content) {
  let notes = 0;
  const shown = (inline) =>
    inline.type === 'footnote' ? text(` ${++notes} `) : inline.type === 'picture' ? text('') : inline;
  const blocks = asBlocks(content).map(function bare(block) {
    if (block.type === 'picture') return paragraph();
    if (block.inlines) return { ...block, inlines: block.inlines.map(shown) };
    if (block.items)
      return { ...block, items: block.items.map((item) => ({ ...item, blocks: item.blocks.map(bare) })) };
    if (block.rows)
      return {
        ...block,
        rows: block.rows.map(({ cells }) => ({
          cells: cells.map((each) => ({ ...each, blocks: each.blocks.map(bare) })),
        })),
      };
    return block.blocks ? { ...block, blocks: block.blocks.map(bare) } : block;
  });
  return plainText({ shape: 'blocks', blocks });
}

/** The words that were there and the new ones, one table or cell more, and at most a page more. */
function compareElsewhere() {
  const names = (kinds) => pairs.filter(({ kind }) => kinds(kind)).flatMap(({ before, after }) => [before, after]);
  const texts = convert(names(isText), asText, 'txt');
  const cells = convert(
    names((kind) => !isText(kind)),
    asCells,
    'csv',
  );
  const pages = convert(
    names(() => true),
    'pdf',
    'pdf',
  );
  const tables = convert(names(isText), 'html', 'html');
  for (const { figure, file, kind, before, after } of pairs) {
    const read = isText(kind) ? texts : cells;
    const [old, now] = [read(before), read(after)];
    const fault = (what) => figure.faults.push([file, '', `LibreOffice ${what}`]);
    if (old === undefined) {
      figure.notOpenedBefore = (figure.notOpenedBefore ?? 0) + 1;
      continue;
    }
    if (!now?.includes(marker)) {
      fault('does not show the words');
      continue;
    }
    figure.opened++;
    // A document may number its headings, pages and lists: of its words the letters count. It may name its file.
    const told = (text) => words(isText(kind) ? text.replace(/\p{N}+|\b(?:before|after)\d+\b/gu, ' ') : text);
    if (told(now) !== told(`${old} ${isText(kind) ? plainText(prose) : `${marker} cell`}`)) fault('shows other words');
    const [were, are] = [pagesIn(pages(before)), pagesIn(pages(after))];
    if (were > 0 && (are < were || are > were + 1)) fault(`shows ${were} pages and then ${are}`);
    const [had, has] = [tablesIn(tables(before)), tablesIn(tables(after))];
    if (isText(kind) && has !== had + 1) fault(`shows ${had} tables and then ${has}`);
  }
}

/** What a demo file holds as a new file of each kind: LibreOffice's words, cells, tables and pages beside our own. */
async function compareNewFiles() {
  const made = [];
  for (const file of files) {
    const source = sourceOf(new Uint8Array(readFileSync(file)), basename(file));
    const format = await formatNamed(kindOf(file)).load();
    const sheets = isText(kindOf(file))
      ? ['']
      : (await format.outline(source)).entries.filter(({ kind }) => kind === 'sheet').map(({ place }) => place);
    for (const place of sheets) {
      const { content, media } = await format.read(source, parseFragment(place), nodeTools);
      for (const kind of isText(kindOf(file)) ? ['docx', 'odt'] : ['xlsx', 'ods']) {
        const target = await formatNamed(kind).load();
        const bytes = isText(kind)
          ? await target.write(content, { media })
          : (await target.create(parseFragment(''), { content, media, style: 'original' }, nodeTools)).bytes;
        made.push({ file, kind, content, name: keep(bytes, `new${made.length}.${kind}`) });
      }
    }
  }
  const namesOf = (wanted) => made.filter(({ kind }) => wanted === isText(kind)).map(({ name }) => name);
  const texts = convert(namesOf(true), asText, 'txt');
  const cells = convert(namesOf(false), asCells, 'csv');
  const tables = convert(namesOf(true), 'html', 'html');
  const pages = convert(
    made.map(({ name }) => name),
    'pdf',
    'pdf',
  );
  for (const [index, { file, kind, content, name }] of made.entries()) {
    const fault = (what) => figures[kind].faults.push([file, `as a new .${kind}`, `LibreOffice ${what}`]);
    const shown = (isText(kind) ? texts : cells)(name);
    if (shown === undefined || words(shown) !== words(wordsShown(content))) fault('shows other words');
    const own = content.shape === 'blocks' ? content.blocks.filter(({ type }) => type === 'table').length : 0;
    if (isText(kind) && tablesIn(tables(name)) !== own) fault(`shows ${tablesIn(tables(name))} tables of ${own}`);
    const twin = made[index % 2 === 0 ? index + 1 : index - 1];
    const [count, twins] = [pagesIn(pages(name)), pagesIn(pages(twin.name))];
    // Where a page is just full, the machine's fonts decide whether another begins.
    if (count === 0 || Math.abs(count - twins) > 1) fault(`shows ${count} pages, and ${twins} as .${twin.kind}`);
  }
}
