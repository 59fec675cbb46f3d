import { columnLetters } from '../../../places/index.ts';
import type { ReadTools, Source } from '../../format.ts';
import type { CellsOf } from '../../sheets/sheet-format.ts';
import { childOf, insertion, SourceTree } from '../../xml/source-tree.ts';
import { escapeText } from '../../xml/write-xml.ts';
import { namespaces } from '../opc.ts';
import { OpcEdit } from '../package-edit.ts';
import { openWorkbook } from './read.ts';

/** Defines a name for cells (ISO/IEC 29500-1, 18.2.5), or moves an existing name to them. */
export async function nameXlsxCells(
  source: Source,
  name: string,
  { sheet, rows, columns }: CellsOf,
  tools: ReadTools,
): Promise<Uint8Array> {
  const book = await openWorkbook(source, tools);
  const edit = new OpcEdit(source, book.zip, tools);
  await edit.load(book.main);
  const tree = new SourceTree(edit.findText(book.main) ?? '', book.main, namespaces);
  const [from, to] = [rows.from, rows.to];
  const range = `$${columnLetters(columns.from)}$${from}:$${columnLetters(columns.to)}$${to}`;
  const formula = `'${sheet.replaceAll("'", "''")}'!${range}`;
  const known = tree
    .all('definedName')
    .find(({ attributes }) => attributes.name?.toLowerCase() === name.toLowerCase() && !attributes.localSheetId);
  const p = tree.prefix('');
  const element = `<${p}definedName name="${name}">${escapeText(formula)}</${p}definedName>`;
  const all = childOf(tree.root, 'definedNames');
  const edits = known
    ? [tree.setWords(known, formula)]
    : all
      ? tree.append(all, element)
      : [insertion(behind(tree, beforeNames), `<${p}definedNames>${element}</${p}definedNames>`)];
  edit.setText(book.main, tree.edited(edits));
  return edit.bytes();
}

/** The elements that precede the names of a workbook; `sheets` is always present (18.2.27). */
export const beforeNames = ['sheets', 'functionGroups', 'externalReferences'];

/** The end of the last of these child elements of the root. */
export const behind = ({ root }: SourceTree, names: readonly string[]): number =>
  root.children.findLast(({ name }) => names.includes(name))?.end ?? root.innerEnd;
