import { DrawerError } from '../../content/index.ts';
import type { Zip } from './zip.ts';

/**
 * Refuses packages that must not change.
 * @throws DrawerError `unsupported` for a signed one.
 */
export function checkUnsigned(zip: Zip): void {
  if (zip.entries.some(({ name }) => name.startsWith('_xmlsignatures/') || /^META-INF\/documentsignatures/i.test(name)))
    throw new DrawerError('unsupported/package-signed');
}
