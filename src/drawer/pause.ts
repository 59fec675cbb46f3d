import { plural } from '../content/index.ts';
import { type Settings, untilTold } from './settings.ts';

/** Whether gathering goes on, in words: `Gathering is paused until told`. */
export const pauseInWords = ({ paused }: Settings, now: Date): string => {
  if (paused === undefined || (paused !== untilTold && Date.parse(paused) <= now.getTime())) return 'Gathering goes on';
  return paused === untilTold
    ? 'Gathering is paused until told'
    : `Gathering is paused for another ${plural(Math.ceil((Date.parse(paused) - now.getTime()) / 60_000), 'minute')}`;
};
