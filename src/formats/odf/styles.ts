import { findLanguage, type ListMarker } from '../../content/index.ts';
import { automatic, type ParagraphLook, type RunLook, sharedAlignments } from '../flow/look.ts';
import { nullPrototype } from '../xml/element.ts';
import type { Attributes, XmlHandler } from '../xml/read-xml.ts';
import { DataStyleReader } from './data-style.ts';

/** A style including everything that it inherits (ISO/IEC 26300-1, section 16.2). */
export interface Style {
  /** The displayed name, such as `Heading 1`. */
  readonly name: string;
  readonly run: RunLook;
  readonly paragraph: ParagraphLook;
  /** The direct formatting, which automatic styles define. */
  readonly direct: { readonly run: RunLook; readonly paragraph: ParagraphLook };
  readonly listStyle?: string;
  /** Of cells. */
  readonly background?: string;
  /** The name of the number format. */
  readonly dataStyle?: string;
  /** The width of columns, in points. */
  readonly width?: number;
  /** Whether a sheet is shown. */
  readonly display?: boolean;
}

/** The marker of a list level (section 16.30). */
export interface ListLevel {
  readonly ordered: boolean;
  readonly marker?: ListMarker;
  readonly start: number;
}

type Mutable<T> = { -readonly [K in keyof T]: T[K] };

interface StoredStyle extends Mutable<Omit<Style, 'run' | 'paragraph' | 'direct'>> {
  parent?: string;
  /** Whether it is an automatic style; then users know its parent's name. */
  readonly automatic: boolean;
  run: RunLook;
  paragraph: ParagraphLook;
}

const unstyled: Style = { name: '', run: {}, paragraph: {}, direct: { run: {}, paragraph: {} } };

/** Reads the styles of `styles.xml` and `content.xml`. */
export class StyleBook implements XmlHandler {
  readonly #fonts = new Map<string, string>();
  readonly #stored = new Map<string, StoredStyle>();
  readonly #defaults = new Map<string, StoredStyle>();
  readonly #resolved = new Map<string, Style>();
  readonly #lists = new Map<string, Map<number, ListLevel>>();
  readonly #formats = new DataStyleReader();
  #current: StoredStyle | undefined;
  #list: Map<number, ListLevel> | undefined;
  #automatic = false;

  open(name: string, a: Attributes): void {
    switch (name) {
      case 'style:font-face':
        this.#fonts.set(a['style:name'] ?? '', a['svg:font-family'] ?? a['style:name'] ?? '');
        return;
      case 'office:automatic-styles':
        this.#automatic = true;
        return;
      case 'style:default-style':
        this.#current = newStyle('', false);
        this.#defaults.set(a['style:family'] ?? '', this.#current);
        return;
      case 'style:style':
        return this.#openStyle(a);
      case 'text:list-style':
      case 'text:outline-style':
        this.#list = new Map();
        this.#lists.set(a['style:name'] ?? '', this.#list);
        return;
      default:
        if (this.#list && name.startsWith('text:list-level-style'))
          this.#list.set(Number(a['text:level']), listLevel(name, a));
        else if (this.#current) readProperties(this.#current, name, a, this.#fonts);
        this.#formats.open(name, a);
    }
  }

  close(name: string): void {
    if (name === 'office:automatic-styles') this.#automatic = false;
    if (name === 'style:style' || name === 'style:default-style') this.#current = undefined;
    if (name === 'text:list-style' || name === 'text:outline-style') this.#list = undefined;
    this.#formats.close(name);
  }

  text(words: string): void {
    this.#formats.text(words);
  }

  #openStyle(a: Attributes): void {
    const style = newStyle(a['style:display-name'] ?? displayName(a['style:name'] ?? ''), this.#automatic);
    if (a['style:parent-style-name'] !== undefined) style.parent = a['style:parent-style-name'];
    if (a['style:list-style-name'] !== undefined) style.listStyle = a['style:list-style-name'];
    if (a['style:data-style-name'] !== undefined) style.dataStyle = a['style:data-style-name'];
    if (Number(a['style:default-outline-level']) > 0)
      style.paragraph.outlineLevel = Number(a['style:default-outline-level']) - 1;
    this.#current = style;
    this.#stored.set(`${a['style:family']} ${a['style:name']}`, style);
  }

  /** The marks of plain text: the defaults and the default style. */
  get plain(): Style {
    return this.find('paragraph', 'Standard');
  }

  find(family: string, name: string | undefined): Style {
    return this.#resolve(family, name, 0);
  }

  #resolve(family: string, name: string | undefined, depth: number): Style {
    const key = `${family} ${name ?? ''}`;
    const known = this.#resolved.get(key);
    if (known) return known;
    const stored = this.#stored.get(key);
    const own = stored ?? this.#defaults.get(family);
    if (!own) return unstyled;
    const hasParent = stored !== undefined && depth < 64;
    const base = hasParent ? this.#resolve(family, stored.parent, depth + 1) : unstyled;
    const { parent: _, automatic, ...rest } = own;
    const style: Style = {
      ...base,
      ...rest,
      name: automatic ? base.name : own.name,
      run: { ...base.run, ...own.run },
      paragraph: { ...base.paragraph, ...own.paragraph },
      direct: automatic
        ? { run: { ...base.direct.run, ...own.run }, paragraph: { ...base.direct.paragraph, ...own.paragraph } }
        : unstyled.direct,
    };
    this.#resolved.set(key, style);
    return style;
  }

  listLevel(style: string | undefined, level: number): ListLevel {
    return this.#lists.get(style ?? '')?.get(level) ?? { ordered: false, start: 1 };
  }

  /** The number format code of a cell style; `undefined` for the general format. */
  formatOf(dataStyle: string | undefined): string | undefined {
    return dataStyle === undefined ? undefined : this.#formats.codeOf(dataStyle);
  }
}

const newStyle = (name: string, automatic: boolean): StoredStyle => ({ name, automatic, run: {}, paragraph: {} });

/** Decodes a style name, in which `_20_` stands for a space and so on. */
const displayName = (name: string): string =>
  name.replace(/_([0-9a-f]{1,4})_/g, (_, hex: string) => String.fromCharCode(Number.parseInt(hex, 16)));

function readProperties(style: StoredStyle, name: string, a: Attributes, fonts: FontNames): void {
  switch (name) {
    case 'style:text-properties':
      Object.assign(style.run, runLook(a, fonts));
      return;
    case 'style:paragraph-properties':
      Object.assign(style.paragraph, paragraphLook(a));
      return;
    case 'style:table-cell-properties': {
      const background = colour(a['fo:background-color']);
      if (background !== undefined) style.background = background;
      return;
    }
    case 'style:table-column-properties': {
      const width = size(a['style:column-width']);
      if (width !== undefined) style.width = width;
      return;
    }
    case 'style:table-properties':
      if (a['table:display'] !== undefined) style.display = a['table:display'] !== 'false';
  }
}

const markers: Readonly<Record<string, ListMarker>> = nullPrototype({
  a: 'lower-alpha',
  A: 'upper-alpha',
  i: 'lower-roman',
  I: 'upper-roman',
});
const bulletMarkers: Readonly<Record<string, ListMarker>> = nullPrototype({
  '◦': 'circle',
  '○': 'circle',
  '▪': 'square',
  '■': 'square',
  '\uf0a7': 'square',
});

function listLevel(name: string, a: Attributes): ListLevel {
  const format = name === 'text:list-level-style-number' ? (a['style:num-format'] ?? '') : '';
  const ordered = format !== '';
  const marker = ordered ? markers[format] : bulletMarkers[a['text:bullet-char'] ?? ''];
  return { ordered, start: Number.parseInt(a['text:start-value'] ?? '1', 10) || 1, ...(marker && { marker }) };
}

/** Font families by font face name (ISO/IEC 26300-1, section 16.23). */
export type FontNames = ReadonlyMap<string, string>;

/** The marks of a `style:text-properties` element (section 16.27.28). */
export function runLook(a: Attributes, fonts: FontNames): RunLook {
  const look: RunLook = {};
  const weight = a['fo:font-weight'];
  if (weight !== undefined) look.bold = weight === 'bold' || Number(weight) >= 600;
  const slant = a['fo:font-style'];
  if (slant !== undefined) look.italic = slant !== 'normal';
  const underline = a['style:text-underline-style'] ?? a['style:text-underline-type'];
  if (underline !== undefined) look.underline = underline !== 'none';
  const strike = a['style:text-line-through-style'] ?? a['style:text-line-through-type'];
  if (strike !== undefined) look.strike = strike !== 'none';
  const [raised] = (a['style:text-position'] ?? '').split(' ');
  if (raised) look.position = positionOf(raised);
  const font = familyOf(a, fonts);
  if (font) look.font = font.slice(0, 255);
  const size = points(a['fo:font-size']);
  if (size !== undefined && size > 0) look.size = size;
  const text = a['style:use-window-font-color'] === 'true' ? automatic : colour(a['fo:color']);
  if (text !== undefined) look.colour = text;
  const ground = a['fo:background-color'] === 'transparent' ? automatic : colour(a['fo:background-color']);
  if (ground !== undefined) look.background = ground;
  if (a['text:display'] !== undefined) look.hidden = a['text:display'] === 'none';
  const language = findLanguage(languageTag(a['fo:language'], a['fo:country']));
  if (language !== undefined) look.language = language;
  return look;
}

function positionOf(raised: string): NonNullable<RunLook['position']> {
  if (raised === 'super' || Number.parseFloat(raised) > 0) return 'superscript';
  return raised === 'sub' || Number.parseFloat(raised) < 0 ? 'subscript' : 'baseline';
}

function familyOf(a: Attributes, fonts: FontNames): string | undefined {
  const named = fonts.get(a['style:font-name'] ?? '') ?? a['fo:font-family'];
  return named
    ?.split(',')[0]
    ?.trim()
    .replace(/^(["'])(.*)\1$/, '$2');
}

const languageTag = (language: string | undefined, country: string | undefined): string | undefined =>
  language === undefined || language === 'none' || language === 'zxx'
    ? undefined
    : country && country !== 'none'
      ? `${language}-${country}`
      : language;

/** The properties of a `style:paragraph-properties` element (section 16.27.2). */
export function paragraphLook(a: Attributes): ParagraphLook {
  const look: ParagraphLook = {};
  const align = sharedAlignments[a['fo:text-align'] ?? ''];
  if (align) look.align = align;
  const indent = points(a['fo:margin-left'] ?? a['loext:margin-left']);
  if (indent !== undefined) look.indent = indent;
  const mode = a['style:writing-mode'];
  if (mode === 'rl-tb' || mode === 'rl') look.direction = 'rtl';
  if (mode === 'lr-tb' || mode === 'lr') look.direction = 'ltr';
  const border = a['fo:border-bottom'] ?? a['fo:border'];
  if (border !== undefined) look.ruled = border !== 'none';
  return look;
}

export const colour = (value: string | undefined): string | undefined =>
  value !== undefined && /^#[0-9A-Fa-f]{6}$/.test(value) ? value.toLowerCase() : undefined;

/** The length units in points (ISO/IEC 26300-1, section 18.3.18). */
const pointsPer: Readonly<Record<string, number>> = nullPrototype({
  pt: 1,
  in: 72,
  inch: 72,
  cm: 72 / 2.54,
  mm: 7.2 / 2.54,
  pc: 12,
  px: 0.75,
});

/** A length in points; `undefined` for relative ones (`%`). */
export function points(length: string | undefined): number | undefined {
  const [, number = '', unit = ''] = /^(-?\d*\.?\d+)\s*([a-z]+)$/.exec(length?.trim() ?? '') ?? [];
  const factor = pointsPer[unit];
  return factor === undefined ? undefined : Math.round(Number(number) * factor * 100) / 100;
}

/** The same for lengths that must be positive. */
export function size(length: string | undefined): number | undefined {
  const value = points(length);
  return value !== undefined && value >= 0.01 && value <= 1e6 ? value : undefined;
}
