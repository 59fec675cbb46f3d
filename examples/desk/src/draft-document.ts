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
import { Footnote, notesAtEnd, notesInline } from './footnotes.ts';

/** A document in a rich-text editor, new or somebody's own. */
export class DocumentDraft implements Draft {
  readonly endings = [
    ['docx', 'Document (.docx)'],
    ['odt', 'Document (.odt)'],
    ['html', 'Page (.html)'],
    ['markdown', 'Markdown (.md)'],
  ] as const;
  readonly #editor: Editor;
  readonly #file: File | undefined;
  #shown: readonly Block[] = [];

  constructor(place: HTMLElement, markup: string, changed: (markup: string) => void, file?: File) {
    this.#file = file;
    this.#editor = new Editor({
      element: place,
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
      editorProps: { attributes: { 'aria-label': 'Draft', role: 'textbox', 'aria-multiline': 'true' } },
      onUpdate: ({ editor }) => changed(editor.getHTML()),
    });
  }

  /** One's own document, as the editor shows it. */
  static async open(place: HTMLElement, file: File, changed: (markup: string) => void): Promise<DocumentDraft> {
    const { content, media } = await takeFromBlob(file, file.name, { kind: 'whole' });
    const draft = new DocumentDraft(place, notesInline(htmlFragment(content, media)), changed, file);
    draft.#shown = asBlocks((await draft.#taken()).content);
    return draft;
  }

  insert(content: Content, media: Media): void {
    const isFirst = this.#editor.isEmpty;
    const caret = this.#editor.state.selection.to;
    this.#editor
      .chain()
      .focus()
      .insertContentAt(
        isFirst ? { from: 0, to: this.#editor.state.doc.content.size } : caret,
        notesInline(htmlFragment(content, media)),
      )
      .run();
    this.#editor.commands.scrollIntoView();
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
    const file = this.#file;
    if (!file) throw new DrawerError('usage/file-not-open');
    const { content, media } = await this.#taken();
    const edited = asBlocks(content);
    const source = blobSource(file, file.name);
    return editInPlace(source, { shown: this.#shown, edited, media }, { inflate: browserInflate });
  }

  /** What stands in the editor, as content. */
  async #taken(): Promise<Taken> {
    const page = new TextEncoder().encode(`<meta charset="utf-8">${notesAtEnd(this.#editor.getHTML())}`);
    const { take } = await formatNamed('html').load();
    return (await take?.(sourceOf(page, 'draft.html'), { kind: 'whole' })) as Taken;
  }

  close(): void {
    this.#editor.destroy();
  }
}

/** Whether a file of that name is opened as a document, rather than as a sheet. */
export const isDocument = (name: string): boolean => {
  const format = findFormatByName(name)?.name;
  return format !== 'xlsx' && format !== 'ods' && format !== 'csv';
};
