import { TabulatorFull as Tabulator } from 'tabulator-tables';

/** Tabulator as a sheet of cells: a paste is one step back, though the grid counts every cell as one. */
export function embedGrid(element: HTMLElement): void {
  const steps: number[] = [];
  const paste = (rows: Record<string, string>[]): void => {
    const cells = rows.flatMap((row, down) => Object.entries(row).map(([field, value]) => ({ down, field, value })));
    const shown = table.getRows().slice(table.getRanges()[0]?.getTopEdge() ?? 0);
    steps.push(cells.filter(({ down }) => shown[down]).length);
    for (const { down, field, value } of cells) shown[down]?.getCell(field).setValue(value);
  };
  const columns = ['A', 'B', 'C', 'D', 'E'].map((field) => ({ title: field, field, editor: 'input' as const }));
  const clipboard = { clipboard: true, clipboardPasteParser: 'range', clipboardPasteAction: paste } as object;
  const options = {
    columns,
    data: Array.from({ length: 8 }, () => ({})),
    selectableRange: 1,
    history: true,
    ...clipboard,
  };
  const table = new Tabulator(element, { ...options, keybindings: { undo: false, redo: false } });
  element.setAttribute('aria-label', 'Grid');
  element.addEventListener('keydown', (event) => {
    if (event.ctrlKey && event.code === 'KeyZ') for (let left = steps.pop() ?? 1; left > 0; left--) table.undo();
  });
}
