import { DrawerError } from '../../content/index.ts';
import type { Source } from '../format.ts';
import { type DecodedText, decodeExactly, encodeText } from '../text/encoding.ts';
import { type NewPart, type PackingTools, replaceParts } from './replace.ts';
import { partBytes, type Zip } from './zip.ts';

/** Gathers what changes in a package: texts of parts, and new parts; nothing else is touched. */
export class PackageEdit {
  readonly #source: Source;
  readonly #zip: Zip;
  readonly #texts = new Map<string, DecodedText>();
  readonly #changed = new Map<string, NewPart | string>();
  readonly #tools: PackingTools;

  constructor(source: Source, zip: Zip, tools: PackingTools = {}) {
    this.#source = source;
    this.#zip = zip;
    this.#tools = tools;
  }

  /** Reads parts, so that they can be looked at and changed; those that are not there stay so. */
  async load(...parts: readonly (string | undefined)[]): Promise<void> {
    for (const part of parts) {
      const bytes = part === undefined ? undefined : await partBytes(this.#zip, part);
      if (part !== undefined && bytes) this.#texts.set(this.#nameOf(part), decodeExactly(bytes));
    }
  }

  /** The text of a loaded part as it has become; `undefined` when there is none. */
  findText(part: string): string | undefined {
    const changed = this.#changed.get(this.#nameOf(part));
    return typeof changed === 'string' ? changed : this.#texts.get(this.#nameOf(part))?.text;
  }

  /** A loaded part as it was read. */
  get(part: string): DecodedText {
    return this.#texts.get(this.#nameOf(part)) ?? { ...plainEncoding, text: '' };
  }

  has(part: string): boolean {
    return this.#changed.has(this.#nameOf(part)) || this.#zip.find(part) !== undefined;
  }

  setText(part: string, text: string): void {
    this.#changed.set(this.#nameOf(part), text);
  }

  /** New bytes of a part; `undefined` takes it out. */
  setBytes(part: string, bytes: NewPart): void {
    this.#changed.set(this.#nameOf(part), bytes);
  }

  /** Parts are found whatever the case of their names (ISO/IEC 29500-2, 6.2.2.3), and keep it. */
  #nameOf(part: string): string {
    return this.#zip.find(part)?.name ?? part;
  }

  bytes(): Promise<Uint8Array> {
    const encoded = [...this.#changed].map(([name, value]): [string, NewPart] => [
      name,
      typeof value === 'string' ? encodeText(value, this.#texts.get(name) ?? plainEncoding) : value,
    ]);
    return replaceParts(this.#source, this.#zip, new Map(encoded), this.#tools);
  }
}

const plainEncoding = { name: 'utf-8', mark: false } as const;

/**
 * Refuses packages that must not change.
 * @throws DrawerError `unsupported` for a signed one.
 */
export function checkUnsigned(zip: Zip): void {
  if (zip.entries.some(({ name }) => name.startsWith('_xmlsignatures/') || /^META-INF\/documentsignatures/i.test(name)))
    throw new DrawerError('unsupported/package-signed');
}
