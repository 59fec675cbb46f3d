import { decodeDataUri } from './data-uri.ts';
import type { ReadTools } from './format.ts';

/**
 * The bytes of a picture that a page or text points to: in a `data:` URI, or in a file beside it where the caller reads
 * those. Nothing is fetched from anywhere else.
 */
export async function fetchPicture(address: string, tools: ReadTools = {}): Promise<Uint8Array | undefined> {
  const inside = decodeDataUri(address);
  if (inside || !tools.beside || /^[a-z][a-z0-9+.-]*:|^\/|^\\|^#/i.test(address)) return inside;
  const [path = ''] = address.split(/[?#]/);
  const name = decoded(path);
  return name === '' || name.split(/[\\/]/).includes('..') ? undefined : tools.beside(name);
}

function decoded(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return path;
  }
}
