import { plural } from '../content/index.ts';

const units = [
  ['year', 365 * 86_400],
  ['month', 30 * 86_400],
  ['week', 7 * 86_400],
  ['day', 86_400],
  ['hour', 3_600],
  ['minute', 60],
] as const;

/** How long from now: `in 9 minutes`, `any moment now`. */
export function timeLeftInWords(until: string, now: Date): string {
  const seconds = Math.ceil((Date.parse(until) - now.getTime()) / 1000);
  const unit = [...units, ['second', 1] as const].find(([, length]) => seconds >= length);
  return unit ? `in ${plural(Math.round(seconds / unit[1]), unit[0])}` : 'any moment now';
}

/** How long ago, as people say it: `just now`, `3 minutes ago`. Without `Intl`, which takes longer to load than a list. */
export function ageInWords(takenAt: string, now: Date): string {
  const seconds = Math.max(0, (now.getTime() - Date.parse(takenAt)) / 1000);
  const unit = units.find(([, length]) => seconds >= length);
  return unit ? `${plural(Math.floor(seconds / unit[1]), unit[0])} ago` : 'just now';
}
