import type { Change } from './change.ts';
import { wouldLetGo } from './refusals.ts';
import { oldestUnheld } from './room.ts';
import { readSettings, type Settings } from './settings.ts';
import type { StoredRows } from './storage.ts';

/** Sets some, and lets go what there is no room for any more. @throws DrawerError `consent` unless it may go; it names them. */
export async function settingsChanges(
  rows: StoredRows,
  some: Partial<Settings>,
  letGo: boolean,
): Promise<readonly Change[]> {
  const { capacity, size, full } = { ...(await readSettings(rows)), ...some };
  const over = [(await rows.count()) - capacity, (await rows.bytes()) - size] as const;
  const isOver = full === 'let-go' && Math.max(...over) > 0 && ('capacity' in some || 'size' in some || 'full' in some);
  const going = isOver ? ((await oldestUnheld(rows, ...over)) ?? []) : [];
  if (going.length > 0 && !letGo) throw wouldLetGo(going);
  return [{ type: 'settings', set: { ...some } }, ...going.map(({ id }): Change => ({ type: 'remove', id }))];
}
