import type { Media, Picture } from '../../content/index.ts';
import type { PackageEdit } from '../package/package-edit.ts';
import { extensionOf } from '../pictures.ts';
import type { TextEdit } from '../text-edits.ts';
import type { Extent } from '../trace.ts';
import { rootTag } from '../xml/element.ts';
import { scanXmlText } from '../xml/scan-xml.ts';
import { childOf, insertion, type SourceElement, SourceTree, tagPrefix } from '../xml/source-tree.ts';
import { escapeAttribute } from '../xml/write-xml.ts';
import { contentPart, namespaces } from './package.ts';

export const manifestPart = 'META-INF/manifest.xml';

/** Names a new part in the list of parts (ISO/IEC 26300-3, 4.3). */
function addToManifest(edit: PackageEdit, part: string, mediaType: string): void {
  const text = edit.findText(manifestPart);
  if (text === undefined) return;
  const tree = new SourceTree(text, manifestPart, namespaces);
  const p = tree.prefix('manifest');
  const entry = `<${p}file-entry ${p}full-path="${escapeAttribute(part)}" ${p}media-type="${mediaType}"/>`;
  edit.setText(manifestPart, tree.edited(tree.append(tree.root, entry)));
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

/** The part of content.xml before its body: the styles. Its positions are positions in the whole text. */
export class ContentHead {
  readonly tree: SourceTree;
  readonly #named: ReadonlyMap<string, SourceElement>;

  constructor(text: string) {
    this.tree = new SourceTree(text, contentPart, namespaces, bodyOf(text));
    this.#named = new Map(
      this.tree.root.children
        .flatMap(({ children }) => children)
        .map((element) => [element.attributes['style:name'] ?? '', element]),
    );
  }

  /** The style of a name; for paragraphs, cells, lists, values and the like. */
  style(name: string | undefined): SourceElement | undefined {
    return name === undefined ? undefined : this.#named.get(name);
  }

  /** The first name from `DrawerC1` on, with that letter, which no style has. */
  freeName(letter: string, from: number): string {
    let number = from;
    while (this.#named.has(`Drawer${letter}${number}`)) number++;
    return `Drawer${letter}${number}`;
  }

  /** Adds automatic styles (ISO/IEC 26300-1, 3.15.3). */
  withStyles(styles: string): TextEdit[] {
    if (styles === '') return [];
    const { tree } = this;
    const known = childOf(tree.root, 'office:automatic-styles');
    if (known) return tree.append(known, styles);
    const body = childOf(tree.root, 'office:body');
    const office = tree.prefix('office');
    const made = `<${office}automatic-styles>${styles}</${office}automatic-styles>`;
    return body ? [insertion(body.start, made)] : [];
  }
}

/** The highest number of the pictures of a content part that have our names. */
export function lastPicture(text: string): number {
  let last = 0;
  scanXmlText(text, contentPart, namespaces, {
    open: (_, { 'draw:name': name = '' }) => {
      last = Math.max(last, Number(/^Picture (\d{1,6})$/.exec(name)?.[1] ?? 0));
    },
    close: () => {},
  });
  return last;
}

/** What is in the body of a content part. */
export function bodyOf(text: string): { readonly without?: Extent } {
  const prefix = tagPrefix(rootTag(text));
  const tag = `<${prefix}body`;
  const start = text.indexOf('>', text.indexOf(tag)) + 1;
  const end = text.lastIndexOf(`</${prefix}body`);
  return text.includes(tag) && end > start ? { without: { start, end } } : {};
}
