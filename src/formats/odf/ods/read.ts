import { type Fragment, printFragment } from '../../../places/index.ts';
import {
  type NoteCounter,
  type Outline,
  type OutlineEntry,
  pointsOf,
  type ReadTools,
  type Source,
} from '../../format.ts';
import { partBytes, type Zip } from '../../package/zip.ts';
import {
  type Area,
  type AreaCells,
  cellsContent,
  emptyCells,
  type FullArea,
  overlaps,
  usedArea,
} from '../../sheets/area.ts';
import { areaSize } from '../../sheets/content.ts';
import { findSheetArea, type SheetPlace } from '../../sheets/places.ts';
import { outOfDateNotes } from '../../sheets/recompute.ts';
import type { OpenWorkbook } from '../../sheets/sheet-format.ts';
import { scanXml, scanXmlText } from '../../xml/scan-xml.ts';
import { contentPart, namespaces, openOdf, readOdfPart } from '../package.ts';
import { StyleBook } from '../styles.ts';
import { type FramedPicture, OdsReader, type OdsSheet, type SheetInterest } from './sheet-reader.ts';

/** Opens a spreadsheet for reading. */
export async function openOds(source: Source, tools: ReadTools): Promise<OpenWorkbook> {
  const zip = await openOdf(source, tools);
  const includesHidden = tools.hidden === true;
  return {
    async sheets() {
      const { sheets } = await readSheets(zip, () => ({}));
      return sheets.map((sheet) => ({
        name: sheet.name,
        hidden: sheet.hidden,
        read: async (notes) => readArea({ sheet }, includesHidden, notes),
      }));
    },
    async find(place) {
      const found = await findOdsPlace(zip, place);
      return { called: found.called, read: async (notes) => readArea(found, includesHidden, notes) };
    },
    async pictures() {
      const { sheets } = await readSheets(zip, () => ({ onlyCorners: true }));
      return sheets.flatMap(({ pictures }) => pictures.map(({ picture }) => picture));
    },
    fetchPicture: (part) => partBytes(zip, part),
    named: () => readSheets(zip, () => undefined),
    outline: () => outlineSheets(zip),
  };
}

/** Every picture of the text of a content part, with where it stands. */
export function framedPictures(source: string): FramedPicture[] {
  const reader = new OdsReader(new StyleBook(), () => undefined);
  scanXmlText(source, contentPart, namespaces, reader);
  return reader.sheets.flatMap(({ pictures }) => pictures);
}

/** Reads the sheets of interest; with `isEnough` no further than that says. */
export async function readSheets(zip: Zip, interest: SheetInterest, isEnough?: (sheet: OdsSheet) => boolean) {
  const styles = new StyleBook();
  await readOdfPart(zip, 'styles.xml', styles);
  const entry = zip.find(contentPart);
  const reader = new OdsReader(styles, interest, isEnough);
  if (entry) await scanXml(zip.chunks(entry), entry.name, namespaces, reader);
  return { sheets: reader.sheets, names: reader.names };
}

/** The sheet with the cells that a place means. A named sheet is read alone; for other names all has to be known first. */
export async function findOdsPlace(zip: Zip, fragment: Fragment): Promise<SheetPlace<OdsSheet>> {
  if (fragment.kind === 'cells' && fragment.sheet !== undefined) {
    const wanted = fragment.sheet.toLowerCase();
    const { sheets, names } = await readSheets(
      zip,
      (name) => (name.toLowerCase() === wanted ? fragment : undefined),
      ({ name }) => name.toLowerCase() === wanted,
    );
    if (sheets.some(({ name }) => name.toLowerCase() === wanted)) return findSheetArea(sheets, names, fragment);
  }
  const all = await readSheets(zip, () => undefined);
  const { sheet, ...area } = findSheetArea(all.sheets, all.names, fragment);
  const { sheets } = await readSheets(
    zip,
    (name) => (name === sheet.name ? area : undefined),
    ({ name }) => name === sheet.name,
  );
  return { ...area, sheet: sheets.find(({ name }) => name === sheet.name) ?? sheet };
}

function readArea(
  { sheet, called: _, ...asked }: SheetPlace<OdsSheet>,
  includesHidden: boolean,
  notes: NoteCounter,
): AreaCells {
  const area = usedArea(asked, sheet);
  if (!area) return emptyCells;
  if (sheet.comments > 0) notes.add('cell-comment-left', sheet.comments);
  if (isWhole(asked) && sheet.pictures.length > 0) notes.add('picture-over-cells-left', sheet.pictures.length);
  const merges = sheet.merges.filter(
    (merge) => overlaps(merge.columns, area.columns) && overlaps(merge.rows, area.rows),
  );
  const taken = cellsContent(area, sheet, merges, { includesHidden, notes });
  notes.addAll(outOfDateNotes(taken.content.rows));
  return taken;
}

const isWhole = ({ rows, columns }: Area): boolean => !rows && !columns;

async function outlineSheets(zip: Zip): Promise<Outline> {
  const { sheets, names } = await readSheets(zip, () => ({ onlyCorners: true }));
  let pictures = 0;
  const entries = sheets.flatMap((sheet): OutlineEntry[] => [
    sheetEntry(sheet),
    ...sheet.pictures.map(
      ({ picture: { alt, width, height } }): OutlineEntry => ({
        place: `picture=${++pictures}`,
        kind: 'picture',
        depth: 1,
        label: alt ?? '',
        ...pointsOf({ width, height }),
      }),
    ),
  ]);
  const named = names
    .filter(({ name }) => !name.startsWith('__'))
    .map(
      ({ name, formula }): OutlineEntry => ({
        place: printFragment({ kind: 'name', name }),
        kind: 'name',
        depth: 0,
        label: `${name} (${formula})`,
      }),
    );
  return { entries: [...entries, ...named], notes: [] };
}

function sheetEntry(sheet: OdsSheet): OutlineEntry {
  const used = usedArea({}, sheet);
  const area: FullArea | undefined = used && {
    rows: { from: 1, to: used.rows.to },
    columns: { from: 1, to: used.columns.to },
  };
  return {
    place: printFragment({ kind: 'cells', sheet: sheet.name, ...area }),
    kind: 'sheet',
    depth: 0,
    label: sheet.name,
    ...(sheet.hidden && { isHidden: true as const }),
    size: areaSize(area),
  };
}
