import { Editor } from '@tiptap/core';
import Image from '@tiptap/extension-image';
import { TableKit } from '@tiptap/extension-table';
import StarterKit from '@tiptap/starter-kit';

/** Tiptap, on ProseMirror: nothing is needed for the drawer but the editor itself. */
export function embedTiptap(element: HTMLElement): void {
  new Editor({
    element,
    extensions: [StarterKit, TableKit, Image.configure({ allowBase64: true, inline: true })],
    editorProps: { attributes: { 'aria-label': 'ProseMirror (Tiptap)', role: 'textbox', 'aria-multiline': 'true' } },
  });
}
