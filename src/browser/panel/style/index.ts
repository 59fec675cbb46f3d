import { common, wishes } from './common.ts';
import { front } from './front.ts';
import { sheet } from './sheet.ts';
import { tray } from './tray.ts';

/** The drawer of paper slips: a tray in a wooden front. */
export const style = [common, tray, front, sheet, wishes];
