import { DrawerError, parseWith } from '../content/index.ts';
import type { Change } from './change.ts';
import { oldestUnheld } from './room.ts';
import { readSettings, type Settings, settingsSchema } from './settings.ts';
import type { StoredRows } from './storage.ts';
import { consentNeeded } from './take-out.ts';

/** Sets some, and lets go what there is no room for any more. @throws DrawerError `invalid`; `consent` unless it may go, it names them. */
export async function settingsChanges(
  rows: StoredRows,
  given: Partial<Settings>,
  letGo: boolean,
): Promise<readonly Change[]> {
  const some = parseWith(settingsSchema, given, 'rule');
  const unknown = Object.keys(given).find((name) => !(name in some));
  if (unknown !== undefined) throw new DrawerError('invalid/rule-unknown', { name: unknown });
  const { capacity, size, full } = { ...(await readSettings(rows)), ...some };
  const over = [(await rows.count()) - capacity, (await rows.bytes()) - size] as const;
  const isOver = full === 'let-go' && Math.max(...over) > 0 && ('capacity' in some || 'size' in some || 'full' in some);
  const going = isOver ? ((await oldestUnheld(rows, ...over)) ?? []) : [];
  if (going.length > 0 && !letGo) throw consentNeeded(going);
  return [{ type: 'settings', set: { ...some } }, ...going.map(({ id }): Change => ({ type: 'remove', id }))];
}
