import { DrawerError } from '../../content/index.ts';
import { PackageEdit } from '../package/package-edit.ts';
import { highest } from '../xml/element.ts';
import { escapeAttribute } from '../xml/write-xml.ts';
import { contentTypes, relationshipsOf } from './opc.ts';

const packageSpace = 'http://schemas.openxmlformats.org/package/2006';

/** The same with relationships and content types (ISO/IEC 29500-2), which are only added to. */
export class OpcEdit extends PackageEdit {
  /** The id of a relationship of a part whose list is loaded, made where there is none of that type and target. */
  addRelationship(part: string, type: string, target: string, external = false): string {
    const list = relationshipsOf(part);
    const text =
      this.findText(list) ??
      `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<Relationships xmlns="${packageSpace}/relationships"></Relationships>`;
    const wanted = escapeAttribute(target);
    for (const [element] of text.matchAll(/<(?:[\w.-]+:)?Relationship\s[^<>]*>/g)) {
      const isSame = element.includes(`Target="${wanted}"`) && element.includes(`Type="${type}"`);
      const id = /\sId="([^"]*)"/.exec(element)?.[1];
      if (isSame && id !== undefined) return id;
    }
    const id = `rId${highest(text, /\sId=["']rId(\d{1,9})["']/g) + 1}`;
    const mode = external ? ' TargetMode="External"' : '';
    this.setText(
      list,
      beforeEnd(
        text,
        'Relationships',
        (prefix) => `<${prefix}Relationship Id="${id}" Type="${type}" Target="${wanted}"${mode}/>`,
      ),
    );
    return id;
  }

  /** Says what parts with an ending are, unless that is said already. */
  addDefaultType(extension: string, type: string): void {
    const text = this.findText(contentTypes) ?? '';
    if (new RegExp(`\\sExtension=["']${extension}["']`, 'i').test(text)) return;
    this.setText(
      contentTypes,
      afterStart(text, 'Types', (prefix) => `<${prefix}Default Extension="${extension}" ContentType="${type}"/>`),
    );
  }

  /** Says what one part is. */
  addType(part: string, type: string): void {
    const text = this.findText(contentTypes) ?? '';
    if (text.includes(`PartName="/${part}"`)) return;
    this.setText(
      contentTypes,
      beforeEnd(text, 'Types', (prefix) => `<${prefix}Override PartName="/${part}" ContentType="${type}"/>`),
    );
  }
}

/** Puts an element in front of the end tag of the root, with the root's own prefix. */
export function beforeEnd(text: string, root: string, element: (prefix: string) => string): string {
  const end = new RegExp(`</((?:[\\w.-]+:)?)${root}\\s*>\\s*$`).exec(text);
  if (end) return text.slice(0, end.index) + element(end[1] ?? '') + text.slice(end.index);
  const [empty, prefix = '', attributes = ''] =
    new RegExp(`<((?:[\\w.-]+:)?)${root}(\\s[^<>]*?)?/>\\s*$`).exec(text) ?? [];
  if (empty === undefined) throw unknownEnd(root);
  return `${text.slice(0, text.length - empty.length)}<${prefix}${root}${attributes}>${element(prefix)}</${prefix}${root}>`;
}

function afterStart(text: string, root: string, element: (prefix: string) => string): string {
  const start = new RegExp(`<((?:[\\w.-]+:)?)${root}(?:\\s[^<>]*)?>`).exec(text);
  if (!start || start[0].endsWith('/>')) return beforeEnd(text, root, element);
  const at = start.index + start[0].length;
  return text.slice(0, at) + element(start[1] ?? '') + text.slice(at);
}

const unknownEnd = (root: string): DrawerError => new DrawerError('unsupported/package-list-closed', { list: root });
