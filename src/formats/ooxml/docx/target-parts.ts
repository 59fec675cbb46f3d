import type { Insertion } from '../../format.ts';
import type { TracedProse } from '../../insertion-grammar.ts';
import { Declarations, rootTag, x } from '../../xml/element.ts';
import { SourceTree } from '../../xml/source-tree.ts';
import { xmlPart, xmlSource } from '../../xml/write-xml.ts';
import { addPicturePart, beside } from '../drawing.ts';
import { namespaces as readNamespaces } from '../opc.ts';
import type { OpcEdit } from '../package-edit.ts';
import { adaptStyles, type StyleTarget } from './adapt-styles.ts';
import type { TableLook } from './body-facts.ts';
import type { SourceProperty } from './properties.ts';
import type { Styles } from './styles.ts';
import type { Surroundings } from './surroundings.ts';
import { TargetNumbering, type TargetStyles } from './target-numbering.ts';
import { footnotesPart, wordNamespaces, writeFootnote } from './write.ts';
import type { StoryWriter } from './write-blocks.ts';
import { type Page, PartRelationships, WriteState } from './write-state.ts';

export interface LandingContext {
  readonly edit: OpcEdit;
  readonly main: string;
  readonly parts: DocumentParts;
  readonly styles: Styles;
  readonly prose: TracedProse;
  readonly surroundings: Surroundings;
  readonly insertion: Insertion;
}

/** The parts that inserting may add to; absent where the document has none. */
export interface DocumentParts {
  readonly styles: string | undefined;
  readonly numbering: string | undefined;
  readonly footnotes: string | undefined;
  readonly settings: string | undefined;
  readonly theme: string | undefined;
}

const strictBase = 'http://purl.oclc.org/ooxml';
const transitionalBase = 'http://schemas.openxmlformats.org';

/**
 * What content leans on outside the main part: pictures, notes, numbering, links. Everything is written with names of our
 * own first, and then given those that are free in the document.
 */
export class TargetParts {
  readonly namespaces: Record<string, string>;
  /** The document's prefix for its own elements, with its colon. */
  readonly prefix: string;
  readonly #context: LandingContext;
  readonly #styles: TargetStyles;
  readonly #state: WriteState;
  readonly #body = new PartRelationships();
  readonly #notes = new PartRelationships();
  readonly #numbering: TargetNumbering;
  readonly #instances = new Map<string, string>();
  readonly #isStrict: boolean;
  readonly #firstNote: number;
  readonly #drawings: number;
  readonly #tables: TableLook | undefined;
  #writtenNotes = 0;

  constructor(context: LandingContext, styles: TargetStyles) {
    this.#context = context;
    this.#styles = styles;
    const { edit, parts, insertion } = context;
    const { source, facts } = context.surroundings;
    const root = rootTag(source);
    this.prefix = facts.fragment('').prefix('w');
    this.#isStrict = root.includes(`${strictBase}/wordprocessingml/main`);
    this.namespaces = this.#isStrict ? strict(wordNamespaces) : wordNamespaces;
    this.#state = new WriteState(insertion.media, this.namespaces);
    this.#numbering = new TargetNumbering(
      parts.numbering && edit.findText(parts.numbering),
      facts.numberingUses,
      this.namespaces,
    );
    const notes = parts.footnotes && edit.findText(parts.footnotes);
    this.#firstNote = notes
      ? treeOf(notes).root.children.reduce((most, { attributes }) => Math.max(most, Number(attributes['w:id']) || 0), 0)
      : 0;
    this.#tables = insertion.style === 'original' ? undefined : facts.tableLook;
    this.#drawings = facts.lastDrawing;
  }

  story(page: Page): StoryWriter {
    const notes: StoryWriter = { state: this.#state, page, relationships: this.#notes, writeFootnote: () => x('w:r') };
    return {
      state: this.#state,
      page,
      relationships: this.#body,
      writeFootnote: (footnote) => writeFootnote(this.#state, notes, footnote),
    };
  }

  /** Says that a paragraph has no number, whatever its style says (ISO/IEC 29500-1, 17.9.18). */
  get noNumber(): SourceProperty {
    const p = this.prefix;
    return { name: 'numPr', source: `<${p}numPr><${p}numId ${p}val="0"/></${p}numPr>` };
  }

  /** One that shows nothing, not even a number. */
  get emptyParagraph(): string {
    const p = this.prefix;
    return this.#numbersPlain ? `<${p}p><${p}pPr>${this.noNumber.source}</${p}pPr></${p}p>` : `<${p}p/>`;
  }

  /** Whether plain paragraphs have a number by their style. */
  get #numbersPlain(): boolean {
    return (this.#context.styles.plain.paragraph.numberingId ?? '0') !== '0';
  }

  retargeting(plain: StyleTarget['plain'], isNote = false): StyleTarget {
    return {
      styles: this.#styles,
      customStyles: this.#state.customStyles,
      numbering: (instance) => this.#instance(instance),
      relationship: (id) => this.#relationship(id, isNote),
      footnotes: this.#firstNote,
      drawings: this.#drawings,
      tables: this.#tables,
      plain,
      unnumbered: this.#numbersPlain ? this.noNumber : undefined,
    };
  }

  #instance(ours: string): string {
    const list = this.#state.lists[Number(ours) - 1];
    const known = this.#instances.get(ours);
    if (known !== undefined || !list) return known ?? ours;
    const theirs = String(this.#numbering.add(list, this.#context.insertion.style !== 'original'));
    this.#instances.set(ours, theirs);
    return theirs;
  }

  #relationship(ours: string, isNote: boolean): string {
    const { edit, main } = this.#context;
    const { type, target, external } = (isNote ? this.#notes : this.#body).get(ours);
    const base = `${this.#isStrict ? strictBase : transitionalBase}/officeDocument/${this.#isStrict ? '' : '2006/'}relationships`;
    if (type === 'image') this.#addPicture(target);
    return edit.addRelationship(isNote ? this.#notesPart : main, `${base}/${type}`, target, external);
  }

  #addPicture(target: string): void {
    const { edit, main } = this.#context;
    const bytes = this.#state.pictureParts.get(target);
    if (bytes) addPicturePart(edit, beside(main, target), bytes);
  }

  get #notesPart(): string {
    return this.#context.parts.footnotes ?? beside(this.#context.main, 'footnotes.xml');
  }

  /** Adds the notes and the numbering that came along. */
  finish(): void {
    this.#addNotes();
    const { edit, parts } = this.#context;
    if (this.#numbering.changed) edit.setText(parts.numbering ?? this.#addPart('numbering'), this.#numbering.text);
  }

  #addNotes(): void {
    const { edit, parts } = this.#context;
    const { footnotes } = this.#state;
    if (footnotes.length === 0) return;
    const part = parts.footnotes ?? this.#addPart('footnotes');
    const text = edit.findText(part) ?? new TextDecoder().decode(xmlPart(footnotesPart([], this.namespaces)));
    const declarations = new Declarations(text, this.namespaces);
    let added = '';
    for (; this.#writtenNotes < footnotes.length; this.#writtenNotes++) {
      const elements = footnotes[this.#writtenNotes] ?? [];
      const id = String(this.#firstNote + this.#writtenNotes + 1);
      const note = x('w:footnote', { 'w:id': id }, elements);
      adaptStyles([note], this.retargeting(undefined, true));
      added += declarations.on(xmlSource([note]));
    }
    const tree = treeOf(text);
    edit.setText(part, tree.edited(tree.append(tree.root, added)));
  }

  /** A part that the document did not have yet, named in its relationships and types. */
  #addPart(name: 'numbering' | 'footnotes'): string {
    const { edit, main } = this.#context;
    const part = beside(main, `${name}.xml`);
    const base = `${this.#isStrict ? strictBase : transitionalBase}/officeDocument/${this.#isStrict ? '' : '2006/'}relationships`;
    edit.addRelationship(main, `${base}/${name}`, `${name}.xml`);
    edit.addType(part, `application/vnd.openxmlformats-officedocument.wordprocessingml.${name}+xml`);
    return part;
  }
}

const treeOf = (notes: string): SourceTree => new SourceTree(notes, 'footnotes.xml', readNamespaces);

/** The namespaces of Strict documents (ISO/IEC 29500-1, annex A) in place of the Transitional ones. */
const strict = (namespaces: Record<string, string>): Record<string, string> =>
  Object.fromEntries(
    Object.entries(namespaces).map(([name, uri]) => [
      name,
      uri
        .replace(`${transitionalBase}/wordprocessingml/2006/main`, `${strictBase}/wordprocessingml/main`)
        .replace(`${transitionalBase}/officeDocument/2006/`, `${strictBase}/officeDocument/`)
        .replace(new RegExp(`^${transitionalBase}/drawingml/2006/`), `${strictBase}/drawingml/`),
    ]),
  );
