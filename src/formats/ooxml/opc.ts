import { DrawerError } from '../../content/index.ts';
import type { ReadTools, Source } from '../format.ts';
import { openZip, type Zip } from '../package/zip.ts';
import { type Namespaces, readXml, type XmlHandler } from '../xml/read-xml.ts';

/** Open Packaging Conventions (ISO/IEC 29500-2): parts, and the relationships by which one names another. */
export interface OpcPackage {
  readonly zip: Zip;
  /** Where the main part lies, without a leading slash. */
  readonly main: string;
}

export interface Relationship {
  /** The last segment of its type, such as `styles` or `hyperlink`: the same in Transitional and Strict. */
  readonly type: string;
  /** A part's name, or an address outside when `external`. */
  readonly target: string;
  readonly external: boolean;
}

export type Relationships = ReadonlyMap<string, Relationship>;

export const relationshipNamespaces: Namespaces = new Map([
  ['http://schemas.openxmlformats.org/package/2006/relationships', ''],
]);

/** @throws DrawerError `unreadable` when the container is no office document. */
export async function openPackage(source: Source, tools: ReadTools = {}): Promise<OpcPackage> {
  const zip = await openZip(source, tools, true);
  const relationships = await readRelationships(zip, '');
  const main = [...relationships.values()].find(({ type }) => type === 'officeDocument')?.target;
  if (main === undefined || !zip.find(main)) {
    throw new DrawerError('unreadable/zip-not-office');
  }
  return { zip, main };
}

/** The part that lists the types of all parts (ISO/IEC 29500-2, 7.2.3). */
export const contentTypes = '[Content_Types].xml';

/** The part that holds the relationships of another (ISO/IEC 29500-2, 6.5.2). */
export function relationshipsOf(part: string): string {
  const slash = part.lastIndexOf('/');
  return `${part.slice(0, slash + 1)}_rels/${part.slice(slash + 1)}.rels`;
}

/** The relationships of a part; none when it has no list of them. The empty name is the package itself. */
export async function readRelationships(zip: Zip, part: string): Promise<Relationships> {
  const found = new Map<string, Relationship>();
  await readPart(zip, relationshipsOf(part), relationshipNamespaces, {
    open: (name, { Id, Type = '', Target = '', TargetMode }) => {
      if (name !== 'Relationship' || Id === undefined) return;
      const external = TargetMode === 'External';
      found.set(Id, {
        type: Type.slice(Type.lastIndexOf('/') + 1),
        target: external ? Target : resolveTarget(part, Target),
        external,
      });
    },
    close: () => {},
  });
  return found;
}

/** The first related part of a type that is really there. */
export function relatedPart(zip: Zip, relationships: Relationships, type: string): string | undefined {
  for (const relationship of relationships.values()) {
    if (relationship.type === type && !relationship.external && zip.find(relationship.target))
      return relationship.target;
  }
  return undefined;
}

/** Reads a part into the handler; an absent one holds nothing. */
export async function readPart(
  zip: Zip,
  part: string | undefined,
  namespaces: Namespaces,
  handler: XmlHandler,
): Promise<void> {
  const entry = part === undefined ? undefined : zip.find(part);
  if (entry) await readXml(zip.chunks(entry), entry.name, namespaces, handler);
}

/** A target is relative to its source part's folder (ISO/IEC 29500-2, 6.5.3); it cannot lead out of the package. */
export function resolveTarget(part: string, target: string): string {
  const base = target.startsWith('/') ? [] : part.split('/').slice(0, -1);
  for (const segment of target.split('/')) {
    if (segment === '..') base.pop();
    else if (segment !== '.' && segment !== '') base.push(segment);
  }
  return base.join('/');
}

const transitional = 'http://schemas.openxmlformats.org';
const strict = 'http://purl.oclc.org/ooxml';

/** The namespaces of ISO/IEC 29500, Transitional (part 4) and Strict (part 1), by the prefixes we know them under. */
export const namespaces: Namespaces = new Map([
  [`${transitional}/wordprocessingml/2006/main`, 'w'],
  [`${strict}/wordprocessingml/main`, 'w'],
  [`${transitional}/spreadsheetml/2006/main`, ''],
  [`${strict}/spreadsheetml/main`, ''],
  [`${transitional}/officeDocument/2006/relationships`, 'r'],
  [`${strict}/officeDocument/relationships`, 'r'],
  [`${transitional}/officeDocument/2006/math`, 'm'],
  [`${strict}/officeDocument/math`, 'm'],
  [`${transitional}/drawingml/2006/main`, 'a'],
  [`${strict}/drawingml/main`, 'a'],
  [`${transitional}/drawingml/2006/wordprocessingDrawing`, 'wp'],
  [`${strict}/drawingml/wordprocessingDrawing`, 'wp'],
  [`${transitional}/drawingml/2006/picture`, 'pic'],
  [`${transitional}/drawingml/2006/spreadsheetDrawing`, 'xdr'],
  [`${strict}/drawingml/spreadsheetDrawing`, 'xdr'],
  [`${strict}/drawingml/picture`, 'pic'],
  [`${transitional}/markup-compatibility/2006`, 'mc'],
  ['http://schemas.microsoft.com/office/word/2010/wordml', 'w14'],
  [`${transitional}/drawingml/2006/chart`, 'c'],
  [`${strict}/drawingml/chart`, 'c'],
  [`${transitional}/drawingml/2006/diagram`, 'dgm'],
  [`${strict}/drawingml/diagram`, 'dgm'],
  ['urn:schemas-microsoft-com:vml', 'v'],
  ['urn:schemas-microsoft-com:office:office', 'o'],
]);
