import type { Media, Picture } from '../../content/index.ts';
import type { PackageEdit } from '../package/package-edit.ts';
import { extensionOf } from '../pictures.ts';
import { escapeAttribute } from '../xml/write-xml.ts';

export const manifestPart = 'META-INF/manifest.xml';

/** Names a new part in the list of parts (ISO/IEC 26300-3, 4.3). */
function addToManifest(edit: PackageEdit, part: string, mediaType: string): void {
  const text = edit.findText(manifestPart);
  const end = text?.lastIndexOf('</manifest:manifest>') ?? -1;
  if (text === undefined || end < 0) return;
  const entry = `<manifest:file-entry manifest:full-path="${escapeAttribute(part)}" manifest:media-type="${mediaType}"/>`;
  edit.setText(manifestPart, text.slice(0, end) + entry + text.slice(end));
}

/** Puts a picture's bytes into the package; gives their address, `undefined` where they are not at hand. */
export function addPicturePart(edit: PackageEdit, { media, mediaType }: Picture, all: Media): string | undefined {
  const bytes = all.get(media);
  if (!bytes) return undefined;
  const part = `Pictures/${media.slice(0, 32)}.${extensionOf(mediaType)}`;
  if (!edit.has(part)) {
    edit.setBytes(part, bytes);
    addToManifest(edit, part, mediaType);
  }
  return part;
}

/** The source of the style of a name; empty where the part has none. */
export const styleSource = (text: string, name: string): string =>
  new RegExp(
    `<style:style\\s(?=[^<>]*style:name="${escapeAttribute(name)}")[^<>]*(?:/>|>[\\s\\S]*?</style:style>)`,
  ).exec(text)?.[0] ?? '';

/** The content part with further automatic styles (ISO/IEC 26300-1, 3.15.3). */
export function withAutomaticStyles(text: string, styles: string): string {
  if (styles === '') return text;
  const close = text.indexOf('</office:automatic-styles>');
  if (close >= 0) return text.slice(0, close) + styles + text.slice(close);
  const empty = /<office:automatic-styles\s*\/>/.exec(text);
  const made = `<office:automatic-styles>${styles}</office:automatic-styles>`;
  if (empty) return text.replace(empty[0], made);
  const body = text.indexOf('<office:body');
  return body < 0 ? text : text.slice(0, body) + made + text.slice(body);
}
