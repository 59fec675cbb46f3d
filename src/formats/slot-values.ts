import { DrawerError } from '../content/index.ts';
import type { Slot, SlotValue } from './format.ts';

/**
 * Whether a value is one that a slot can hold: a box takes true or false, a choice one of its own.
 * @throws DrawerError `invalid`, with the slot's name.
 */
export function checkFits({ kind, names, key, choices = [] }: Slot, value: SlotValue): void {
  const where = names[0] ?? key;
  if (kind === 'check' && typeof value !== 'boolean') throw new DrawerError('invalid/field-is-box', {}, { where });
  if (kind === 'choice' && !choices.includes(String(value)))
    throw new DrawerError(
      'invalid/field-choice-unknown',
      { value: String(value).slice(0, 40), choices: choices.slice(0, 12) },
      { where },
    );
}
