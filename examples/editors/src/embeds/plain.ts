/** A field for lines of text, and what any page can have: words that are edited in place. */
export function embedPlain(element: HTMLElement): void {
  const lines = document.createElement('textarea');
  lines.setAttribute('aria-label', 'Lines of text');
  const words = document.createElement('div');
  words.contentEditable = 'true';
  for (const [name, value] of Object.entries({
    role: 'textbox',
    'aria-multiline': 'true',
    'aria-label': 'Editable part',
  }))
    words.setAttribute(name, value);
  element.append(lines, words);
}
