import type { Element } from 'xast';
import type { List } from '../../../content/index.ts';
import { isInlineCode, isLinkStyle } from '../../flow/look.ts';
import { Declarations } from '../../xml/element.ts';
import { childOf, insertion, SourceTree } from '../../xml/source-tree.ts';
import { xmlPart, xmlSource } from '../../xml/write-xml.ts';
import { namespaces as readNamespaces } from '../opc.ts';
import type { ListedStyle, Styles } from './styles.ts';
import { abstractNumbering, type Kind, kindOf, numberingInstance, numberingPart } from './styles-part.ts';

/** The numbering part of a document that lists are added to. State: what was added. */
export class TargetNumbering {
  readonly #tree: SourceTree;
  readonly #declarations: Declarations;
  /** The definition that the document's lists of a kind follow. */
  readonly #known: ReadonlyMap<'bullet' | 'decimal', { readonly abstract: string; readonly instance: string }>;
  readonly #abstracts: string[] = [];
  readonly #instances: string[] = [];
  /** Our own definitions by their kind, and the instances of those whose items have no numbers to count. */
  readonly #ownAbstracts = new Map<Kind, number>();
  readonly #ownBullets = new Map<Kind, number>();
  readonly #lastAbstract: number;
  readonly #lastInstance: number;

  /** `uses` says how many paragraphs of the document have an instance. */
  constructor(text: string | undefined, uses: ReadonlyMap<string, number>, namespaces: Record<string, string>) {
    const source = text ?? new TextDecoder().decode(xmlPart(numberingPart(namespaces, [])));
    this.#tree = new SourceTree(source, 'numbering.xml', readNamespaces);
    this.#declarations = new Declarations(source, namespaces);
    this.#known = knownKinds(this.#tree, uses);
    const last = (name: string, id: string): number =>
      this.#tree.all(name).reduce((most, { attributes }) => Math.max(most, Number(attributes[id]) || 0), 0);
    this.#lastAbstract = last('w:abstractNum', 'w:abstractNumId');
    this.#lastInstance = last('w:num', 'w:numId');
  }

  /** Whether anything was added. */
  get changed(): boolean {
    return this.#instances.length > 0;
  }

  /** The part with what was added: definitions stand in front of instances (ISO/IEC 29500-1, CT_Numbering). */
  get text(): string {
    const tree = this.#tree;
    const [abstracts, instances] = [this.#abstracts.join(''), this.#instances.join('')];
    const [first, last] = [tree.all('w:num')[0], tree.all('w:num').at(-1)];
    return tree.edited(
      first && last
        ? [insertion(first.start, abstracts), insertion(last.end, instances)]
        : tree.append(tree.root, abstracts + instances),
    );
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
    const same = list.ordered ? undefined : this.#ownBullets.get(kind);
    if (same !== undefined) return same;
    const abstract = local && known ? Number(known.abstract) : this.#ownAbstract(kind);
    const id = this.#lastInstance + this.#instances.length + 1;
    this.#instances.push(this.#source(numberingInstance(list, id, abstract)));
    if (!list.ordered) this.#ownBullets.set(kind, id);
    return id;
  }

  #ownAbstract(kind: Kind): number {
    const known = this.#ownAbstracts.get(kind);
    if (known !== undefined) return known;
    const id = this.#lastAbstract + this.#abstracts.length + 1;
    this.#abstracts.push(this.#source(abstractNumbering(kind, id)));
    this.#ownAbstracts.set(kind, id);
    return id;
  }

  #source(element: Element): string {
    return this.#declarations.on(xmlSource([element]));
  }
}

/** The definition of bullets and that of numbers which most paragraphs of the document follow. */
function knownKinds(numbering: SourceTree, usesOf: ReadonlyMap<string, number>) {
  const known = new Map<'bullet' | 'decimal', { abstract: string; instance: string; uses: number }>();
  const formats = new Map(
    numbering
      .all('w:abstractNum')
      .map((each) => [each.attributes['w:abstractNumId'], numbering.first('w:numFmt', each)?.attributes['w:val']]),
  );
  for (const element of numbering.all('w:num')) {
    const instance = element.attributes['w:numId'] ?? '';
    const abstract = childOf(element, 'w:abstractNumId')?.attributes['w:val'] ?? '';
    const format = formats.get(abstract);
    const uses = usesOf.get(instance) ?? 0;
    if ((format !== 'bullet' && format !== 'decimal') || uses <= (known.get(format)?.uses ?? 0)) continue;
    known.set(format, { abstract, instance, uses });
  }
  return known;
}

/** The ids that a document has for what our own styles are for; one that it does not have is told directly. */
export interface TargetStyles {
  find(ourId: string): string | undefined;
  /** A style of that name, for what the content calls its own. */
  findNamed(name: string): string | undefined;
}

/** Finds styles by what they mean, whatever they are called: `tableStyle` is the one that the document's tables mostly have. */
export function targetStyles(styles: Styles, tableStyle: string | undefined): TargetStyles {
  const found = new Map<string, string | undefined>();
  return {
    find(ourId) {
      if (!found.has(ourId))
        found.set(
          ourId,
          ourId === 'TableGrid' ? (tableStyle ?? named(styles, 'table', 'table grid')) : findStyle(styles, ourId),
        );
      return found.get(ourId);
    },
    findNamed: (name) => named(styles, 'paragraph', name.toLowerCase()),
  };
}

function findStyle(styles: Styles, ourId: string): string | undefined {
  const [, name = '', number] = /^([A-Za-z]+?)(\d?)$/.exec(ourId) ?? [];
  switch (name) {
    case 'Heading':
      return (
        named(styles, 'paragraph', `heading ${number}`) ??
        byMeaning(styles, (meaning) => meaning.kind === 'heading' && meaning.level === Number(number))
      );
    case 'Title':
      return named(styles, 'paragraph', 'title') ?? findStyle(styles, 'Heading1');
    case 'Quote':
      return byMeaning(styles, ({ kind }) => kind === 'quote');
    case 'HTMLPreformatted':
      return byMeaning(styles, ({ kind }) => kind === 'code');
    case 'ListBullet':
    case 'ListNumber':
    case 'ListContinue': {
      const words = `list ${name.slice(4).toLowerCase()}${number ? ` ${number}` : ''}`;
      return named(styles, 'paragraph', words) ?? named(styles, 'paragraph', 'list paragraph');
    }
    case 'FootnoteText':
      return named(styles, 'paragraph', 'footnote text');
    case 'FootnoteReference':
      return named(styles, 'character', 'footnote reference');
    case 'Hyperlink':
      return styles.listed.find(({ type, name: each }) => type === 'character' && isLinkStyle(each))?.id;
    case 'HTMLCode':
      return styles.listed.find(({ type, name: each }) => type === 'character' && isInlineCode(each))?.id;
    case 'Caption':
      return named(styles, 'paragraph', 'caption');
    default:
      return undefined;
  }
}

const named = (styles: Styles, type: ListedStyle['type'], name: string): string | undefined =>
  styles.listed.find((style) => style.type === type && style.name.toLowerCase() === name)?.id;

const byMeaning = (styles: Styles, isIt: (meaning: ReturnType<Styles['meaning']>) => boolean): string | undefined =>
  styles.listed.find(({ type, id }) => {
    const style = type === 'paragraph' ? styles.find(id) : undefined;
    return style !== undefined && isIt(styles.meaning(style, undefined));
  })?.id;
