import { parseFragment, plainText } from 'drawer';
import { formatNamed, sourceOf } from 'drawer/formats';
import * as fc from 'fast-check';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { openDocument } from '../support/office.ts';

const word = fc.string({
  unit: fc.constantFrom('a', 'é', '&amp;', '&lt;', '&#65;', '&quot;', '\u{1F600}'),
  minLength: 1,
  maxLength: 6,
});
const row = fc.array(word, { minLength: 1, maxLength: 4 });
const sheet = fc.array(row, { minLength: 1, maxLength: 6 });

const take = async (bytes: Uint8Array): Promise<string> => {
  const format = await formatNamed('ods').load();
  const taken = await format.read?.(sourceOf(bytes, 'x.ods'), parseFragment(''));
  return plainText((taken as { content: Parameters<typeof plainText>[0] }).content);
};

/** The same file with its content written in another way. */
async function rewritten(rows: readonly (readonly string[])[], write: (xml: string) => string): Promise<Uint8Array> {
  const cell = (words: string): string =>
    `<table:table-cell office:value-type="string" office:string-value="${words}"><text:p>${words}</text:p></table:table-cell>`;
  const body = `<table:table table:name="S">${rows.map((cells) => `<table:table-row>${cells.map(cell).join('')}</table:table-row>`).join('')}</table:table>`;
  const source = openDocument('spreadsheet', { body });
  const parts = unzipSync(await source.read(0, source.size));
  return zipSync({ ...parts, 'content.xml': strToU8(write(strFromU8(parts['content.xml'] as Uint8Array))) });
}

/** Read by the checking reader, since prefixes are not the usual ones. */
const otherPrefixes = (xml: string): string =>
  xml
    .replaceAll('table:', 'tbl:')
    .replaceAll('xmlns:table=', 'xmlns:tbl=')
    .replace('opendocument:xmlns:tbl:1.0', 'opendocument:xmlns:table:1.0');

it.each<[string, (xml: string) => string]>([
  ['with other prefixes', otherPrefixes],
  ['with single quotes', (xml) => xml.replace(/="([^"']*)"/g, "='$1'")],
  ['with spaces in its tags', (xml) => xml.replaceAll('/>', ' />').replace(/<(table:table-cell)/g, '<$1\n  ')],
  [
    'with comments and instructions',
    (xml) => `<?xml version="1.0"?>${xml.replaceAll('<table:table-row>', '<!-- a > b --><?x y?><table:table-row>')}`,
  ],
  [
    'with a bracket inside a value',
    (xml) => xml.replaceAll('<table:table-row>', '<table:table-row table:style-name="a>b">'),
  ],
  ['with character data', (xml) => xml.replace(/<text:p>([^<&]*)<\/text:p>/, '<text:p><![CDATA[$1]]></text:p>')],
])('a spreadsheet written %s is the same', async (_, write) => {
  await fc.assert(
    fc.asyncProperty(sheet, async (rows) => {
      expect(await take(await rewritten(rows, write))).toBe(await take(await rewritten(rows, (xml) => xml)));
    }),
    { numRuns: 25 },
  );
});

it.each<[string, (xml: string) => string]>([
  ['is cut off', (xml) => xml.slice(0, -40)],
  ['closes what is not open', (xml) => xml.replace('</table:table-row>', '</table:table-rows>')],
  ['declares entities', (xml) => `<!DOCTYPE x [<!ENTITY a "b">]>${xml}`],
  ['is nested to attack the reader', (xml) => xml.replace('<table:table-row>', '<a>'.repeat(3000))],
])('one that %s is one clear error', async (_, write) => {
  await expect(take(await rewritten([['a']], write))).rejects.toMatchObject({
    name: 'DrawerError',
    code: expect.stringMatching(/unreadable|too-large/),
  });
});
