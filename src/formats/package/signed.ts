import { DrawerError } from '../../content/index.ts';
import type { Zip } from './zip.ts';

/**
 * Refuses packages that must not change.
 * @throws DrawerError `unsupported` for a signed one.
 */
export function checkUnsigned(zip: Zip): void {
  if (zip.entries.some(({ name }) => name.startsWith('_xmlsignatures/') || /^META-INF\/documentsignatures/i.test(name)))
    throw new DrawerError({
      code: 'unsupported',
      what: 'The file is signed, and a change would break the signature',
      next: 'Use a copy without it; nothing was written',
    });
}
