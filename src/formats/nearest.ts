import { distance } from 'fastest-levenshtein';

/** The candidate that differs least from what was asked for, upper and lower case alike; one that contains it wins. */
export function nearest(asked: string, candidates: readonly string[]): string | undefined {
  const wanted = asked.toLowerCase();
  const cost = (candidate: string): number => {
    const other = candidate.toLowerCase();
    return other.includes(wanted) || wanted.includes(other)
      ? 0.5
      : distance(wanted, other) / Math.max(wanted.length, other.length);
  };
  let best: { candidate: string; cost: number } | undefined;
  for (const candidate of candidates) {
    const candidateCost = distance(wanted, candidate.toLowerCase()) === 0 ? 0 : cost(candidate);
    if (!best || candidateCost < best.cost) best = { candidate, cost: candidateCost };
  }
  return best?.candidate;
}
