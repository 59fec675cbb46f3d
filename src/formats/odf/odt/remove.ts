import type { Fragment } from '../../../places/index.ts';
import type { ReadTools, Removed, Source } from '../../format.ts';
import { checkUnsigned } from '../../package/package-edit.ts';
import { replaceParts } from '../../package/replace.ts';
import { partBytes } from '../../package/zip.ts';
import { type Grammar, withoutPlaces } from '../../removal.ts';
import { decodeExactly, encodeText } from '../../text/encoding.ts';
import { Trace } from '../../trace.ts';
import { unpairedMarkers, xmlGrammar } from '../../xml/text-of.ts';
import { contentPart, openOdf } from '../package.ts';
import { readPackage } from './read.ts';

/** The document without a place; only its content part changes, and in it only the place. */
export async function removeOdt(source: Source, fragments: readonly Fragment[], tools?: ReadTools): Promise<Removed> {
  const zip = await openOdf(source, tools);
  checkUnsigned(zip);
  const decoded = decodeExactly((await partBytes(zip, contentPart)) ?? new Uint8Array());
  const trace = new Trace();
  const document = await readPackage(zip, { trace, source: decoded });
  const text = withoutPlaces(decoded.text, { ...document, trace }, fragments, odtGrammar);
  const bytes = await replaceParts(source, zip, new Map([[contentPart, encodeText(text, decoded)]]), tools);
  return { bytes, notes: [] };
}

const pairs = [
  { start: 'bookmark-start', end: 'bookmark-end', key: 'name' },
  { start: 'reference-mark-start', end: 'reference-mark-end', key: 'name' },
  { start: 'change-start', end: 'change-end', key: 'change-id' },
  { start: 'toc-mark-start', end: 'toc-mark-end', key: 'id' },
  { start: 'user-index-mark-start', end: 'user-index-mark-end', key: 'id' },
  { start: 'alphabetical-index-mark-start', end: 'alphabetical-index-mark-end', key: 'id' },
  { start: 'fieldmark-start', end: 'fieldmark-end', key: 'name' },
];

/** ISO/IEC 26300-1: marks stand inside paragraphs, so what is left of them needs one. */
export const odtGrammar: Grammar = {
  ...xmlGrammar,
  remains: (source) => unpairedMarkers(source, pairs),
  remainsInside: true,
  emptyParagraph: (source) => wrapped(source, unpairedMarkers(source, pairs)),
};

/** The paragraph's own tags around what stays of it. */
function wrapped(source: string, inside: string): string {
  const [open = '', name = ''] = /^<([\w.:-]+)[^<>]*>/.exec(source) ?? [];
  return open.endsWith('/>') ? open : `${open}${inside}</${name}>`;
}
