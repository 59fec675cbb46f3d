import type { Cell } from '../../../content/index.ts';
import { displayNumber, displayText, isDate, serialToIso } from './dates.ts';
import type { StoredCell } from './sheet.ts';
import { unescapeXstring } from './strings.ts';
import type { CellStyle } from './styles.ts';

/** What the rest of the workbook says about its cells. */
export interface CellContext {
  readonly styleOf: (index: number) => CellStyle;
  readonly strings: readonly string[];
  readonly epoch1904: boolean;
}

/** A stored cell with its typed value (ISO/IEC 29500-1, 18.18.11), as its workbook shows it. */
export function typedCell(stored: StoredCell, context: CellContext): Cell {
  const { format, ...look } = context.styleOf(stored.style);
  const shared = { ...look, ...(stored.formula !== '' && { formula: stored.formula }) };
  const displayed = { ...shared, ...(format !== undefined && { format }) };
  const { value } = stored;
  switch (stored.type) {
    case 's':
      return textCell(context.strings[Number(value)] ?? '', format, shared);
    case 'str':
      return textCell(unescapeXstring(value), format, shared);
    case 'inlineStr':
      return textCell(value, format, shared);
    case 'b':
      return {
        type: 'boolean',
        value: value === '1' || value === 'true',
        text: value === '1' || value === 'true' ? 'TRUE' : 'FALSE',
        ...displayed,
      };
    case 'e':
      return { type: 'error', value, ...shared };
    case 'd':
      return {
        type: 'date',
        value: value.replace(/Z$/, '').replace(/T00:00:00(?:\.0+)?$/, ''),
        text: value.replace('T', ' '),
        ...displayed,
      };
    default:
      return numberCell(value, format, displayed, context.epoch1904);
  }
}

type Look = Omit<CellStyle, 'format'> & { readonly formula?: string };

const textCell = (value: string, format: string | undefined, look: Look): Cell =>
  value === ''
    ? { type: 'empty', ...look }
    : { type: 'text', value: format === undefined || format === '@' ? value : displayText(value, format), ...look };

function numberCell(
  value: string,
  format: string | undefined,
  look: Look & { readonly format?: string },
  epoch1904: boolean,
): Cell {
  const number = Number(value);
  if (value.trim() === '' || !Number.isFinite(number)) {
    const { format: _, ...empty } = look;
    return { type: 'empty', ...empty };
  }
  const text = displayNumber(number, format, epoch1904);
  const date = format !== undefined && isDate(format) ? serialToIso(number, epoch1904) : undefined;
  return date === undefined
    ? { type: 'number', value: number, text, ...look }
    : { type: 'date', value: date, text, ...look };
}
