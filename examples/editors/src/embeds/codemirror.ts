import { markdown } from '@codemirror/lang-markdown';
import { basicSetup, EditorView } from 'codemirror';

/** CodeMirror 6 takes words: what it is given is plain text. */
export function embedCodeMirror(parent: HTMLElement): void {
  const name = EditorView.contentAttributes.of({ 'aria-label': 'CodeMirror' });
  new EditorView({ parent, extensions: [basicSetup, markdown(), EditorView.lineWrapping, name] });
}
