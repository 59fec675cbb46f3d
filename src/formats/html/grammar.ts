import { parseFragment as parseHtml } from 'parse5';
import { type Grammar, locateInMarkup } from '../removal.ts';
import { isText } from './dom.ts';

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
