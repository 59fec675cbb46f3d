/** Stretches of bytes as one; a single one as it is. */
export function concat(parts: readonly Uint8Array[]): Uint8Array {
  const [only] = parts;
  if (only && parts.length === 1) return only;
  const all = new Uint8Array(parts.reduce((size, part) => size + part.length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}
