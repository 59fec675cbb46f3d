import { DrawerError } from '../../../content/index.ts';
import { checkUnsigned } from '../../package/package-edit.ts';
import { partBytes } from '../../package/zip.ts';
import { decodeExactly } from '../../text/encoding.ts';
import { type OpcPackage, readRelationships, relatedPart } from '../opc.ts';

/**
 * Refuses a document that nobody wants changed: a signed one, or one that is protected (ISO/IEC 29500-1, 17.15.1.29). One
 * that is protected but for its form fields may be filled.
 * @throws DrawerError `unsupported`
 */
export async function checkMayChange({ zip, main }: OpcPackage, { fills = false } = {}): Promise<void> {
  checkUnsigned(zip);
  const part = relatedPart(zip, await readRelationships(zip, main), 'settings');
  const bytes = part === undefined ? undefined : await partBytes(zip, part);
  if (!bytes) return;
  const [protection] = /<(?:[\w.-]+:)?documentProtection\s[^<>]*>/.exec(decodeExactly(bytes).text) ?? [];
  if (protection === undefined || !/enforcement=["'](?:1|true|on)["']/.test(protection)) return;
  if (fills && /\bedit=["']forms["']/.test(protection)) return;
  throw new DrawerError('unsupported/document-protected');
}
