import Quill from 'quill';

/** Quill as it comes, with its tables. */
export function embedQuill(element: HTMLElement): void {
  const quill = new Quill(element, { modules: { toolbar: false, table: true } });
  quill.root.setAttribute('aria-label', 'Quill');
  quill.root.setAttribute('role', 'textbox');
  quill.root.setAttribute('aria-multiline', 'true');
}
