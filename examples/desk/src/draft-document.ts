import { Editor, Mark } from '@tiptap/core';
import Image from '@tiptap/extension-image';
import { TableKit } from '@tiptap/extension-table';
import TextAlign from '@tiptap/extension-text-align';
import { TextStyleKit } from '@tiptap/extension-text-style';
import StarterKit from '@tiptap/starter-kit';
import { asBlocks, type Block, type Content, DrawerError, type Media } from 'drawer';
import { type FormatName, findFormatByName, formatNamed } from 'drawer/formats';
import { htmlFragment } from 'drawer/formats/html-fragment';
import type { Draft, DraftTools } from './draft.ts';
import type { OwnFile } from './files.ts';
import { Footnote, notesInline, pageOf } from './footnotes.ts';
import { Landing, landing } from './landing.ts';
import { type OpenFile, obstacleOf } from './open-file.ts';

/** More cells than these in one paste keep the editor busy for longer than a person waits. */
const mostCells = 4_000;

const cellsIn = (blocks: readonly Block[]): number =>
  blocks.reduce(
    (sum, block) =>
      sum +
      (block.type === 'table'
        ? block.rows.reduce((cells, row) => cells + row.cells.length, 0)
        : block.type === 'list'
          ? block.items.reduce((cells, item) => cells + cellsIn(item.blocks), 0)
          : 0),
    0,
  );

/** Superscript and subscript: m² is no m2. */
const Raised = Mark.create({ name: 'raised', parseHTML: () => [{ tag: 'sup' }], renderHTML: () => ['sup', 0] });
const Lowered = Mark.create({ name: 'lowered', parseHTML: () => [{ tag: 'sub' }], renderHTML: () => ['sub', 0] });

/** What we make for the editor has no space but what counts. */
const parseOptions = { preserveWhitespace: 'full' } as const;

/** How many blocks are laid out at once, so that the page stays at hand. */
const blocksAtOnce = 500;

/** Markup in parts of so many blocks. */
function portionsOf(markup: string): string[] {
  const { children } = new DOMParser().parseFromString(markup, 'text/html').body;
  const portions: string[] = [];
  for (let from = 0; from < children.length; from += blocksAtOnce)
    portions.push([...children].slice(from, from + blocksAtOnce).reduce((all, block) => all + block.outerHTML, ''));
  return portions;
}

/** A document in a rich-text editor, new or somebody's own. */
export class DocumentDraft implements Draft {
  readonly endings = ['docx', 'odt', 'html', 'markdown'];
  readonly editor: Editor;
  readonly #tools: DraftTools;
  readonly #own: OwnFile | undefined;
  obstacle: unknown;
  #shown: readonly Block[] = [];
  /** Whether an empty line at the end is the editor's own: it puts one behind a table or list, for the caret. */
  #hasOwnLine = true;
  /** Whether all of it is laid out. */
  #isOpen: boolean;

  /** `keep` hears what is written as it is written. */
  constructor(
    place: HTMLElement,
    markup: string,
    tools: DraftTools,
    { own, keep }: { readonly own?: OwnFile; readonly keep?: (markup: string) => void } = {},
  ) {
    this.#tools = tools;
    this.#own = own;
    this.#isOpen = own === undefined;
    const name = tools.say('draft');
    this.editor = new Editor({
      element: place,
      injectCSS: false, // style.css has it, so that a page may allow no other style
      extensions: [
        StarterKit,
        TableKit,
        Image.configure({ allowBase64: true, inline: true }),
        TextAlign.configure({
          types: ['paragraph', 'heading', 'tableCell', 'tableHeader'],
          alignments: ['center', 'end', 'justify'],
        }),
        TextStyleKit,
        Raised,
        Lowered,
        Footnote,
        Landing,
      ],
      content: markup,
      parseOptions,
      editorProps: { attributes: { 'aria-label': name, dir: 'auto', role: 'textbox', 'aria-multiline': 'true' } },
      onUpdate: ({ editor }) => {
        if (!this.#isOpen) return;
        keep?.(editor.getHTML());
        tools.changed();
      },
    });
  }

  /** One's own document, as the editor shows it. */
  static open(place: HTMLElement, own: OwnFile, tools: DraftTools, canStop: boolean): Promise<DocumentDraft> {
    const read = async (open: OpenFile): Promise<DocumentDraft> => {
      const { content, media } = await open.read('');
      const portions = portionsOf(notesInline(htmlFragment(content, media)));
      const draft = new DocumentDraft(place, portions[0] ?? '', tools, { own });
      try {
        for (const [index, portion] of portions.entries()) {
          if (index > 0) draft.#append(portion);
          open.tell((index + 1) / portions.length);
          await open.goOn();
        }
        draft.#hasOwnLine = asBlocks(content).at(-1)?.type !== 'paragraph';
        const { state, view } = draft.editor;
        view.dispatch(state.tr.setMeta('addToHistory', false)); // has the editor add that line now
        draft.#shown = asBlocks((await open.readMarkup(draft.#markup)).content);
      } catch (error) {
        draft.close();
        throw error;
      }
      draft.#isOpen = true;
      draft.obstacle = await obstacleOf(open, '');
      return draft;
    };
    return tools.working(own.file, 'readingFile', read, canStop);
  }

  /** Lays out more of what was opened, which is no step to undo. */
  #append(markup: string): void {
    const { state } = this.editor;
    this.editor
      .chain()
      .insertContentAt(state.doc.content.size, markup, { updateSelection: false, parseOptions })
      .setMeta('addToHistory', false)
      .run();
  }

  insert(content: Content, media: Media): void {
    const count = cellsIn(asBlocks(content));
    if (count > mostCells) throw new DrawerError('too-large/editor-cells', { count, most: mostCells });
    const isFirst = this.editor.isEmpty;
    const caret = this.editor.state.selection.to;
    this.editor
      .chain()
      .focus()
      .insertContentAt(
        isFirst ? { from: 0, to: this.editor.state.doc.content.size } : caret,
        notesInline(htmlFragment(content, media)),
        { parseOptions },
      )
      .run();
    this.editor.commands.scrollIntoView();
  }

  preview(content: Content | undefined, media: Media): void {
    const { state, view } = this.editor;
    view.dispatch(state.tr.setMeta(landing, content ? { content, media } : null).setMeta('addToHistory', false));
    if (content) view.dom.querySelector('.landing')?.scrollIntoView({ block: 'nearest' });
  }

  goTo(x: number, y: number): void {
    const at = this.editor.view.posAtCoords({ left: x, top: y });
    if (at) this.editor.commands.setTextSelection(at.pos);
  }

  async save(ending: string) {
    const format = formatNamed(ending as FormatName);
    const name = `draft${format.extensions[0]}`;
    const bytes = await this.#tools.working(new File([], name), 'savingFile', (open) =>
      open.writeMarkup(this.#markup, format.name),
    );
    return { bytes, name, type: format.mediaTypes[0] ?? '' };
  }

  async saveBack() {
    const { file, author } = this.#own ?? {};
    if (!file) throw new DrawerError('usage/file-not-open');
    const edited = { shown: this.#shown, markup: this.#markup, author };
    return this.#tools.working(file, 'savingFile', (open) => open.changeDocument(edited));
  }

  /** The editor's contents, as a page. */
  get #markup(): string {
    return pageOf(this.editor.getHTML(), this.#hasOwnLine);
  }

  resume(before: Draft): void {
    if (!(before instanceof DocumentDraft)) return;
    const { from, to } = before.editor.state.selection;
    const end = this.editor.state.doc.content.size;
    this.editor.commands.setTextSelection({ from: Math.min(from, end), to: Math.min(to, end) });
  }

  close(): void {
    this.editor.destroy();
  }
}

/** Whether a file of that name is opened as a document, rather than as a sheet. */
export const isDocument = (name: string): boolean => {
  const format = findFormatByName(name)?.name;
  return format !== 'xlsx' && format !== 'ods' && format !== 'csv';
};
