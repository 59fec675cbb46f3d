import { DrawerError } from '../../content/index.ts';
import { type Fragment, parseFragment, printFragment } from '../../places/index.ts';
import { nearest } from '../nearest.ts';
import type { Area } from './area.ts';

export interface AnySheet {
  readonly name: string;
  readonly hidden: boolean;
}

/** A name that stands for cells, and the reference it stands for, such as `Timber!$B$2:$D$9`. */
export interface NamedPlace {
  readonly name: string;
  readonly formula: string;
}

export interface SheetPlace<S extends AnySheet> extends Area {
  readonly sheet: S;
  /** The place with the names of the workbook, however they were said. */
  readonly called?: string;
}

/**
 * The sheet and area that a place of a workbook means.
 * @throws DrawerError `not-found` with the nearest there is, `unsupported` for a kind of place that workbooks do not have and
 *   for names that stand for no one range.
 */
export function findSheetArea<S extends AnySheet>(
  sheets: readonly S[],
  names: readonly NamedPlace[],
  fragment: Fragment,
): SheetPlace<S> {
  if (fragment.kind === 'cells') {
    const sheet = findSheet(sheets, fragment.sheet);
    const named = fragment.sheet === undefined ? fragment : { ...fragment, sheet: sheet.name };
    return { ...fragment, sheet, called: printFragment(named) };
  }
  if (fragment.kind === 'name') return findNamed(sheets, names, fragment.name);
  throw new DrawerError('unsupported/place-kind-not-here', {
    place: printFragment(fragment),
    example: `${placeOf(sheets[0])}B2:D9`,
  });
}

/** A sheet's name in front of a range, as a place has it. */
const placeOf = (sheet: AnySheet | undefined): string =>
  sheet ? printFragment({ kind: 'cells', sheet: sheet.name }) : '';

function findSheet<S extends AnySheet>(sheets: readonly S[], name: string | undefined): S {
  const found = name === undefined ? (sheets.find(({ hidden }) => !hidden) ?? sheets[0]) : itemNamed(sheets, name);
  if (found) return found;
  const near = nearest(
    name ?? '',
    sheets.map((sheet) => sheet.name),
  );
  throw new DrawerError(name === undefined ? 'not-found/sheet-none' : 'not-found/sheet-unknown', {
    name: name ?? '',
    ...several(sheets, name ?? ''),
    ...(near !== undefined && { near: placeOf(sheets.find((sheet) => sheet.name === near)) }),
  });
}

/** Which names begin so, where that is more than one. */
function several(all: readonly { readonly name: string }[], beginning: string): { readonly names?: readonly string[] } {
  const begins = all.filter(({ name }) => beginning !== '' && name.toLowerCase().startsWith(beginning.toLowerCase()));
  return begins.length > 1 ? { names: begins.map(({ name }) => name) } : {};
}

/** The one of that name, or else the only one whose name begins so, whatever the case. */
function itemNamed<T extends { readonly name: string }>(all: readonly T[], name: string): T | undefined {
  const wanted = name.toLowerCase();
  const begins = all.filter((each) => each.name.toLowerCase().startsWith(wanted));
  return all.find((each) => each.name.toLowerCase() === wanted) ?? (begins.length === 1 ? begins[0] : undefined);
}

/** A bare name is a defined name that stands for one range, a table, or else a sheet. */
function findNamed<S extends AnySheet>(
  sheets: readonly S[],
  names: readonly NamedPlace[],
  name: string,
): SheetPlace<S> {
  const found = itemNamed<NamedPlace | S>([...names, ...sheets], name);
  if (found) {
    const called = printFragment({ kind: 'name', name: found.name });
    return 'formula' in found ? { ...findDefined(sheets, found), called } : { sheet: found, called };
  }
  const near = nearest(
    name,
    [...sheets, ...names].map((each) => each.name),
  );
  throw new DrawerError('not-found/sheet-name-unknown', {
    name,
    ...several([...sheets, ...names], name),
    ...(near !== undefined && { near }),
  });
}

function findDefined<S extends AnySheet>(sheets: readonly S[], { name, formula }: NamedPlace): SheetPlace<S> {
  const fragment = findCells(formula);
  if (fragment?.kind === 'cells') return { ...fragment, sheet: findSheet(sheets, fragment.sheet) };
  throw new DrawerError('unsupported/name-not-range', { name });
}

function findCells(formula: string): Fragment | undefined {
  try {
    return formula.includes('#') ? undefined : parseFragment(formula); // a broken reference says #REF!
  } catch {
    return undefined;
  }
}
