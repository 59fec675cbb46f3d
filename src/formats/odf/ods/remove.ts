import type { Fragment } from '../../../places/index.ts';
import type { ReadTools, Removed, Source } from '../../format.ts';
import { checkUnsigned } from '../../package/package-edit.ts';
import { replaceParts } from '../../package/replace.ts';
import { partBytes } from '../../package/zip.ts';
import type { Area } from '../../sheets/area.ts';
import { chosenPictures, pointingNotes } from '../../sheets/content.ts';
import { decodeExactly, encodeText } from '../../text/encoding.ts';
import { applyEdits } from '../../text-edits.ts';
import { contentPart, openOdf } from '../package.ts';
import { emptyOdsCells } from './empty-cells.ts';
import { findOdsPlace, framedPictures } from './read.ts';

/** The spreadsheet with a place's cells emptied, or its pictures taken off: their looks stay, and so does every other part. */
export async function removeOds(
  source: Source,
  fragments: readonly Fragment[],
  tools: ReadTools = {},
): Promise<Removed> {
  const zip = await openOdf(source, tools);
  checkUnsigned(zip);
  const decoded = decodeExactly((await partBytes(zip, contentPart)) ?? new Uint8Array());
  let { text } = decoded;
  const pointing: string[] = [];
  const asked = fragments.flatMap((fragment) => (fragment.kind === 'picture' ? [fragment] : []));
  for (const fragment of fragments) {
    if (fragment.kind === 'picture') continue;
    const emptied = emptyOdsCells(text, await findAreas(fragment), tools.hidden === true);
    text = applyEdits(text, emptied.edits); // cells keep their places, so that the next is found as before
    pointing.push(...emptied.pointing);
  }
  if (asked.length > 0) {
    const all = framedPictures(text);
    const chosen = new Set(asked.flatMap((fragment) => chosenPictures(all, fragment, 'spreadsheet')));
    text = applyEdits(
      text,
      [...chosen].map(({ extent }) => ({ ...extent, replacement: '' })),
    );
  }
  const bytes = await replaceParts(source, zip, new Map([[contentPart, encodeText(text, decoded)]]), tools);
  return { bytes, notes: pointingNotes(pointing) };

  async function findAreas(fragment: Fragment): Promise<(sheet: string, hidden: boolean) => Area | undefined> {
    if (fragment.kind === 'whole') return (_, hidden) => (hidden && !tools.hidden ? undefined : {});
    const { sheet, ...area } = await findOdsPlace(zip, fragment);
    return (name) => (name === sheet.name ? area : undefined);
  }
}
