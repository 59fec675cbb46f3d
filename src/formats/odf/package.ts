import { DrawerError } from '../../content/index.ts';
import type { ReadTools, Source } from '../format.ts';
import { pack } from '../package/replace.ts';
import { openZip, type Zip } from '../package/zip.ts';
import { type Namespaces, readXml, type XmlHandler } from '../xml/read-xml.ts';
import { escapeAttribute, escapeText } from '../xml/write-xml.ts';

export const contentPart = 'content.xml';

/**
 * An OpenDocument package (ISO/IEC 26300-3).
 * @throws DrawerError `unreadable` when it is protected by a password or holds no content.
 */
export async function openOdf(source: Source, tools: ReadTools = {}): Promise<Zip> {
  const zip = await openZip(source, tools);
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

const own = (name: string): string => `urn:oasis:names:tc:opendocument:xmlns:${name}:1.0`;

/** The namespaces of ISO/IEC 26300-1, by the prefixes we know them under. */
export const namespaces: Namespaces = new Map([
  ...[
    'office',
    'style',
    'text',
    'table',
    'number',
    'presentation',
    'form',
    'script',
    'manifest',
    'config',
    'chart',
  ].map((name): [string, string] => [own(name), name]),
  [own('drawing'), 'draw'],
  [own('datastyle'), 'number'],
  [own('xsl-fo-compatible'), 'fo'],
  [own('svg-compatible'), 'svg'],
  // Programs from before the standard was one said these with the namespaces that they are modelled on.
  ['http://www.w3.org/1999/XSL/Format', 'fo'],
  ['http://www.w3.org/2000/svg', 'svg'],
  ['http://www.w3.org/1999/xlink', 'xlink'],
  ['http://www.w3.org/1998/Math/MathML', 'math'],
  ['urn:openoffice:names:experimental:ooo-ms-interop:xmlns:field:1.0', 'field'],
  ['urn:org:documentfoundation:names:experimental:office:xmlns:loext:1.0', 'loext'],
  ['urn:org:documentfoundation:names:experimental:calc:xmlns:calcext:1.0', 'calcext'],
]);

/** Those of what we write, as declarations. */
export const writingNamespaces: Record<string, string> = {
  'xmlns:office': own('office'),
  'xmlns:style': own('style'),
  'xmlns:text': own('text'),
  'xmlns:table': own('table'),
  'xmlns:draw': own('drawing'),
  'xmlns:fo': own('xsl-fo-compatible'),
  'xmlns:svg': own('svg-compatible'),
  'xmlns:xlink': 'http://www.w3.org/1999/xlink',
};

const declarations = Object.entries({
  ...writingNamespaces,
  'xmlns:number': 'urn:oasis:names:tc:opendocument:xmlns:datastyle:1.0',
  'xmlns:dc': 'http://purl.org/dc/elements/1.1/',
  'xmlns:meta': 'urn:oasis:names:tc:opendocument:xmlns:meta:1.0',
})
  .map(([name, uri]) => `${name}="${uri}"`)
  .join(' ');

const part = (source: string): Uint8Array =>
  new TextEncoder().encode(`<?xml version="1.0" encoding="UTF-8"?>\n${source}`);

export interface Blank {
  readonly kind: 'text' | 'spreadsheet';
  /** The inside of the body. */
  readonly body: string;
  readonly styles: string;
  readonly title?: string | undefined;
  readonly language?: string | undefined;
}

/** The least that an OpenDocument file is (ISO/IEC 26300-3, 3). */
export function blankPackage({ kind, body, styles, title, language }: Blank): Uint8Array {
  const type = `application/vnd.oasis.opendocument.${kind}`;
  const file = (path: string, mediaType: string): string =>
    `<manifest:file-entry manifest:full-path="${path}" manifest:media-type="${mediaType}"/>`;
  const facts = `${title === undefined ? '' : `<dc:title>${escapeText(title)}</dc:title>`}${language === undefined ? '' : `<dc:language>${escapeAttribute(language)}</dc:language>`}`;
  return pack(
    new Map([
      ['mimetype', new TextEncoder().encode(type)],
      [
        'content.xml',
        part(
          `<office:document-content ${declarations} office:version="1.3"><office:automatic-styles/><office:body><office:${kind}>${body}</office:${kind}></office:body></office:document-content>`,
        ),
      ],
      [
        'styles.xml',
        part(`<office:document-styles ${declarations} office:version="1.3">${styles}</office:document-styles>`),
      ],
      [
        'meta.xml',
        part(
          `<office:document-meta ${declarations} office:version="1.3"><office:meta>${facts}</office:meta></office:document-meta>`,
        ),
      ],
      [
        'META-INF/manifest.xml',
        part(
          `<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.3">${file('/', type)}${file('content.xml', 'text/xml')}${file('styles.xml', 'text/xml')}${file('meta.xml', 'text/xml')}</manifest:manifest>`,
        ),
      ],
    ]),
  );
}
