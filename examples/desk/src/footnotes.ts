import { Node } from '@tiptap/core';
import { make } from './element.ts';

/**
 * A footnote in the editor: one sign among the words, which carries its text along. Pages keep a note's text at their end
 * (DPUB-ARIA), where an editor would take it for part of the draft, so it is moved in and out.
 */
export const Footnote = Node.create({
  name: 'footnote',
  group: 'inline',
  inline: true,
  atom: true,
  addAttributes: () => ({
    text: {
      default: '',
      parseHTML: (element) => element.getAttribute('data-footnote'),
      renderHTML: ({ text }) => ({ 'data-footnote': text, title: plain(String(text)) }),
    },
  }),
  parseHTML: () => [{ tag: 'span[data-footnote]' }],
  renderHTML: ({ HTMLAttributes }) => ['span', { ...HTMLAttributes, class: 'footnote' }, '*'],
});

const plain = (markup: string): string =>
  new DOMParser().parseFromString(markup, 'text/html').body.textContent?.trim() ?? '';

/** Notes at the end of a page, moved to where they are referred to. */
export function notesInline(markup: string): string {
  const { body } = new DOMParser().parseFromString(markup, 'text/html');
  for (const back of body.querySelectorAll('[role="doc-backlink"]')) (back.closest('p') ?? back).remove();
  for (const reference of body.querySelectorAll('a[role="doc-noteref"]')) {
    const note = body.querySelector(`[id="${CSS.escape(reference.getAttribute('href')?.slice(1) ?? '')}"]`);
    reference.replaceWith(make('span', { 'data-footnote': note?.innerHTML ?? '' }));
  }
  for (const notes of body.querySelectorAll('[role="doc-endnotes"]')) notes.remove();
  return body.innerHTML;
}

/**
 * The editor's markup as a page: notes among the words at its end, and blank lines as lines, which pages pass over else. With
 * `hasOwnLine`, an empty line at its end is none of the document's.
 */
export function pageOf(markup: string, hasOwnLine: boolean): string {
  const { body } = new DOMParser().parseFromString(markup, 'text/html');
  const last = body.lastElementChild;
  if (hasOwnLine && last?.matches('p:empty')) last.remove();
  for (const blank of body.querySelectorAll(':scope > p:empty')) blank.append(make('br', {}));
  const list = make('ol', {});
  for (const [index, sign] of [...body.querySelectorAll('span[data-footnote]')].entries()) {
    const note = make('li', { id: `note-${index + 1}` });
    note.innerHTML = sign.getAttribute('data-footnote') ?? '';
    list.append(note);
    sign.replaceWith(make('a', { href: `#note-${index + 1}`, role: 'doc-noteref' }, String(index + 1)));
  }
  if (list.children.length > 0) body.append(make('section', { role: 'doc-endnotes' }, list));
  return body.innerHTML;
}
