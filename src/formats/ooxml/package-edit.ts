import { PackageEdit } from '../package/package-edit.ts';
import type { Attributes, Namespaces } from '../xml/read-xml.ts';
import { type SourceElement, SourceTree } from '../xml/source-tree.ts';
import { escapeAttribute } from '../xml/write-xml.ts';
import { contentTypes, relationshipsOf, resolveTarget } from './opc.ts';

const packageSpace = 'http://schemas.openxmlformats.org/package/2006';
const packageNamespaces: Namespaces = new Map([
  [`${packageSpace}/relationships`, ''],
  [`${packageSpace}/content-types`, ''],
]);

/** The same with relationships and content types (ISO/IEC 29500-2), which are only added to. */
export class OpcEdit extends PackageEdit {
  readonly #lists = new Map<string, PackageList>();

  /** The id of a relationship of a part whose list is loaded, made where there is none of that type and target. */
  addRelationship(part: string, type: string, target: string, external = false): string {
    const list = this.#list(relationshipsOf(part), 'Relationships', 'relationships');
    const known = list.entries.find(({ Target, Type, Id }) => Target === target && Type === type && Id !== undefined);
    if (known?.Id !== undefined) return known.Id;
    const last = list.entries.reduce(
      (most, { Id }) => Math.max(most, Number(/^rId(\d{1,9})$/.exec(Id ?? '')?.[1] ?? 0)),
      0,
    );
    const id = `rId${last + 1}`;
    const mode = external ? { TargetMode: 'External' } : {};
    list.add('Relationship', { Id: id, Type: type, Target: target, ...mode });
    this.setText(relationshipsOf(part), list.text);
    return id;
  }

  /** Takes a part out, with what names it: its type, and the relationships of `from` to it. */
  async removePart(part: string, from: string): Promise<void> {
    const relationships = relationshipsOf(from);
    await this.load(relationships, contentTypes);
    const related = this.#list(relationships, 'Relationships', 'relationships');
    related.remove(({ Target = '', TargetMode }) => TargetMode !== 'External' && resolveTarget(from, Target) === part);
    const types = this.#list(contentTypes, 'Types', 'content-types');
    types.remove(({ PartName }) => PartName?.toLowerCase() === `/${part}`.toLowerCase());
    this.setText(relationships, related.text);
    this.setText(contentTypes, types.text);
    this.setBytes(part, undefined);
  }

  /** Says what parts with an ending are, unless that is said already. */
  addDefaultType(extension: string, type: string): void {
    this.#addType('Default', { Extension: extension, ContentType: type });
  }

  /** Says what one part is. */
  addType(part: string, type: string): void {
    this.#addType('Override', { PartName: `/${part}`, ContentType: type });
  }

  /** Endings and names of parts are the same in upper and lower case (ISO/IEC 29500-2, 6.2.2.3). */
  #addType(name: 'Default' | 'Override', entry: Attributes): void {
    const list = this.#list(contentTypes, 'Types', 'content-types');
    const [key = '', wanted = ''] = Object.entries(entry)[0] ?? [];
    if (list.entries.some((each) => each[key]?.toLowerCase() === wanted.toLowerCase())) return;
    list.add(name, entry);
    this.setText(contentTypes, list.text);
  }

  /** A list of the package, empty where the package does not have it. */
  #list(part: string, root: string, space: string): PackageList {
    const known = this.#lists.get(part);
    if (known) return known;
    const empty = `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<${root} xmlns="${packageSpace}/${space}"></${root}>`;
    const list = new PackageList(new SourceTree(this.findText(part) ?? empty, part, packageNamespaces));
    this.#lists.set(part, list);
    return list;
  }
}

/** A list of the package, to which entries are added behind those that it has, or which loses some. */
class PackageList {
  entries: Attributes[];
  readonly #tree: SourceTree;
  readonly #prefix: string;
  #added = '';
  #removed: readonly SourceElement[] = [];

  constructor(tree: SourceTree) {
    this.#tree = tree;
    this.#prefix = tree.prefix('');
    this.entries = tree.root.children.map(({ attributes }) => attributes);
  }

  add(name: string, entry: Attributes): void {
    this.entries.push(entry);
    const attributes = Object.entries(entry).map(([key, value]) => ` ${key}="${escapeAttribute(value)}"`);
    this.#added += `<${this.#prefix}${name}${attributes.join('')}/>`;
  }

  remove(isGone: (entry: Attributes) => boolean): void {
    this.entries = this.entries.filter((entry) => !isGone(entry));
    this.#removed = this.#tree.root.children.filter(({ attributes }) => isGone(attributes));
  }

  get text(): string {
    const removed = this.#removed.map((element) => this.#tree.replace(element));
    return this.#tree.edited([...removed, ...this.#tree.append(this.#tree.root, this.#added)]);
  }
}
