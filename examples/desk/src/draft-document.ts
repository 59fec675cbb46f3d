import { Editor } from '@tiptap/core';
import Image from '@tiptap/extension-image';
import { TableKit } from '@tiptap/extension-table';
import TextAlign from '@tiptap/extension-text-align';
import StarterKit from '@tiptap/starter-kit';
import { asBlocks, type Block, type Content, DrawerError, type Media } from 'drawer';
import { blobSource, browserInflate, takeFromBlob } from 'drawer/browser';
import { editInPlace, type FormatName, findFormatByName, formatNamed, sourceOf, type Taken } from 'drawer/formats';
import { htmlFragment } from 'drawer/formats/html-fragment';
import type { Draft } from './draft.ts';
import type { OwnFile } from './files.ts';
import { Footnote, notesAtEnd, notesInline } from './footnotes.ts';

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

/** A document in a rich-text editor, new or somebody's own. */
export class DocumentDraft implements Draft {
  readonly endings = ['docx', 'odt', 'html', 'markdown'];
  readonly editor: Editor;
  readonly #own: OwnFile | undefined;
  #shown: readonly Block[] = [];

  constructor(place: HTMLElement, markup: string, name: string, changed: (markup: string) => void, own?: OwnFile) {
    this.#own = own;
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
        Footnote,
      ],
      content: markup,
      editorProps: { attributes: { 'aria-label': name, dir: 'auto', role: 'textbox', 'aria-multiline': 'true' } },
      onUpdate: ({ editor }) => changed(editor.getHTML()),
    });
  }

  /** One's own document, as the editor shows it. */
  static async open(
    place: HTMLElement,
    own: OwnFile,
    name: string,
    changed: (markup: string) => void,
  ): Promise<DocumentDraft> {
    const { file } = own;
    const { content, media } = await takeFromBlob(file, file.name, { kind: 'whole' });
    const draft = new DocumentDraft(place, notesInline(htmlFragment(content, media)), name, changed, own);
    draft.#shown = asBlocks((await draft.#taken()).content);
    return draft;
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
      )
      .run();
    this.editor.commands.scrollIntoView();
  }

  goTo(x: number, y: number): void {
    const at = this.editor.view.posAtCoords({ left: x, top: y });
    if (at) this.editor.commands.setTextSelection(at.pos);
  }

  async save(ending: string) {
    const format = formatNamed(ending as FormatName);
    const { content, media } = await this.#taken();
    const { write } = await format.load();
    const bytes = await write?.(content, { media, language: document.documentElement.lang, title: 'Draft' });
    if (!bytes) throw new DrawerError('usage/format-not-written', { endings: ['.html', '.md', '.docx', '.odt'] });
    return { bytes, name: `draft${format.extensions[0]}`, type: format.mediaTypes[0] ?? '' };
  }

  async saveBack() {
    const { file, author } = this.#own ?? {};
    if (!file) throw new DrawerError('usage/file-not-open');
    const { content, media } = await this.#taken();
    const edited = asBlocks(content);
    const source = blobSource(file, file.name);
    const tracked = author === undefined ? {} : { author, date: new Date().toISOString() };
    return editInPlace(source, { shown: this.#shown, edited, media, ...tracked }, { inflate: browserInflate });
  }

  /** What stands in the editor, as content. */
  async #taken(): Promise<Taken> {
    const page = new TextEncoder().encode(`<meta charset="utf-8">${notesAtEnd(this.editor.getHTML())}`);
    const { take } = await formatNamed('html').load();
    return (await take?.(sourceOf(page, 'draft.html'), { kind: 'whole' })) as Taken;
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
