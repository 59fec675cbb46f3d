import { DrawerError } from '../../content/index.ts';
import type { ReadTools, Source } from '../format.ts';
import { openZip, type Zip } from '../package/zip.ts';
import { type Namespaces, readXml, type XmlHandler } from '../xml/read-xml.ts';
import { namespaces } from './namespaces.ts';

export const contentPart = 'content.xml';

/**
 * An OpenDocument package (ISO/IEC 26300-3).
 * @throws DrawerError `unreadable` when it is protected by a password or holds no content.
 */
export async function openOdf(source: Source, tools: ReadTools = {}): Promise<Zip> {
  const zip = await openZip(source, tools.inflate);
  if (!zip.find(contentPart)) throw new DrawerError('unreadable/zip-not-opendocument');
  let encrypted = false;
  await readOdfPart(zip, 'META-INF/manifest.xml', {
    open: (name) => {
      encrypted ||= name === 'manifest:encryption-data';
    },
    close: () => {},
  });
  if (encrypted) throw new DrawerError('unreadable/file-encrypted');
  return zip;
}

/** Reads a part into the handler; an absent one holds nothing. */
export async function readOdfPart(
  zip: Zip,
  part: string,
  handler: XmlHandler,
  prefixes: Namespaces = namespaces,
): Promise<void> {
  const entry = zip.find(part);
  if (entry) await readXml(zip.chunks(entry), entry.name, prefixes, handler);
}

/** The whole of a part, at an address relative to the package, such as `Pictures/1.png` or `./Object 1`. */
export function partName(address: string): string {
  try {
    return decodeURIComponent(address).replace(/^\.\//, '');
  } catch {
    return address.replace(/^\.\//, '');
  }
}
