/** The page's element of that id and kind. */
export function element<T extends Element>(id: string, kind: new () => T): T {
  const found = document.getElementById(id);
  if (found instanceof kind) return found;
  throw new Error(`The page has no ${kind.name} #${id}`);
}

/** A new element with its attributes and what is in it. */
export function make<K extends keyof HTMLElementTagNameMap>(
  tag: K,
  attributes: Record<string, string>,
  ...inside: (Node | string)[]
): HTMLElementTagNameMap[K] {
  const made = document.createElement(tag);
  for (const [name, value] of Object.entries(attributes)) made.setAttribute(name, value);
  made.append(...inside);
  return made;
}

/** Buttons stay in reach of the keyboard when there is nothing for them to do. */
export const setEnabled = (button: HTMLButtonElement, enabled: boolean): void =>
  button.setAttribute('aria-disabled', String(!enabled));
export const isEnabled = (button: HTMLButtonElement): boolean => button.getAttribute('aria-disabled') !== 'true';

/** Where an arrow key leads in a row of tabs or buttons: to the next (1), the one before (-1), nowhere (0). */
export function rowStep({ key }: KeyboardEvent): -1 | 0 | 1 {
  if (key !== 'ArrowLeft' && key !== 'ArrowRight') return 0;
  const isForward = (key === 'ArrowRight') === (document.documentElement.dir !== 'rtl');
  return isForward ? 1 : -1;
}

/** Shows a dialog until it is closed. */
export async function untilClosed(dialog: HTMLDialogElement): Promise<void> {
  const closed = new Promise((end) => dialog.addEventListener('close', end));
  document.body.append(dialog);
  dialog.showModal();
  await closed;
  dialog.remove();
}
