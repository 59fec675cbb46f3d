import { type Zippable, zipSync } from 'fflate';

/** Parts by name, packed in the order given. Pictures come packed already, so they are stored. */
export function pack(parts: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const files: Zippable = {};
  for (const [name, bytes] of parts)
    files[name] = [bytes, { level: /\.(png|jpg|gif|webp)$/.test(name) ? 0 : 6, mtime: '1980-01-01T00:00:00' }];
  return zipSync(files);
}
