import { columnNumber } from '../../../places/index.ts';
import { partBytes } from '../../package/zip.ts';
import { decodeExactly, encodeText } from '../../text/encoding.ts';
import { contentTypes, relatedPart, relationshipsOf } from '../opc.ts';
import type { EmptiedCell } from './empty-cells.ts';
import type { Book } from './read.ts';

/**
 * The list of formulas in the order they are worked out (ISO/IEC 29500-1, 18.6) without those that went: a workbook whose
 * list names a cell without a formula is broken. When none is left, the list and what points to it go.
 */
export async function withoutCalculations(
  { zip, main, relationships }: Book,
  emptied: readonly EmptiedCell[],
): Promise<Map<string, Uint8Array | undefined>> {
  const changes = new Map<string, Uint8Array | undefined>();
  const part = relatedPart(zip, relationships, 'calcChain');
  const entry = part === undefined ? undefined : zip.find(part);
  const gone = emptied.filter(({ hadFormula }) => hadFormula);
  if (!entry || gone.length === 0) return changes;
  const keys = new Set(gone.map(({ sheet, column, row }) => `${sheet.id} ${column} ${row}`));
  const decoded = decodeExactly((await partBytes(zip, entry.name)) ?? new Uint8Array());
  let sheetId = '';
  let left = 0;
  const text = decoded.text.replace(
    /<([\w.-]*:?)c(\s[^<>]*?)(?:\/>|><\/\1c>)/g,
    (whole, _prefix, attributes: string) => {
      sheetId = /\bi="(\d+)"/.exec(attributes)?.[1] ?? sheetId; // it holds for those that follow
      const [, letters = '', digits = ''] = /\br="([A-Z]+)(\d+)"/.exec(attributes) ?? [];
      const column = columnNumber(letters);
      if (keys.has(`${sheetId} ${column} ${digits}`)) return '';
      left++;
      return /\bi="/.test(attributes) ? whole : whole.replace(/<([\w.-]*:?)c\s/, `<$1c i="${sheetId}" `);
    },
  );
  if (left > 0) return changes.set(entry.name, encodeText(text, decoded));
  changes.set(entry.name, undefined);
  await edit(relationshipsOf(main), /<[\w.-]*:?Relationship\s[^<>]*\/calcChain"[^<>]*\/>/);
  await edit(contentTypes, /<[\w.-]*:?Override\s[^<>]*calcChain\+xml"[^<>]*\/>/);
  return changes;

  async function edit(name: string, pattern: RegExp): Promise<void> {
    const found = zip.find(name);
    const whole = decodeExactly((await partBytes(zip, name)) ?? new Uint8Array());
    if (found) changes.set(found.name, encodeText(whole.text.replace(pattern, ''), whole));
  }
}
