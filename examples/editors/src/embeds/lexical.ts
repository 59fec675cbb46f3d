import { createEmptyHistoryState, registerHistory } from '@lexical/history';
import { LinkNode } from '@lexical/link';
import { ListItemNode, ListNode } from '@lexical/list';
import { HeadingNode, QuoteNode, registerRichText } from '@lexical/rich-text';
import { registerTablePlugin, TableCellNode, TableNode, TableRowNode } from '@lexical/table';
import { createEditor } from 'lexical';

/** Lexical with its own kinds of nodes; it has none for pictures. */
export function embedLexical(element: HTMLElement): void {
  const nodes = [HeadingNode, QuoteNode, ListNode, ListItemNode, LinkNode, TableNode, TableRowNode, TableCellNode];
  const editor = createEditor({ nodes, onError: (error) => console.error(error) });
  const root = element.appendChild(document.createElement('div'));
  root.contentEditable = 'true';
  for (const [name, value] of Object.entries({ role: 'textbox', 'aria-multiline': 'true', 'aria-label': 'Lexical' }))
    root.setAttribute(name, value);
  editor.setRootElement(root);
  registerRichText(editor);
  registerTablePlugin(editor);
  registerHistory(editor, createEmptyHistoryState(), 300);
}
