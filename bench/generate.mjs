// Large files to measure on, the same every time, kept in bench/out/.
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { strToU8, zipSync } from 'fflate';

export const out = join(import.meta.dirname, 'out');
const types = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const relationships = (list) =>
  `<?xml version="1.0" encoding="UTF-8"?>\n<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${list.map(([id, type, target]) => `<Relationship Id="${id}" Type="${types}/${type}" Target="${target}"/>`).join('')}</Relationships>`;

/** Numbers that look random and are the same in every run (mulberry32). */
function random(seed) {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

const syllables = 'ka lo mi ren tu sha vel dor pin gre as ot il um bra ne'.split(' ');
const word = (next) =>
  Array.from({ length: 1 + Math.floor(next() * 3) }, () => syllables[Math.floor(next() * syllables.length)]).join('');
const sentence = (next, length) => Array.from({ length }, () => word(next)).join(' ');

/** 100,000 rows of twelve columns; five of words by shared strings, seven of numbers with formats. */
export function workbook() {
  const path = join(out, 'sheet-100000x12.xlsx');
  if (existsSync(path)) return path;
  const next = random(1);
  const strings = new Map();
  const index = (text) => {
    if (!strings.has(text)) strings.set(text, strings.size);
    return strings.get(text);
  };
  const rows = [];
  for (let row = 1; row <= 100_000; row++) {
    const cells = Array.from({ length: 12 }, (_, column) => {
      const reference = `${String.fromCharCode(65 + column)}${row}`;
      if (column < 5)
        return `<c r="${reference}" s="0" t="s"><v>${index(`${word(next)} ${word(next)}${column === 0 ? row : ''}`)}</v></c>`;
      return `<c r="${reference}" s="${1 + (column % 2)}"><v>${Math.round(next() * 1e7) / 100}</v></c>`;
    });
    rows.push(`<row r="${row}" spans="1:12">${cells.join('')}</row>`);
  }
  const main = 'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"';
  writeZip(path, {
    '[Content_Types].xml': '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>',
    '_rels/.rels': relationships([['rId1', 'officeDocument', 'xl/workbook.xml']]),
    'xl/workbook.xml': `<workbook ${main} xmlns:r="${types}"><sheets><sheet name="Log" sheetId="1" r:id="rId1"/></sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': relationships([
      ['rId1', 'worksheet', 'worksheets/sheet1.xml'],
      ['rId2', 'styles', 'styles.xml'],
      ['rId3', 'sharedStrings', 'sharedStrings.xml'],
    ]),
    'xl/worksheets/sheet1.xml': `<?xml version="1.0" encoding="UTF-8"?>\n<worksheet ${main}><dimension ref="A1:L100000"/><sheetData>${rows.join('')}</sheetData></worksheet>`,
    'xl/styles.xml': `<styleSheet ${main}><numFmts count="1"><numFmt numFmtId="164" formatCode="&quot;£&quot;#,##0.00"/></numFmts><fonts><font><sz val="11"/><name val="Calibri"/></font></fonts><fills><fill/></fills><cellXfs><xf numFmtId="0"/><xf numFmtId="164"/><xf numFmtId="4"/></cellXfs></styleSheet>`,
    'xl/sharedStrings.xml': `<?xml version="1.0" encoding="UTF-8"?>\n<sst ${main}>${[...strings.keys()].map((text) => `<si><t>${text}</t></si>`).join('')}</sst>`,
  });
  return path;
}

/** About 1,000 pages: 30,000 paragraphs under 300 headings. */
export const longDocument = () => documentOf('document-30000.docx', 30_000);

/** 10,000 paragraphs under 200 headings, and 100 tables of 5 × 4. */
export const documentFile = () => documentOf('document-10000.docx', 10_000);

function documentOf(name, paragraphs) {
  const path = join(out, name);
  if (existsSync(path)) return path;
  const next = random(2);
  const run = (text, properties = '') =>
    `<w:r><w:rPr><w:rFonts w:ascii="Calibri" w:hAnsi="Calibri"/>${properties}</w:rPr><w:t xml:space="preserve">${text}</w:t></w:r>`;
  const paragraph = (runs, properties = '') => `<w:p><w:pPr>${properties}</w:pPr>${runs}</w:p>`;
  const body = [];
  for (let each = 0; each < paragraphs; each++) {
    if (each % 50 === 0)
      body.push(paragraph(run(`Section ${each / 50 + 1}`), `<w:pStyle w:val="Heading${1 + ((each / 50) % 2)}"/>`));
    body.push(
      paragraph(
        run(`${sentence(next, 12)} `) + run(word(next), '<w:b/>') + run(` ${sentence(next, 16)}.`),
        '<w:jc w:val="left"/>',
      ),
    );
    if (each % 100 === 99)
      body.push(
        `<w:tbl><w:tblPr/><w:tblGrid>${'<w:gridCol w:w="2000"/>'.repeat(4)}</w:tblGrid>${`<w:tr>${`<w:tc><w:tcPr><w:tcW w:w="2000" w:type="dxa"/></w:tcPr>${paragraph(run(word(next)))}</w:tc>`.repeat(4)}</w:tr>`.repeat(5)}</w:tbl>`,
      );
  }
  const main = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';
  writeZip(path, {
    '[Content_Types].xml': '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>',
    '_rels/.rels': relationships([['rId1', 'officeDocument', 'word/document.xml']]),
    'word/document.xml': `<?xml version="1.0" encoding="UTF-8"?>\n<w:document ${main}><w:body>${body.join('')}</w:body></w:document>`,
    'word/_rels/document.xml.rels': relationships([['rId1', 'styles', 'styles.xml']]),
    'word/styles.xml': `<w:styles ${main}><w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:ascii="Calibri"/></w:rPr></w:rPrDefault></w:docDefaults>${[1, 2].map((level) => `<w:style w:type="paragraph" w:styleId="Heading${level}"><w:name w:val="heading ${level}"/></w:style>`).join('')}</w:styles>`,
  });
  return path;
}

/** 5,000 rows of twelve columns, the same values in both families of formats. */
export function spreadsheet(kind) {
  const path = join(out, `sheet-5000x12.${kind}`);
  if (existsSync(path)) return path;
  const next = random(4);
  const rows = Array.from({ length: 5_000 }, () =>
    Array.from({ length: 12 }, (_, column) => (column < 5 ? sentence(next, 2) : Math.round(next() * 1e7) / 100)),
  );
  writeZip(path, kind === 'xlsx' ? xlsxParts(rows) : odsParts(rows));
  return path;
}

function xlsxParts(rows) {
  const main = 'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"';
  const strings = [...new Set(rows.flat().filter((value) => typeof value === 'string'))];
  const index = new Map(strings.map((text, at) => [text, at]));
  const cell = (value, row, column) => {
    const reference = `${String.fromCharCode(65 + column)}${row + 1}`;
    return typeof value === 'string'
      ? `<c r="${reference}" t="s"><v>${index.get(value)}</v></c>`
      : `<c r="${reference}" s="1"><v>${value}</v></c>`;
  };
  return {
    '[Content_Types].xml': '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>',
    '_rels/.rels': relationships([['rId1', 'officeDocument', 'xl/workbook.xml']]),
    'xl/workbook.xml': `<workbook ${main} xmlns:r="${types}"><sheets><sheet name="Log" sheetId="1" r:id="rId1"/></sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': relationships([
      ['rId1', 'worksheet', 'worksheets/sheet1.xml'],
      ['rId2', 'styles', 'styles.xml'],
      ['rId3', 'sharedStrings', 'sharedStrings.xml'],
    ]),
    'xl/worksheets/sheet1.xml': `<worksheet ${main}><sheetData>${rows.map((row, at) => `<row r="${at + 1}">${row.map((value, column) => cell(value, at, column)).join('')}</row>`).join('')}</sheetData></worksheet>`,
    'xl/styles.xml': `<styleSheet ${main}><cellXfs><xf numFmtId="0"/><xf numFmtId="4"/></cellXfs></styleSheet>`,
    'xl/sharedStrings.xml': `<sst ${main}>${strings.map((text) => `<si><t>${text}</t></si>`).join('')}</sst>`,
  };
}

const openNamespaces = Object.entries({
  office: 'office',
  style: 'style',
  text: 'text',
  table: 'table',
  fo: 'xsl-fo-compatible',
})
  .map(([prefix, name]) => `xmlns:${prefix}="urn:oasis:names:tc:opendocument:xmlns:${name}:1.0"`)
  .join(' ');
const openParts = (kind, automatic, body) => ({
  mimetype: `application/vnd.oasis.opendocument.${kind}`,
  'content.xml': `<office:document-content ${openNamespaces}><office:automatic-styles>${automatic}</office:automatic-styles><office:body><office:${kind}>${body}</office:${kind}></office:body></office:document-content>`,
  'styles.xml': `<office:document-styles ${openNamespaces}/>`,
});

function odsParts(rows) {
  const cell = (value) =>
    typeof value === 'string'
      ? `<table:table-cell office:value-type="string"><text:p>${value}</text:p></table:table-cell>`
      : `<table:table-cell office:value-type="float" office:value="${value}"><text:p>${value.toFixed(2)}</text:p></table:table-cell>`;
  const body = rows.map((row) => `<table:table-row>${row.map(cell).join('')}</table:table-row>`).join('');
  return openParts('spreadsheet', '', `<table:table table:name="Log">${body}</table:table>`);
}

/** The same text as the document of 10,000 paragraphs. */
export function openDocumentFile() {
  const path = join(out, 'document-10000.odt');
  if (existsSync(path)) return path;
  const next = random(2);
  const body = [];
  for (let each = 0; each < 10_000; each++) {
    if (each % 50 === 0)
      body.push(`<text:h text:outline-level="${1 + ((each / 50) % 2)}">Section ${each / 50 + 1}</text:h>`);
    body.push(
      `<text:p text:style-name="P1">${sentence(next, 12)} <text:span text:style-name="T1">${word(next)}</text:span> ${sentence(next, 16)}.</text:p>`,
    );
    if (each % 100 === 99)
      body.push(
        `<table:table>${`<table:table-row>${`<table:table-cell><text:p>${word(next)}</text:p></table:table-cell>`.repeat(4)}</table:table-row>`.repeat(5)}</table:table>`,
      );
  }
  const automatic =
    '<style:style style:name="P1" style:family="paragraph"><style:paragraph-properties fo:text-align="left"/></style:style><style:style style:name="T1" style:family="text"><style:text-properties fo:font-weight="bold"/></style:style>';
  writeZip(path, openParts('text', automatic, body.join('')));
  return path;
}

/** A drawer that holds 100,000 short snippets. */
export async function bigDrawer() {
  const path = join(out, 'hundred-thousand.drawer');
  if (existsSync(path)) return path;
  mkdirSync(out, { recursive: true });
  const { openDrawer } = await import('../dist/node/index.js');
  const next = random(3);
  const drawer = await openDrawer(path);
  const gathered = Array.from({ length: 100_000 }, (_, index) => ({
    content: { shape: 'run', inlines: [{ type: 'text', text: sentence(next, 20) }] },
    origin: { file: `survey-${index % 50}.docx`, place: `Section ${index % 9}` },
  }));
  await drawer.keep(gathered);
  await drawer.close();
  return path;
}

/** Five languages in four scripts, 12,000 words each by Zipf's law, and one written without spaces. */
const scripts = ['abcdefghiklmnoprstuvw', 'abdeéèghiîlmnoôprstuü', 'абвгдежзиклмнопрстуф', 'αβγδεζηθικλμνοπρστυφ'];
const signs = '渡船木材古橋川岸板材修理銅釘甲板船長運賃時刻表';

/** Makes words of each language, the same every time. */
export function languages() {
  const next = random(7);
  const vocabularies = scripts.map((letters) =>
    Array.from({ length: 12_000 }, () =>
      Array.from({ length: 2 + Math.floor(next() * 9) }, () => letters[Math.floor(next() * letters.length)]).join(''),
    ),
  );
  const wordIn = (language) => {
    const words = vocabularies[language];
    return words[Math.floor(words.length ** next()) - 1] ?? words[0];
  };
  const signsOf = (length) => Array.from({ length }, () => signs[Math.floor(next() * signs.length)]).join('');
  return { next, wordIn, signsOf };
}

/** 100,000 snippets in five languages. */
export async function manyLanguages() {
  const path = join(out, 'hundred-thousand-languages.drawer');
  if (existsSync(path)) return path;
  mkdirSync(out, { recursive: true });
  const { openDrawer } = await import('../dist/node/index.js');
  const { next, wordIn, signsOf } = languages();
  const drawer = await openDrawer(path);
  for (let batch = 0; batch < 100; batch++)
    await drawer.keep(
      Array.from({ length: 1000 }, (_, index) => {
        const language = Math.floor(next() * 5);
        const text = language === 4 ? signsOf(25) : Array.from({ length: 20 }, () => wordIn(language)).join(' ');
        return {
          content: { shape: 'run', inlines: [{ type: 'text', text }] },
          origin: { file: `survey-${index % 50}.docx`, place: `Section ${index % 9}` },
        };
      }),
    );
  await drawer.close();
  return path;
}

/** What somebody types, letter by letter: words of every language, some with a slip, some two at a time. */
export function keystrokes() {
  const { wordIn, signsOf } = languages();
  return Array.from({ length: 100 }, (_, query) => {
    const language = query % 5;
    if (language === 4) return signsOf(3);
    const words = Array.from({ length: 1 + (query % 2) }, () => wordIn(language));
    return query % 10 === 0 ? words[0].slice(0, 2) + words[0].slice(3) : words.join(' ');
  }).flatMap((words) => Array.from({ length: words.length }, (_, length) => words.slice(0, length + 1).trim()));
}

/** A drawer of about a gigabyte: a thousand snippets of a million letters each. */
export async function heavyDrawer() {
  const path = join(out, 'gigabyte.drawer');
  if (existsSync(path)) return path;
  mkdirSync(out, { recursive: true });
  const { openDrawer } = await import('../dist/node/index.js');
  const drawer = await openDrawer(path);
  await drawer.changeSettings({ size: 2 ** 32 });
  for (let index = 0; index < 1000; index++)
    await drawer.keep([
      {
        content: { shape: 'blocks', blocks: [{ type: 'code', text: `${index} ${'x'.repeat(1_000_000)}` }] },
        origin: {},
      },
    ]);
  await drawer.close();
  return path;
}

/** A hundred snippets. */
export async function smallDrawer() {
  const path = join(out, 'hundred.drawer');
  if (existsSync(path)) return path;
  mkdirSync(out, { recursive: true });
  const { openDrawer } = await import('../dist/node/index.js');
  const next = random(3);
  const drawer = await openDrawer(path);
  await drawer.keep(
    Array.from({ length: 100 }, () => ({
      content: { shape: 'run', inlines: [{ type: 'text', text: sentence(next, 20) }] },
      origin: { file: 'survey.docx' },
    })),
  );
  await drawer.close();
  return path;
}

/** Things to keep, the same every time. */
export function gatherings(count) {
  const next = random(5);
  return Array.from({ length: count }, (_, index) => ({
    content: { shape: 'run', inlines: [{ type: 'text', text: sentence(next, 20) }] },
    origin: { file: `survey-${index % 50}.docx` },
  }));
}

function writeZip(path, parts) {
  mkdirSync(out, { recursive: true });
  writeFileSync(
    path,
    zipSync(Object.fromEntries(Object.entries(parts).map(([name, text]) => [name, strToU8(text)])), {
      level: 6,
      mtime: '1980-01-01T00:00:00',
    }),
  );
}
