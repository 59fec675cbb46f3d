import { plainText } from '../../content/index.ts';
import type { Fragment } from '../../places/index.ts';
import { type Inserted, type Insertion, readWhole, type Source } from '../format.ts';
import { insertionEdits } from '../insertion.ts';
import type { InsertGrammar } from '../landing-grammar.ts';
import { applyEdits } from '../text-edits.ts';
import { Trace } from '../trace.ts';
import { decodeExactly, encodeText } from './encoding.ts';
import { positionEdit } from './position-edit.ts';
import { readParagraphs } from './read.ts';
import { plainGrammar } from './remove.ts';
import { lineEndOf, standing } from './standing.ts';

/** The text with content at a place, as words only: a blank line parts it from what is around. */
export async function insertText(source: Source, fragment: Fragment, insertion: Insertion): Promise<Inserted> {
  const bytes = await readWhole(source, 'text');
  const decoded = decodeExactly(bytes);
  const { text } = decoded;
  const byPosition = positionEdit(text, fragment, insertion.side, bytes, plainText(insertion.content));
  const trace = new Trace();
  const prose = { blocks: readParagraphs(text, trace), trace };
  trace.root.close(text.length, text.length);
  const landing = byPosition ?? insertionEdits(text, prose, fragment, insertion, grammar);
  return { ...landing, bytes: encodeText(applyEdits(text, landing.edits), decoded) };
}

const grammar: InsertGrammar = {
  ...plainGrammar,
  blocks: (blocks, { position }, source) => standing(source, position, plainText({ shape: 'blocks', blocks })),
  words: (inlines, { position }, source) => [
    {
      start: position,
      end: position,
      replacement: plainText({ shape: 'run', inlines }).replaceAll('\n', lineEndOf(source)),
    },
  ],
  part: () => ({ close: '', open: '' }),
};
