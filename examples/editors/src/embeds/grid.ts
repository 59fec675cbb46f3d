import { TabulatorFull as Tabulator } from 'tabulator-tables';

/** Tabulator as a sheet of cells: a paste is one step back, though the grid counts every cell as one. */
export function embedGrid(element: HTMLElement): void {
  const steps: number[] = [];
  const columns = ['A', 'B', 'C', 'D', 'E'].map((field) => ({ title: field, field, editor: 'input' as const }));
  const table = new Tabulator(element, {
    ...{ columns, data: Array.from({ length: 8 }, () => ({})), selectableRange: 1, history: true, headerSort: false },
    ...{ clipboard: true, clipboardPasteParser: 'range', keybindings: { undo: false, redo: false } },
    clipboardPasteAction: (rows: Record<string, string>[]) => {
      const from = table.getRanges()[0]?.getTopEdge() ?? 0;
      const cells = rows.flatMap((row, at) =>
        Object.entries(row).map(([field, value]) => ({ row: from + at, field, value })),
      );
      for (const { row, field, value } of cells) table.getRows()[row]?.getCell(field).setValue(value);
      steps.push(cells.filter(({ row }) => table.getRows()[row]).length);
    },
  });
  element.addEventListener('keydown', (event) => {
    if (event.ctrlKey && event.code === 'KeyZ') for (let left = steps.pop() ?? 1; left > 0; left--) table.undo();
  });
}
