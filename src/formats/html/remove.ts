import { parseFragment as parseHtml } from 'parse5';
import type { Fragment } from '../../places/index.ts';
import { type ReadTools, type Removed, readWhole, type Source } from '../format.ts';
import { type Grammar, locateInMarkup, withoutPlaces } from '../removal.ts';
import { decodeExactly, encodeText } from '../text/encoding.ts';
import { Trace } from '../trace.ts';
import { isText } from './dom.ts';
import { encodingOfPage, readPage } from './read.ts';

/** The page without a place. */
export async function removeHtml(
  source: Source,
  fragments: readonly Fragment[],
  tools: ReadTools = {},
): Promise<Removed> {
  const bytes = await readWhole(source, 'text');
  const decoded = decodeExactly(bytes, encodingOfPage(bytes));
  const trace = new Trace();
  const prose = { ...readPage(decoded.text, tools, trace), trace };
  return { bytes: encodeText(withoutPlaces(decoded.text, prose, fragments, htmlGrammar), decoded), notes: [] };
}

export const htmlGrammar: Grammar = {
  remains: () => '',
  remainsInside: false,
  emptyParagraph: () => '',
  mustStay: () => false,
  locate: (source, piece, from, to) => locateInMarkup(source, piece, from, to, decodeReference),
  keepSpaces: () => [],
  reach: (source, extent) => {
    const [before = ''] =
      /(?:^|(?<=[\n\r]))[ \t]*$/.exec(source.slice(Math.max(0, extent.start - 400), extent.start)) ?? [];
    const lineStart = extent.start - before.length;
    const [after] = /^[ \t]*(?:\r\n|[\n\r])/.exec(source.slice(extent.end, extent.end + 400)) ?? [];
    const startsLine = lineStart === 0 || /[\n\r]/.test(source[lineStart - 1] ?? '');
    return startsLine && after !== undefined ? { start: lineStart, end: extent.end + after.length } : extent;
  },
};

/** HTML, section 13.5: what a named or numbered reference stands for. */
function decodeReference(reference: string): string {
  const [node] = parseHtml(reference).childNodes;
  return node && isText(node) ? node.value : reference;
}
