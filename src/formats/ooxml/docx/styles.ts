import type { Zip } from '../../package/zip.ts';
import type { XmlHandler } from '../../xml/read-xml.ts';
import { namespaces } from '../namespaces.ts';
import { readPart } from '../opc.ts';
import { isOn, type ParagraphLook, paragraphProperties, type RunLook, runProperties } from './look.ts';

/** A style with everything it is based on worked in. */
export interface Style {
  readonly name: string;
  readonly run: RunLook;
  readonly paragraph: ParagraphLook;
}

/** The styles part (ISO/IEC 29500-1, 17.7). */
export interface Styles {
  /** What plain text looks like: the defaults with the default paragraph style. */
  readonly plain: Style;
  find(id: string | undefined): Style | undefined;
}

interface StoredStyle {
  id: string;
  name: string;
  basedOn?: string;
  readonly run: RunLook;
  readonly paragraph: ParagraphLook;
}

export async function readStyles(zip: Zip, part: string | undefined): Promise<Styles> {
  const stored = new Map<string, StoredStyle>();
  const defaults: StoredStyle = { id: '', name: '', run: {}, paragraph: {} };
  let defaultId: string | undefined;
  let current: StoredStyle | undefined;
  const handler: XmlHandler = {
    open(name, attributes) {
      if (name === 'w:docDefaults') current = defaults;
      else if (name === 'w:style') {
        current = { id: attributes['w:styleId'] ?? '', name: '', run: {}, paragraph: {} };
        stored.set(current.id, current);
        if (
          attributes['w:type'] === 'paragraph' &&
          attributes['w:default'] !== undefined &&
          isOn(attributes['w:default'])
        )
          defaultId = current.id;
      } else if (current && name === 'w:name') current.name = attributes['w:val'] ?? '';
      else if (current && name === 'w:basedOn' && attributes['w:val'] !== undefined)
        current.basedOn = attributes['w:val'];
      else if (current) {
        runProperties.get(name)?.(current.run, attributes);
        paragraphProperties.get(name)?.(current.paragraph, attributes);
      }
    },
    close(name) {
      if (name === 'w:style' || name === 'w:docDefaults') current = undefined;
    },
  };
  await readPart(zip, part, namespaces, handler);
  return resolveStyles(stored, defaults, defaultId);
}

function resolveStyles(
  stored: ReadonlyMap<string, StoredStyle>,
  defaults: StoredStyle,
  defaultId: string | undefined,
): Styles {
  const resolved = new Map<string, Style>();
  const resolve = (id: string, seen: ReadonlySet<string>): Style | undefined => {
    const known = resolved.get(id);
    const style = stored.get(id);
    if (known || !style) return known;
    const base =
      style.basedOn === undefined || seen.has(style.basedOn)
        ? undefined
        : resolve(style.basedOn, new Set([...seen, id]));
    const whole: Style = {
      name: style.name,
      run: { ...base?.run, ...style.run },
      paragraph: { ...base?.paragraph, ...style.paragraph },
    };
    resolved.set(id, whole);
    return whole;
  };
  const standard = defaultId === undefined ? undefined : resolve(defaultId, new Set());
  return {
    plain: {
      name: standard?.name ?? '',
      run: { ...defaults.run, ...standard?.run },
      paragraph: { ...defaults.paragraph, ...standard?.paragraph },
    },
    find: (id) => (id === undefined ? undefined : resolve(id, new Set())),
  };
}
