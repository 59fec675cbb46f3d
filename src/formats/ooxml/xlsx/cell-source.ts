import type { Cell } from '../../../content/index.ts';
import { momentSerial } from '../../sheets/display.ts';
import { isErrorValue } from '../../sheets/formulas.ts';
import { escapeText } from '../../xml/write-xml.ts';

interface CellPlace {
  readonly prefix: string;
  readonly address: string;
  /** The number of its format among those of the workbook. */
  readonly format: number;
  readonly epoch1904: boolean;
}

/** A cell with its typed value (ISO/IEC 29500-1, 18.3.1.4): words stand in it, so that no other part changes for them. */
export function cellSource(cell: Cell, { prefix: p, address, format, epoch1904 }: CellPlace): string {
  const open = `<${p}c r="${address}"${format === 0 ? '' : ` s="${format}"`}`;
  const valued = (value: string | number, type = ''): string =>
    `${open}${type && ` t="${type}"`}><${p}v>${value}</${p}v></${p}c>`;
  const words = (value: string): string =>
    `${open} t="inlineStr"><${p}is><${p}t xml:space="preserve">${escapeText(escapeXstring(value))}</${p}t></${p}is></${p}c>`;
  switch (cell.type) {
    case 'empty':
      return `${open}/>`;
    case 'text':
      return words(cell.value);
    case 'number':
      return valued(cell.value);
    case 'boolean':
      return valued(cell.value ? 1 : 0, 'b');
    case 'error':
      return isErrorValue(cell.value) ? valued(cell.value, 'e') : words(cell.value);
    case 'date':
      return valued(momentSerial(cell.value, epoch1904));
  }
}

/** ST_Xstring (22.9.2.19): what looks like one of its escapes is escaped itself. */
const escapeXstring = (words: string): string => words.replace(/_(?=x[0-9A-Fa-f]{4}_)/g, '_x005F_');
