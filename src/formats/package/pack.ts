import { type Zippable, zipSync } from 'fflate';

/** Parts by name, packed in the order given. Pictures come packed already, so they are stored, and so is the type of an OpenDocument file (ISO/IEC 26300-3, 3.3). */
export function pack(parts: ReadonlyMap<string, Uint8Array>): Uint8Array {
  const files: Zippable = {};
  for (const [name, bytes] of parts)
    files[name] = [
      bytes,
      { level: /\.(png|jpg|gif|webp)$|^mimetype$/.test(name) ? 0 : 6, mtime: '1980-01-01T00:00:00' },
    ];
  return zipSync(files);
}
