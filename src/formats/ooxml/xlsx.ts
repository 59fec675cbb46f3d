import type { Format } from '../format.ts';
import { outlineXlsx, takeXlsx } from './xlsx/read.ts';

/** Workbooks: ISO/IEC 29500, Transitional and Strict. */
export const xlsx = { name: 'xlsx', outline: outlineXlsx, take: takeXlsx } satisfies Format;
