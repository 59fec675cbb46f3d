import { pack } from '../package/replace.ts';
import { escapeAttribute, escapeText } from '../xml/write-xml.ts';
import { writingNamespaces } from './package.ts';

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
