import type { Message } from '../content/index.ts';
import { isPaused, type Settings, untilTold } from './settings.ts';

/** How long gathering is paused, as the problem it makes; `undefined` where it goes on. */
export function pauseOf(settings: Settings, now: Date): Message | undefined {
  if (!isPaused(settings, now)) return undefined;
  const kind = 'problem.gathering-paused';
  if (settings.paused === untilTold) return { kind };
  return { kind, params: { count: Math.ceil((Date.parse(settings.paused ?? '') - now.getTime()) / 60_000) } };
}
