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

/** What every pane is handed. */
export interface Desk {
  say(words: string): void;
  attempt(work: () => Promise<void>): void;
}
