import type { ListMarker } from '../../../content/index.ts';
import type { ItemNumber } from '../../flow/assemble.ts';
import type { Zip } from '../../package/zip.ts';
import { nullPrototype } from '../../xml/element.ts';
import type { Attributes, XmlHandler } from '../../xml/read-xml.ts';
import { namespaces, readPart } from '../opc.ts';

/** How one level of a list is numbered (ISO/IEC 29500-1, 17.9.6). */
export interface Level {
  readonly ordered: boolean;
  readonly marker?: ListMarker;
  readonly start: number;
}

/** Counts list items in document order, as their numbering continues, restarts and is overridden (17.9.15, 17.9.25). */
export interface Numbering {
  /** `undefined` when the paragraph is in no list after all. */
  next(numberingId: string, level: number | undefined, styleId: string | undefined): ItemNumber | undefined;
}

interface StoredLevel {
  /** The paragraph style whose paragraphs are of this level. */
  style?: string;
  format: string;
  text: string;
  start: number;
}
interface Instance {
  abstractId: string;
  readonly overrides: Map<number, Partial<StoredLevel>>;
}

export async function readNumbering(
  zip: Zip,
  part: string | undefined,
  findNumbering: (styleId: string) => string | undefined,
): Promise<Numbering> {
  const reader = new NumberingReader();
  await readPart(zip, part, namespaces, reader);
  reader.followStyles(findNumbering);
  return new Counters(reader.abstracts, reader.instances);
}

class NumberingReader implements XmlHandler {
  readonly abstracts = new Map<string, Map<number, StoredLevel>>();
  readonly instances = new Map<string, Instance>();
  readonly #links = new Map<Map<number, StoredLevel>, string>();
  #abstract: Map<number, StoredLevel> | undefined;
  #instance: Instance | undefined;
  #override: Partial<StoredLevel> | undefined;
  #level: Partial<StoredLevel> | undefined;

  open(name: string, attributes: Attributes): void {
    const value = attributes['w:val'] ?? '';
    switch (name) {
      case 'w:abstractNum':
        this.#abstract = new Map();
        this.abstracts.set(attributes['w:abstractNumId'] ?? '', this.#abstract);
        break;
      case 'w:numStyleLink':
        if (this.#abstract) this.#links.set(this.#abstract, value);
        break;
      case 'w:num':
        this.#instance = { abstractId: '', overrides: new Map() };
        this.instances.set(attributes['w:numId'] ?? '', this.#instance);
        break;
      case 'w:abstractNumId':
        if (this.#instance) this.#instance.abstractId = value;
        break;
      case 'w:lvlOverride':
        this.#override = {};
        this.#instance?.overrides.set(Number(attributes['w:ilvl']), this.#override);
        break;
      case 'w:startOverride':
        if (this.#override) this.#override.start = Number(value);
        break;
      case 'w:lvl':
        this.#openLevel(Number(attributes['w:ilvl']));
        break;
      default:
        if (this.#level) readLevelProperty(this.#level, name, value);
    }
  }

  close(name: string): void {
    if (name === 'w:abstractNum') this.#abstract = undefined;
    if (name === 'w:num') this.#instance = undefined;
    if (name === 'w:lvlOverride') this.#override = undefined;
    if (name === 'w:lvl') this.#level = undefined;
  }

  /** A list that stands for a style's (17.9.21) is numbered as that is. */
  followStyles(findNumbering: (styleId: string) => string | undefined): void {
    for (const [abstract, style] of this.#links) {
      const instance = this.instances.get(findNumbering(style) ?? '');
      const other = instance && this.abstracts.get(instance.abstractId);
      if (other && abstract.size === 0) for (const [level, stored] of other) abstract.set(level, stored);
    }
  }

  #openLevel(index: number): void {
    if (this.#override) this.#level = this.#override;
    else if (this.#abstract) {
      const level = { format: 'decimal', text: '', start: 1 };
      this.#abstract.set(index, level);
      this.#level = level;
    }
  }
}

function readLevelProperty(level: Partial<StoredLevel>, name: string, value: string): void {
  if (name === 'w:numFmt') level.format = value;
  if (name === 'w:pStyle') level.style = value;
  if (name === 'w:lvlText') level.text = value;
  if (name === 'w:start') level.start = Number.parseInt(value, 10) || 0;
}

class Counters implements Numbering {
  readonly #abstracts: ReadonlyMap<string, ReadonlyMap<number, StoredLevel>>;
  readonly #instances: ReadonlyMap<string, Instance>;
  /** The last number given, by abstract list and level. */
  readonly #last = new Map<string, number[]>();
  readonly #started = new Set<string>();

  constructor(
    abstracts: ReadonlyMap<string, ReadonlyMap<number, StoredLevel>>,
    instances: ReadonlyMap<string, Instance>,
  ) {
    this.#abstracts = abstracts;
    this.#instances = instances;
  }

  next(numberingId: string, ownLevel: number | undefined, styleId: string | undefined): ItemNumber | undefined {
    const instance = this.#instances.get(numberingId);
    const levels = instance && this.#abstracts.get(instance.abstractId);
    const level = ownLevel ?? levelOfStyle(levels, styleId) ?? 0;
    const stored = levels?.get(level);
    if (!instance || !stored) return undefined;
    const override = instance.overrides.get(level);
    const { ordered, marker, start } = describeLevel({ ...stored, ...override });
    const number = this.#count(instance.abstractId, numberingId, level, start, override?.start !== undefined);
    return { list: numberingId, level, ordered, ...(marker && { marker }), number };
  }

  #count(abstractId: string, numberingId: string, level: number, start: number, overridden: boolean): number {
    const last = this.#last.get(abstractId) ?? [];
    this.#last.set(abstractId, last);
    const restarts = overridden && !this.#started.has(`${numberingId} ${level}`);
    this.#started.add(`${numberingId} ${level}`);
    const before = last[level];
    const number = before === undefined || restarts ? start : before + 1;
    last[level] = number;
    last.length = level + 1; // deeper levels begin anew
    return number;
  }
}

const levelOfStyle = (
  levels: ReadonlyMap<number, StoredLevel> | undefined,
  styleId: string | undefined,
): number | undefined =>
  styleId === undefined ? undefined : [...(levels ?? [])].find(([, { style }]) => style === styleId)?.[0];

const markers: Readonly<Record<string, ListMarker>> = nullPrototype({
  lowerLetter: 'lower-alpha',
  upperLetter: 'upper-alpha',
  lowerRoman: 'lower-roman',
  upperRoman: 'upper-roman',
});

/** The signs that programs put for hollow and square bullets, in Unicode and in their symbol fonts. */
const bulletMarkers: Readonly<Record<string, ListMarker>> = nullPrototype({
  o: 'circle',
  '◦': 'circle',
  '○': 'circle',
  '▪': 'square',
  '■': 'square',
  '\uf0a7': 'square',
});

function describeLevel({ format, text, start }: StoredLevel): Level {
  const ordered = format !== 'bullet' && format !== 'none';
  const marker = ordered ? markers[format] : bulletMarkers[text];
  return { ordered, start, ...(marker && { marker }) };
}
