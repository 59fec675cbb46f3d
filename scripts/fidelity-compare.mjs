// How what Drawer takes is compared with what another program wrote.
import Papa from 'papaparse';
import { offsets } from '../dist/content/index.js';
import { plainText } from '../dist/index.js';

/** Words and numbers, however they are joined or marked. */
const wordsOf = (text) =>
  text
    .normalize('NFKC')
    .replace(/[\u00ad\u200b-\u200f\u202a-\u202e\u2060-\u2064\ufeff\ufffc]/g, '')
    .match(/[\p{L}\p{N}]+/gu) ?? [];

const bag = (words) => {
  const counts = new Map();
  for (const word of words) counts.set(word, (counts.get(word) ?? 0) + 1);
  return counts;
};

/** Words of the other reader's text that are not in ours. */
export async function compareWords(take, texts) {
  const [text] = texts.values();
  const { content } = await take({ kind: 'whole' });
  const ours = bag(wordsOf(plainText(content)));
  const theirs = bag(wordsOf(text));
  const missing = [];
  let units = 0;
  for (const [word, count] of theirs) {
    units += count;
    const isNumbering = /^(?:\d{1,3}|[ivxlcdm]{1,6}|[a-z])$/i.test(word);
    const lost = count - (ours.get(word) ?? 0);
    if (lost > 0 && !isNumbering) missing.push(...Array.from({ length: lost }, () => word));
  }
  return { units, missing };
}

/** What gives the cell at a distance from a range's first, gaps counted. */
function cellsByPlace(content) {
  if (content.shape !== 'cells') return () => undefined;
  const indexes = (held, gaps) => new Map(offsets(held, gaps).map((offset, index) => [offset, index]));
  const rows = indexes(content.rows.length, content.gaps?.rows);
  const columns = indexes(content.rows[0]?.length ?? 0, content.gaps?.columns);
  return (row, column) => content.rows[rows.get(row) ?? -1]?.[columns.get(column) ?? -1];
}

/** Cells that the other reader shows otherwise, sheet by sheet. */
export async function compareCells(take, texts) {
  const missing = [];
  let units = 0;
  for (const [sheet, text] of texts) {
    const theirs = Papa.parse(text.replace(/\n$/, '')).data;
    const { content } = await take(
      sheet === '' || texts.size === 1
        ? await onlySheet(take, sheet)
        : {
            kind: 'cells',
            sheet,
            rows: span(theirs.length),
            columns: span(Math.max(...theirs.map((row) => row.length))),
          },
    );
    const ours = cellsByPlace(content);
    theirs.forEach((row, at) => {
      row.forEach((shown, column) => {
        if (shown.trim() === '') return;
        units++;
        const cell = ours(at, column);
        const own =
          cell === undefined ? '' : cell.type === 'text' || cell.type === 'error' ? cell.value : (cell.text ?? '');
        if (!isSame(own, shown, cell?.type))
          missing.push(
            `${sheet}!${column + 1},${at + 1}: ours “${own}” (${cell?.type}, ${cell?.format ?? 'General'}), theirs “${shown}”`,
          );
      });
    });
  }
  return { units, missing };
}

const span = (to) => ({ from: 1, to: Math.max(1, to) });
const onlySheet = async (_take, sheet) => ({
  kind: 'cells',
  ...(sheet !== '' && { sheet }),
  rows: span(1_048_576),
  columns: span(1024),
});

const plain = (text) =>
  text
    .normalize('NFKC')
    .replace(/[\s\u00a0\u202f]+/g, '')
    .replace(/−/g, '-')
    .toLowerCase();
const digits = (text) => plain(text).replace(/[.,'’]/g, '');
const groups = (text) =>
  (text.match(/\d+/g) ?? [])
    .map(Number)
    .sort((one, other) => one - other)
    .join(' ');

/**
 * Whether two programs show the same. They may write it for readers of different languages (`1,5` and `1.5`, the day or the
 * month first) and a number without a format with more or fewer digits.
 */
function isSame(own, shown, type) {
  if (digits(own) === digits(shown)) return true;
  if (type === 'date' && groups(own) === groups(shown)) return true;
  if (type !== 'number') return false;
  const [one, other] = [own, shown].map((text) => Number(plain(text).replace(',', '.')));
  return Math.abs(one - other) <= 1e-7 * Math.max(Math.abs(one), Math.abs(other));
}
