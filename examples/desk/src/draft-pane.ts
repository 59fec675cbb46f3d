import { Editor } from '@tiptap/core';
import Image from '@tiptap/extension-image';
import { TableKit } from '@tiptap/extension-table';
import TextAlign from '@tiptap/extension-text-align';
import StarterKit from '@tiptap/starter-kit';
import { type Content, type Media, plural } from 'drawer';
import { type FormatName, formatNamed, sourceOf } from 'drawer/formats';
import { htmlFragment } from 'drawer/formats/html-fragment';
import { type Desk, element } from './element.ts';
import { Footnote, notesAtEnd, notesInline } from './footnotes.ts';

interface DraftDesk extends Desk {
  /** The draft as it was left. */
  readonly initial: string;
  changed(html: string): Promise<void>;
}

/** The draft: a rich-text editor, into which slips are pasted and which is saved as a file. */
export class DraftPane {
  readonly #editor: Editor;
  readonly #desk: DraftDesk;

  constructor(desk: DraftDesk) {
    this.#desk = desk;
    this.#editor = new Editor({
      element: element('editor', HTMLElement),
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
      content: desk.initial,
      editorProps: { attributes: { 'aria-label': 'Draft', role: 'textbox', 'aria-multiline': 'true' } },
      onUpdate: ({ editor }) => desk.attempt(() => desk.changed(editor.getHTML())),
    });
    element('save', HTMLButtonElement).addEventListener('click', () => desk.attempt(() => this.#save()));
  }

  /** Puts content where the caret is, in one step of the editor's own undo. */
  insert(content: Content, media: Media): void {
    const isFirst = this.#editor.isEmpty;
    const caret = this.#editor.state.selection.to;
    this.#editor
      .chain()
      .insertContentAt(
        isFirst ? { from: 0, to: this.#editor.state.doc.content.size } : caret,
        notesInline(htmlFragment(content, media)),
      )
      .run();
    this.#editor.commands.scrollIntoView();
  }

  async #save(): Promise<void> {
    const format = formatNamed(element('ending', HTMLSelectElement).value as FormatName);
    const page = new TextEncoder().encode(`<meta charset="utf-8">${notesAtEnd(this.#editor.getHTML())}`);
    const html = await formatNamed('html').load();
    const taken = await html.take?.(sourceOf(page, 'draft.html'), { kind: 'whole' });
    const bytes =
      taken &&
      (await (
        await format.load()
      ).write?.(taken.content, { media: taken.media, language: document.documentElement.lang, title: 'Draft' }));
    if (!bytes) return;
    const name = `draft${format.extensions[0]}`;
    download(new Blob([bytes as Uint8Array<ArrayBuffer>], { type: format.mediaTypes[0] ?? '' }), name);
    this.#desk.say(`Saved as ${name}, ${plural(bytes.length, 'byte')}`);
  }
}

function download(blob: Blob, name: string): void {
  const address = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 60_000);
}
