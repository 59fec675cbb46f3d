import { common, wishes } from './common.ts';
import { sheet } from './sheet.ts';
import { toolbar } from './toolbar.ts';
import { tray } from './tray.ts';

/** The drawer of paper slips: a tray in a wooden front. */
export const style = [common, tray, toolbar, sheet, wishes];
