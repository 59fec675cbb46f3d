import type { Element } from 'xast';
import type { List, Media, Picture } from '../../../content/index.ts';
import { extensionOf } from '../../pictures.ts';
import { x } from '../../xml/element.ts';

/** What a new document gathers while its blocks are written: one fresh state a document. */
export class WriteState {
  readonly lists: List[] = [];
  readonly footnotes: Element[][] = [];
  readonly customStyles = new Map<string, CustomStyle>();
  readonly pictureParts = new Map<string, Uint8Array>();
  /** What drawings call the pictures in them. */
  readonly pictureNamespace: string;
  readonly #media: Media;
  #drawings = 0;

  constructor(media: Media, namespaces: Readonly<Record<string, string>>) {
    this.#media = media;
    this.pictureNamespace = namespaces['xmlns:pic'] ?? '';
  }

  /** The numbering instance of a list, from 1. */
  addList(list: List): number {
    return this.lists.push(list);
  }

  nextDrawing(): number {
    return ++this.#drawings;
  }

  /** The part that holds the picture's bytes, below `word/`; `undefined` when they are not at hand. */
  addPicture({ media, mediaType }: Picture): string | undefined {
    const bytes = this.#media.get(media);
    if (!bytes) return undefined;
    const part = `media/${media.slice(0, 16)}.${extensionOf(mediaType)}`;
    this.pictureParts.set(part, bytes);
    return part;
  }

  /** The id of a style of the content's own, made on first use; `basedOn` is a style's id. */
  customStyle(name: string, basedOn: string): string {
    const known = this.customStyles.get(name);
    const id = known?.id ?? `Own${this.customStyles.size + 1}${name.replace(/[^A-Za-z0-9]/g, '')}`;
    if (!known) this.customStyles.set(name, { id, name, basedOn });
    return id;
  }
}

export interface CustomStyle {
  readonly id: string;
  readonly name: string;
  readonly basedOn: string;
}

/** One story's part with its own relationships: the body, or the footnotes. */
export class PartRelationships {
  readonly #targets = new Map<string, string>();
  readonly #byId = new Map<string, { readonly type: string; readonly target: string; readonly external: boolean }>();

  add(type: string, target: string, external = false): string {
    const key = `${type} ${target}`;
    const known = this.#targets.get(key);
    if (known !== undefined) return known;
    const id = `rId${this.#targets.size + 1}`;
    this.#targets.set(key, id);
    this.#byId.set(id, { type, target, external });
    return id;
  }

  /** What an id stands for. */
  get(id: string): { readonly type: string; readonly target: string; readonly external: boolean } {
    const known = this.#byId.get(id);
    if (!known) throw new Error(`no relationship ${id}`);
    return known;
  }

  get element(): Element {
    return x(
      'Relationships',
      { xmlns: 'http://schemas.openxmlformats.org/package/2006/relationships' },
      [...this.#byId].map(([id, { type, target, external }]) =>
        x('Relationship', {
          Id: id,
          Type: type.includes(':')
            ? type
            : `http://schemas.openxmlformats.org/officeDocument/2006/relationships/${type}`,
          Target: target,
          TargetMode: external ? 'External' : undefined,
        }),
      ),
    );
  }
}

/** A page's size and margins in points. */
export interface Page {
  readonly width: number;
  readonly height: number;
  readonly margin: number;
}

/** Countries whose paper is US Letter (Unicode CLDR, paper size). */
const letterRegions = new Set([
  'US',
  'CA',
  'MX',
  'PH',
  'CL',
  'CO',
  'VE',
  'GT',
  'CR',
  'PA',
  'PR',
  'SV',
  'NI',
  'DO',
  'BZ',
]);

/** The paper of the language's country: US Letter or A4. */
export function pageFor(language: string): Page {
  const region = new Intl.Locale(language).maximize().region ?? '';
  return letterRegions.has(region)
    ? { width: 612, height: 792, margin: 72 }
    : { width: 595.3, height: 841.9, margin: 70.9 };
}

export const textWidth = ({ width, margin }: Page): number => width - 2 * margin;
export const twips = (points: number): string => String(Math.round(points * 20));
