import { readFileSync, writeFileSync } from 'node:fs';
import { asBlocks, type Block, type Drawer, paragraph, parsePlace, plainText } from 'drawer';
import { formatNamed } from 'drawer/formats';
import { readFromFile, wholeOf } from 'drawer/node';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import type { Page } from 'playwright-core';
import { demoFiles } from '../support/cli.ts';
import { fromFile, keepPlace, letChoose, openOwn, stored, toEndOfDraft, visitDesk } from '../support/desk-page.ts';
import { fromMenu, heard, heardAfter, Site } from '../support/site.ts';

const site = new Site('desk');
const visit = (): Promise<Page> => visitDesk(site);

beforeAll(() => site.start(), 120_000);
afterEach(async () => {
  expect(await site.closeAll()).toEqual([]);
});
afterAll(() => site.stop());

it.each(['html', 'markdown'])('saves the draft as %s too', async (format) => {
  const page = await visit();
  await page.getByRole('tab', { name: 'costs.xlsx' }).click();
  await page.getByRole('grid', { name: 'Timber' }).waitFor();
  await keepPlace(page);
  await heard(page, /^Kept as 1/);
  await fromMenu(page, 'Paste all');
  await heard(page, /^Pasted 1/);
  await page.getByRole('button', { name: 'File', exact: true }).click();
  await page.getByLabel('Save as', { exact: true }).selectOption(format);
  await page.keyboard.press('Escape');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  const file = site.path(`saved.${format}`);
  await (await download).saveAs(file);
  const text = readFileSync(file, 'utf8');
  expect(text).toContain('£1,250.00');
  if (format === 'html') {
    const blocks: readonly Block[] = asBlocks((await readFromFile(wholeOf(file))).content);
    expect(blocks[0]).toMatchObject({ type: 'table', headerRows: 1 });
  } else expect(text).toMatch(/^\| Item +\| +Length, m \|/);
});

it('saves one’s own document in its place, with every part that was not touched as it was', async () => {
  const page = await visit();
  await keepPlace(page, 'Engine');
  await heard(page, /^Kept as 1: section/);
  await openOwn(page, 'application.docx');
  const draft = page.getByRole('textbox', { name: 'Draft' });
  await draft.getByRole('heading', { name: 'Background' }).click();
  await page.keyboard.press('End');
  await page.keyboard.press('Alt+Shift+P');
  await page.keyboard.press('Enter');
  await heard(page, /^Pasted 1 snippet into the draft/);
  await page.getByRole('button', { name: 'Save in its place' }).click();
  await heard(page, /^Saved application\.docx in its place/);
  const file = await stored(site, page, 'application.docx');
  const [before, after] = [`${demoFiles}/application.docx`, file].map((path) => unzipSync(readFileSync(path)));
  const changed = Object.keys(after ?? {}).filter((part) => !equal(before?.[part], after?.[part]));
  expect(changed).toEqual(['word/document.xml']);
  const words = JSON.stringify((await readFromFile(wholeOf(file))).content);
  expect(words).toContain('Engine');
  // Every block that was there is unchanged.
  const old = asBlocks((await readFromFile(wholeOf(`${demoFiles}/application.docx`))).content);
  const now = asBlocks((await readFromFile(wholeOf(file))).content).map((block) => JSON.stringify(block));
  expect(old.filter((block) => !now.includes(JSON.stringify(block)))).toEqual([]);
});

it.each([
  [
    'application.docx',
    'word/settings.xml',
    /<\/w:settings>/,
    '<w:documentProtection w:edit="readOnly" w:enforcement="1"/>$&',
  ],
  ['budget.xlsx', 'xl/worksheets/sheet1.xml', /<\/sheetData>/, '$&<sheetProtection sheet="1"/>'],
])('says at once that %s cannot be saved in its place where it is protected', async (name, part, end, protection) => {
  const page = await visit();
  const parts = unzipSync(readFileSync(`${demoFiles}/${name}`));
  const before = strFromU8(parts[part] as Uint8Array);
  parts[part] = strToU8(before.replace(end, protection));
  const path = site.path(name);
  writeFileSync(path, zipSync(parts));
  await letChoose(page, name, path);
  await fromFile(page, 'Open your own');
  await heard(page, /is protected against changes/);
  // Of a workbook, other sheets may be saved.
  const canSave = name.endsWith('.xlsx');
  expect(await page.getByRole('button', { name: 'Save in its place' }).isVisible()).toBe(canSave);
  expect(await page.getByRole('button', { name: 'Save', exact: true }).isVisible()).toBe(!canSave);
});

it('saves one’s own workbook in its place, with values that a snippet brought as values', async () => {
  const page = await visit();
  await page.getByRole('tab', { name: 'costs.xlsx' }).click();
  await page.getByRole('grid', { name: 'Timber' }).waitFor();
  await page.getByRole('gridcell', { name: '£1,250.00' }).click();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Control+c');
  await heard(page, /^Kept as 1: table, 2 × 1/);
  await openOwn(page, 'budget.xlsx');
  await page.locator('.draft-place .tabulator-row').nth(24).locator('.tabulator-cell').nth(5).click();
  await page.keyboard.press('Alt+Shift+P');
  await page.keyboard.press('Enter');
  await heard(page, /^Pasted 1 snippet into the draft/);
  await page.getByRole('button', { name: 'Save in its place' }).click();
  await heard(page, /^Saved budget\.xlsx in its place/);
  const file = await stored(site, page, 'budget.xlsx');
  const { content } = await readFromFile(parsePlace(`${file}#E25:E26`));
  expect(content).toMatchObject({
    shape: 'cells',
    rows: [[{ type: 'number', value: 1250, text: '£1,250.00' }], [{ type: 'number', text: '£864.40' }]],
  });
});

it('lets slips be dropped into the draft where they are to land, and formats what is written', async () => {
  const page = await visit();
  await keepPlace(page, 'Engine');
  await heard(page, /^Kept as 1/);
  const draft = page.getByRole('textbox', { name: 'Draft' });
  await draft.click();
  await page.keyboard.type('Before');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Behind');
  await page.getByLabel('Style of the paragraph').selectOption('heading2');
  await draft.getByRole('heading', { name: 'Behind', level: 2 }).waitFor();
  await page.getByLabel('Style of the paragraph').selectOption('paragraph');
  for (const pressed of [true, false]) {
    await page.getByRole('button', { name: 'Numbered list' }).click();
    await page.getByRole('button', { name: 'Numbered list', pressed }).waitFor();
  }
  await page
    .locator('drawer-panel [role="option"]')
    .first()
    .dragTo(draft.getByText('Before'), { targetPosition: { x: 60, y: 8 } });
  await heard(page, /^Pasted 1 snippet into the draft/);
  expect((await draft.innerText()).replace(/\s+/g, ' ').trim()).toMatch(/^Before Engine .* Behind$/);
  await page.getByRole('button', { name: 'Undo in the draft' }).click();
  await draft.getByRole('heading', { name: 'Engine' }).waitFor({ state: 'detached' });
  await page.getByText('Kept in this browser').waitFor();
});

it('refuses at once what would keep its editor busy for long, and says where it can go', async () => {
  const page = await visit();
  await page.evaluate(async () => {
    const { drawer } = document.querySelector('drawer-panel') as unknown as { drawer: Drawer };
    const row = Array.from({ length: 10 }, (_, value) => ({ type: 'number', value, text: String(value) }) as const);
    const content = { shape: 'cells', rows: Array.from({ length: 401 }, () => row) } as const;
    await drawer.keep([{ content, origin: { file: 'large.xlsx' } }]);
  });
  await page.locator('drawer-panel [role="option"]').waitFor();
  await page.locator('drawer-panel [role="listbox"]').focus();
  await page.keyboard.press('Enter');
  await heard(page, /^Its tables have 4,010 cells, .* at most 4,000 at once\. Paste it into a sheet/);
  expect(await page.getByRole('textbox', { name: 'Draft' }).innerText()).toBe('\n');
  await fromFile(page, 'New sheet');
  await page.locator('.draft-place .tabulator-cell').first().waitFor();
  await page.locator('drawer-panel [role="listbox"]').focus();
  await page.keyboard.press('Enter');
  await heard(page, /^Pasted 1 snippet into the draft/);
});

it('has every sheet of a workbook, each cell where it is in the file, and saves what was written in several', async () => {
  const page = await visit();
  await page.evaluate(async () => {
    const { drawer } = document.querySelector('drawer-panel') as unknown as { drawer: Drawer };
    const content = { shape: 'cells', rows: [[{ type: 'number', value: 12.5, text: '12.50' }]] } as const;
    await drawer.keep([{ content, origin: { file: 'quote.xlsx' } }]);
  });
  await openOwn(page, 'costs.xlsx');
  const paste = async (sheet: string, row: number, column: number): Promise<void> => {
    await page.getByRole('tablist', { name: 'Sheets' }).getByRole('tab', { name: sheet }).click();
    const shown = page.locator('.sheet-grid:not([hidden]) .tabulator-row').nth(row - 1);
    await shown.locator('.tabulator-cell').nth(column).click();
    await page.locator('drawer-panel [role="listbox"]').focus();
    await heardAfter(page, /^Pasted 1 snippet into the draft/, () => page.keyboard.press('Enter'));
  };
  // Nothing lands where it could not be saved: A1:D1 are one cell.
  await page.getByRole('tablist', { name: 'Sheets' }).getByRole('tab', { name: 'Fittings' }).click();
  await page.locator('.sheet-grid:not([hidden]) .tabulator-row').first().locator('.tabulator-cell').nth(2).click();
  await page.locator('drawer-panel [role="listbox"]').focus();
  await heardAfter(page, /^B1 is part of a merged cell/, () => page.keyboard.press('Enter'));
  await page.getByText('Saved', { exact: true }).waitFor();
  // Below a hidden row, and in another sheet.
  await paste('Timber', 8, 2);
  await paste('Fittings', 5, 2);
  await page.getByText('Not saved yet').waitFor();
  await page.getByRole('button', { name: 'Save in its place' }).click();
  await heard(page, /^Saved costs\.xlsx in its place/);
  expect(await page.getByRole('tab', { name: 'Fittings' }).getAttribute('aria-selected')).toBe('true');
  const file = await stored(site, page, 'costs.xlsx');
  const cells = async (place: string) => (await readFromFile(parsePlace(`${file}#${place}`))).content;
  expect(await cells('Timber!A8:C8')).toMatchObject({
    rows: [[{ value: 'Carriage' }, { type: 'number', value: 12.5 }, { text: '£75.00' }]],
  });
  expect(await cells('Fittings!B5')).toMatchObject({ rows: [[{ type: 'number', value: 12.5 }]] });
  expect(await cells('Sources of money!A1:B4')).toEqual(
    (await readFromFile(parsePlace(`${demoFiles}/costs.xlsx#Sources of money!A1:B4`))).content,
  );
  // A file of another kind holds one of its sheets, which is said.
  await page.getByRole('button', { name: 'File', exact: true }).click();
  await page.getByLabel('Save as', { exact: true }).selectOption('ods');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await heard(page, /^Saved the sheet Fittings alone as draft\.ods, .*; the others are not in it/);
});

it('grows with what is pasted into a new sheet, and keeps each number a number', async () => {
  const page = await visit();
  await page.evaluate(async () => {
    const { drawer } = document.querySelector('drawer-panel') as unknown as { drawer: Drawer };
    const number = (value: number) => ({ type: 'number', value, text: value.toFixed(2) }) as const;
    const rows = Array.from({ length: 70 }, (_, row) => Array.from({ length: 12 }, (_, at) => number(row + at / 4)));
    await drawer.keep([{ content: { shape: 'cells', rows }, origin: {} }]);
  });
  await fromFile(page, 'New sheet');
  await page.locator('.draft-place .tabulator-cell').first().waitFor();
  await page.locator('drawer-panel [role="listbox"]').focus();
  await page.keyboard.press('Enter');
  await heard(page, /^Pasted 1 snippet into the draft/);
  // The step is taken back as one, and done again.
  await page.locator('.draft-place .tabulator-cell').nth(1).click();
  await page.keyboard.press('Control+z');
  await page.waitForFunction(() => !document.querySelector('.draft-place')?.textContent?.includes('2.75'));
  await page.locator('.draft-place .tabulator-cell').nth(1).click();
  await page.locator('drawer-panel [role="listbox"]').focus();
  await heardAfter(page, /^Pasted 1 snippet into the draft/, () => page.keyboard.press('Enter'));
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  const file = site.path('grown.xlsx');
  await (await download).saveAs(file);
  const { content } = await readFromFile(wholeOf(file));
  expect(content.shape === 'cells' && [content.rows.length, content.rows[69]?.[11]]).toEqual([
    70,
    expect.objectContaining({ type: 'number', value: 71.75 }),
  ]);
});

it('shows where it will land how something will look, in each style, and puts it there so', async () => {
  const page = await visit();
  await page.evaluate(async () => {
    const { drawer } = document.querySelector('drawer-panel') as unknown as { drawer: Drawer };
    const inlines = [{ type: 'text', text: 'loud', marks: { bold: true, colour: '#c00000' } }] as const;
    await drawer.keep([{ content: { shape: 'run', inlines }, origin: {} }]);
  });
  const draft = page.getByRole('textbox', { name: 'Draft' });
  await draft.click();
  await page.keyboard.type('Before it.');
  await page.locator('drawer-panel [role="listbox"]').focus();
  await page.keyboard.press('v');
  const shown = page.locator('.landing');
  const look = () =>
    shown.evaluate((box) => {
      const style = getComputedStyle(box.querySelector('strong, span') ?? box.firstElementChild ?? box);
      return [Number(style.fontWeight) > 500, style.color];
    });
  const own = await draft.evaluate((box) => getComputedStyle(box).color);
  await page.getByRole('radio', { name: 'as the place it lands in' }).waitFor();
  expect(await look()).toEqual([true, own]);
  await page.getByRole('radio', { name: 'as it looked' }).click();
  expect((await shown.innerHTML()).replace(/\s/g, '')).toMatch(/color:(?:#c00000|rgb\(192,0,0\))/i);
  await page.getByRole('radio', { name: 'words only' }).click();
  expect(await shown.locator('strong').count()).toBe(0);
  // It is no part of the draft until it is pasted.
  expect(await draft.locator('p').first().innerText()).not.toContain('Not saved');
  await page.getByRole('button', { name: 'Leave it' }).click();
  expect([await shown.count(), await draft.innerText()]).toEqual([0, 'Before it.']);
  await page.locator('drawer-panel [role="listbox"]').focus();
  await page.keyboard.press('v');
  await page.getByRole('radio', { name: 'as it looked' }).click();
  await page.locator('drawer-panel .sheet').getByRole('button', { name: 'Paste', exact: true }).click();
  await heard(page, /^Pasted 1 snippet into the draft/);
  expect([await shown.count(), await draft.innerText()]).toEqual([0, 'Before it.loud']);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  const file = site.path('loud.docx');
  await (await download).saveAs(file);
  const [block] = asBlocks((await readFromFile(wholeOf(file))).content);
  expect(block).toMatchObject({
    inlines: [{ text: 'Before it.' }, { text: 'loud', marks: { bold: true, colour: '#c00000' } }],
  });
});

it('keeps raised and coloured words of a paragraph that is written in', async () => {
  const page = await visit();
  await openOwn(page, 'survey.docx');
  await page.getByText('Saved', { exact: true }).waitFor();
  const draft = page.getByRole('textbox', { name: 'Draft' });
  await draft.getByText('worth restoring').click();
  await page.keyboard.press('Home');
  await page.keyboard.type('Now: ');
  await page.getByRole('button', { name: 'Save in its place' }).click();
  await heard(page, /^Saved survey\.docx in its place/);
  const words = JSON.stringify((await readFromFile(wholeOf(await stored(site, page, 'survey.docx')))).content);
  expect(words).toContain('Now: The ferry is ');
  expect(words).toContain('{"type":"text","text":"2","marks":{"position":"superscript"}}');
});

it('keeps every blank line and space of a document that ends in a table, which is written behind', async () => {
  const page = await visit();
  const words = (text: string) => paragraph(text);
  const cell = (text: string) => ({ blocks: [words(text)] });
  const blocks: readonly Block[] = [
    words('One  with   spaces '),
    paragraph(''),
    words('Two'),
    { type: 'table', rows: [{ cells: [cell('a'), cell('b')] }] },
  ];
  const own = site.path('spaced.docx');
  writeFileSync(own, await written(blocks));
  await openOwn(page, 'spaced.docx', own);
  const draft = page.getByRole('textbox', { name: 'Draft' });
  await toEndOfDraft(page);
  await page.keyboard.type('Behind  it');
  await draft.getByText('Two').click();
  await page.keyboard.press('End');
  await page.keyboard.type('!');
  await page.getByRole('button', { name: 'Save in its place' }).click();
  await heard(page, /^Saved spaced\.docx in its place/);
  const now = asBlocks((await readFromFile(wholeOf(await stored(site, page, 'spaced.docx')))).content);
  const told = now.map((block) => (block.type === 'table' ? 'table' : plainText({ shape: 'blocks', blocks: [block] })));
  expect(told).toEqual(['One  with   spaces ', '', 'Two!', 'table', 'Behind  it']);
});

it('asks before what is not saved gives way, and stops what takes long', async () => {
  const page = await visit();
  await openOwn(page, 'survey.docx');
  const draft = page.getByRole('textbox', { name: 'Draft' });
  await draft.getByRole('heading', { name: 'Summary' }).click();
  await page.keyboard.type('X');
  await fromFile(page, 'New document');
  const asked = page.getByRole('dialog', { name: 'What you wrote is not saved' });
  await asked
    .getByRole('button', { name: 'Leave it' })
    .or(asked.getByRole('button', { name: 'Cancel' }))
    .click();
  await page.getByRole('heading', { name: 'survey.docx' }).waitFor();
  const long = site.path('very-long.docx');
  const blocks = Array.from({ length: 60_000 }, (_, number) => paragraph(`Paragraph ${number} of the log.`));
  writeFileSync(long, await written(blocks));
  await letChoose(page, 'very-long.docx', long);
  await fromFile(page, 'Open your own');
  await asked.getByRole('button', { name: 'Go on without saving' }).click();
  await page.locator('.working').getByRole('button', { name: 'Stop' }).click();
  await heard(page, /stopped/i);
  // What was there is there still.
  await page.getByRole('heading', { name: 'survey.docx' }).waitFor();
  expect(await draft.getByRole('heading', { name: /Summary/ }).innerText()).toContain('X');
  await page.getByText('Not saved yet').waitFor();
});

async function written(blocks: readonly Block[]): Promise<Uint8Array> {
  const { write } = await formatNamed('docx').load();
  return (await write?.({ shape: 'blocks', blocks }, { media: new Map() })) as Uint8Array;
}

const equal = (one: Uint8Array | undefined, other: Uint8Array | undefined): boolean =>
  one !== undefined && other !== undefined && Buffer.compare(one, other) === 0;
