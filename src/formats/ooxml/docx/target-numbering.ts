import type { List } from '../../../content/index.ts';
import { declared } from '../../xml/declared.ts';
import { xmlPart, xmlSource } from '../../xml/write-xml.ts';
import { beforeEnd } from '../package-edit.ts';
import { abstractNumbering, kindOf, numberingInstance, numberingPart } from './numbering-part.ts';

/** The numbering part of a document that lists are added to. State: its text as it has become. */
export class TargetNumbering {
  text: string;
  /** Whether anything was added. */
  changed = false;
  readonly #namespaces: Record<string, string>;
  /** The definition that the document's lists of a kind follow. */
  readonly #known: ReadonlyMap<'bullet' | 'decimal', { readonly abstract: string; readonly instance: string }>;

  /** `body` is the source of the main part, in which the lists in use are counted. */
  constructor(text: string | undefined, body: string, namespaces: Record<string, string>) {
    this.#namespaces = namespaces;
    this.text = text ?? new TextDecoder().decode(xmlPart(numberingPart(namespaces, [])));
    this.#known = knownKinds(this.text, body);
  }

  /**
   * The instance for a list: with `local` that of the document's own bullets, or another of its own numbers; else one of a
   * definition of ours.
   */
  add(list: List, local: boolean): number {
    const kind = kindOf(list);
    const known = !list.ordered
      ? this.#known.get('bullet')
      : kind === 'decimal'
        ? this.#known.get('decimal')
        : undefined;
    if (local && known && !list.ordered) return Number(known.instance);
    this.changed = true;
    const abstract = local && known ? Number(known.abstract) : this.#addAbstract(list);
    const id = highest(this.text, /<(?:[\w.-]+:)?num\s[^<>]*?numId=["'](\d{1,9})["']/g) + 1;
    const source = declared(xmlSource([numberingInstance(list, id, abstract)]), this.text, this.#namespaces);
    this.text = insertBehind(this.text, 'num', source);
    return id;
  }

  /** Definitions stand in front of instances (ISO/IEC 29500-1, CT_Numbering). */
  #addAbstract(list: List): number {
    const id = highest(this.text, /<(?:[\w.-]+:)?abstractNum\s[^<>]*?abstractNumId=["'](\d{1,9})["']/g) + 1;
    const source = declared(xmlSource([abstractNumbering(kindOf(list), id)]), this.text, this.#namespaces);
    const first = /<(?:[\w.-]+:)?num\s/.exec(this.text);
    this.text = first
      ? this.text.slice(0, first.index) + source + this.text.slice(first.index)
      : beforeEnd(this.text, 'numbering', () => source);
    return id;
  }
}

function insertBehind(text: string, name: string, source: string): string {
  const last = [...text.matchAll(new RegExp(`</(?:[\\w.-]+:)?${name}>`, 'g'))].at(-1);
  if (!last) return beforeEnd(text, 'numbering', () => source);
  const at = last.index + last[0].length;
  return text.slice(0, at) + source + text.slice(at);
}

const highest = (text: string, pattern: RegExp): number =>
  [...text.matchAll(pattern)].reduce((most, [, number]) => Math.max(most, Number(number)), 0);

/** The definition of bullets and that of numbers which most paragraphs of the document follow. */
function knownKinds(numbering: string, body: string) {
  const known = new Map<'bullet' | 'decimal', { abstract: string; instance: string; uses: number }>();
  const formats = new Map(
    [
      ...numbering.matchAll(
        /<(?:[\w.-]+:)?abstractNum\s[^<>]*?abstractNumId=["'](\d+)["'][\s\S]*?numFmt\s[^<>]*?val=["'](\w+)["']/g,
      ),
    ].map(([, id = '', format = '']) => [id, format]),
  );
  for (const [, instance = '', abstract = ''] of numbering.matchAll(
    /<(?:[\w.-]+:)?num\s[^<>]*?numId=["'](\d+)["'][^<>]*>\s*<(?:[\w.-]+:)?abstractNumId\s[^<>]*?val=["'](\d+)["']/g,
  )) {
    const format = formats.get(abstract);
    const uses = body.split(new RegExp(`numId [\\w.-]*:?val="${instance}"`)).length - 1;
    if ((format !== 'bullet' && format !== 'decimal') || uses <= (known.get(format)?.uses ?? 0)) continue;
    known.set(format, { abstract, instance, uses });
  }
  return known;
}
