const key = 'drawer-claim-form';

/** What was filled in outlasts the tab. */
export const keepForm = (form: HTMLFormElement): void =>
  localStorage.setItem(key, JSON.stringify([...new FormData(form)].filter(([, value]) => typeof value === 'string')));

export function restoreForm(form: HTMLFormElement): void {
  const kept: unknown = JSON.parse(localStorage.getItem(key) ?? '[]');
  if (!Array.isArray(kept)) return;
  for (const [name, value] of kept as [string, string][]) {
    const field = form.elements.namedItem(name);
    if (field instanceof RadioNodeList) field.value = value;
    else if (field instanceof HTMLInputElement && field.type === 'checkbox') field.checked = true;
    else if (
      field instanceof HTMLInputElement ||
      field instanceof HTMLTextAreaElement ||
      field instanceof HTMLSelectElement
    )
      field.value = value;
  }
}
