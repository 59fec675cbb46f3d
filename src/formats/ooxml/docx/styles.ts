import { bounds } from '../../bounds.ts';
import { meaningOf, type ParagraphLook, type ParagraphMeaning } from '../../flow/look.ts';
import type { Zip } from '../../package/zip.ts';
import type { XmlHandler } from '../../xml/read-xml.ts';
import { namespaces, readPart } from '../opc.ts';
import type { Theme } from '../theme.ts';
import { type DocxRunLook, isOn, paragraphProperties, runProperties } from './look.ts';
import { type TableStyle, TableStyleReader } from './table-styles.ts';

/** A style including everything that it is based on. */
export interface Style {
  readonly id: string;
  readonly name: string;
  readonly run: DocxRunLook;
  readonly paragraph: ParagraphLook;
}

/** The styles part (ISO/IEC 29500-1, 17.7). */
export interface Styles {
  /** The look of plain text: the defaults and the default paragraph style. */
  readonly plain: Style;
  readonly theme: Theme;
  /** The meaning of a paragraph style, such as a heading; a paragraph can override the level. */
  meaning(style: Style, outlineLevel: number | undefined): ParagraphMeaning;
  /** The numbering of a list style (17.9.21). */
  findNumbering(styleId: string): string | undefined;
  find(id: string | undefined): Style | undefined;
  /** A table style; `undefined` for the two default styles of plain tables. */
  findTable(id: string): TableStyle | undefined;
  /** The run look of a table style, as far as the default paragraph style does not override it. */
  leftToTables(run: DocxRunLook): DocxRunLook;
  /** All styles, in order. */
  readonly listed: readonly ListedStyle[];
}

export interface ListedStyle {
  readonly id: string;
  readonly name: string;
  readonly type: 'paragraph' | 'character' | 'table' | 'numbering';
}

interface StoredStyle {
  id: string;
  name: string;
  type: ListedStyle['type'];
  basedOn?: string;
  readonly run: DocxRunLook;
  readonly paragraph: ParagraphLook;
  readonly table?: TableStyleReader;
}

/** Styles whose look follows from their meaning. */
const plainTables: ReadonlySet<string> = new Set(['Normal Table', 'Table Grid']);

export async function readStyles(zip: Zip, part: string | undefined, theme: Theme): Promise<Styles> {
  const stored = new Map<string, StoredStyle>();
  const defaults: StoredStyle = { id: '', name: '', type: 'paragraph', run: {}, paragraph: {} };
  let defaultId: string | undefined;
  let current: StoredStyle | undefined;
  const handler: XmlHandler = {
    open(name, attributes) {
      if (name === 'w:docDefaults') current = defaults;
      else if (name === 'w:style') {
        const type = (attributes['w:type'] ?? 'paragraph') as ListedStyle['type'];
        current = {
          id: attributes['w:styleId'] ?? '',
          name: '',
          type,
          run: {},
          paragraph: {},
          ...(type === 'table' && { table: new TableStyleReader() }),
        };
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
      else if (current?.table) current.table.open(name, attributes);
      else if (current) {
        runProperties.get(name)?.(current.run, attributes);
        paragraphProperties.get(name)?.(current.paragraph, attributes);
      }
    },
    close(name) {
      if (name === 'w:style' || name === 'w:docDefaults') current = undefined;
      current?.table?.close(name);
    },
  };
  await readPart(zip, part, namespaces, handler);
  return resolveStyles(stored, defaults, defaultId, theme);
}

function resolveStyles(
  stored: ReadonlyMap<string, StoredStyle>,
  defaults: StoredStyle,
  defaultId: string | undefined,
  theme: Theme,
): Styles {
  const resolved = new Map<string, Style>();
  const resolve = (id: string, seen: ReadonlySet<string>): Style | undefined => {
    const known = resolved.get(id);
    const style = stored.get(id);
    if (known || !style) return known;
    const { basedOn } = style;
    const isEnd = basedOn === undefined || seen.has(basedOn) || seen.size >= bounds.basedOn.most;
    const base = isEnd ? undefined : resolve(basedOn, new Set([...seen, id]));
    const whole: Style = {
      id,
      name: style.name,
      run: withTheme({ ...base?.run, ...style.run }, theme),
      paragraph: { ...base?.paragraph, ...style.paragraph },
    };
    resolved.set(id, whole);
    return whole;
  };
  const tables = new Map<string, TableStyle | undefined>();
  const resolveTable = (id: string, seen: ReadonlySet<string>): TableStyle | undefined => {
    const { table, basedOn = '', name } = stored.get(id) ?? {};
    if (!table || name === undefined || plainTables.has(name) || seen.has(id) || seen.size >= bounds.basedOn.most)
      return undefined;
    return table.finish(resolveTable(basedOn, new Set([...seen, id])), (run) => withTheme(run, theme));
  };
  const standard = defaultId === undefined ? undefined : resolve(defaultId, new Set());
  const meanings = new Map<string, ParagraphMeaning>(); // most paragraphs share a meaning
  return {
    theme,
    meaning(style, outlineLevel) {
      const level = outlineLevel ?? style.paragraph.outlineLevel;
      const key = `${style.name} ${level ?? ''}`;
      const known = meanings.get(key) ?? meaningOf(style.name, level);
      meanings.set(key, known);
      return known;
    },
    findNumbering: (styleId) => stored.get(styleId)?.paragraph.numberingId,
    plain: {
      id: standard?.id ?? '',
      name: standard?.name ?? '',
      run: withTheme({ ...defaults.run, ...standard?.run }, theme),
      paragraph: { ...defaults.paragraph, ...standard?.paragraph },
    },
    findTable: (id) => {
      if (!tables.has(id)) tables.set(id, resolveTable(id, new Set()));
      return tables.get(id);
    },
    leftToTables: (run) => unsaid(run, standard?.run ?? {}, defaults.run),
    find: (id) => (id === undefined ? undefined : resolve(id, new Set())),
    listed: [...stored.values()].map(({ id, name, type }) => ({ id, name, type })),
  };
}

/** The run properties that a style does not change from the defaults. */
function unsaid(run: DocxRunLook, said: DocxRunLook, defaults: DocxRunLook): DocxRunLook {
  const keys = Object.keys(run) as (keyof DocxRunLook)[];
  const left = keys.filter((key) => said[key] === undefined || said[key] === defaults[key]);
  return Object.fromEntries(left.map((key) => [key, run[key]]));
}

/** The fonts and colours of the theme by their role. */
export function withTheme({ themeFont, themeColour, ...look }: DocxRunLook, theme: Theme): DocxRunLook {
  const font = theme.findFont(themeFont);
  const colour = themeColour && theme.findColour(themeColour.name, themeColour.tint, themeColour.shade);
  return { ...look, ...(font !== undefined && { font }), ...(colour !== undefined && { colour }) };
}
