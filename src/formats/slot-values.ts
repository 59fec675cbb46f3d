import { DrawerError } from '../content/index.ts';
import type { Slot, SlotValue } from './format.ts';

/**
 * Whether a value is one that a slot can hold: a box takes true or false, a choice one of its own.
 * @throws DrawerError `invalid`, with the slot's name.
 */
export function checkFits({ kind, names, key, choices = [] }: Slot, value: SlotValue): void {
  const where = names[0] ?? key;
  if (kind === 'check' && typeof value !== 'boolean')
    throw new DrawerError({
      code: 'invalid',
      what: 'A box is ticked or not, and takes no words',
      where,
      next: 'Give true or false; nothing was written',
    });
  if (kind === 'choice' && !choices.includes(String(value)))
    throw new DrawerError({
      code: 'invalid',
      what: `“${String(value).slice(0, 40)}” is none of its choices`,
      where,
      next: `It takes ${choices.slice(0, 12).join(', ')}; nothing was written`,
    });
}
