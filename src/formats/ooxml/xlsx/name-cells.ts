import { columnLetters } from '../../../places/index.ts';
import type { ReadTools, Source } from '../../format.ts';
import type { CellsOf } from '../../sheets/sheet-format.ts';
import { childOf, insertion, SourceTree } from '../../xml/source-tree.ts';
import { escapeText } from '../../xml/write-xml.ts';
import { namespaces } from '../opc.ts';
import { OpcEdit } from '../package-edit.ts';
import { openWorkbook } from './read.ts';

/** The workbook with a name of its own for cells (18.2.5), in place of an older one of that name. */
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

/** The elements of a workbook in front of its names; there is always a list of sheets (18.2.27). */
export const beforeNames = ['sheets', 'functionGroups', 'externalReferences'];

/** Where the last of these elements of the root ends. */
export const behind = ({ root }: SourceTree, names: readonly string[]): number =>
  root.children.findLast(({ name }) => names.includes(name))?.end ?? root.innerEnd;
