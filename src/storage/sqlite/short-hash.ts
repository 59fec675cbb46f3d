const [basis, prime] = [0x811c9dc5, 0x01000193];

/**
 * FNV-1a of 32 bits (draft-eastlake-fnv, section 2) over code units, in base 36: what an index holds of long words. It only
 * spares looking at nearly all others, and hides nothing.
 */
export function shortHash(words: string): string {
  let hash = basis;
  for (let at = 0; at < words.length; at++) hash = Math.imul(hash ^ words.charCodeAt(at), prime);
  return (hash >>> 0).toString(36);
}
