import { common, wishes } from './common.ts';
import { sheet } from './sheet.ts';
import { toolbar } from './toolbar.ts';
import { tray } from './tray.ts';

/** The drawer: its head, its tray of slips, and a line of actions. */
export const style = [common, tray, toolbar, sheet, wishes];
