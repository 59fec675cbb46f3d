import {
  asBlocks,
  type Content,
  DrawerError,
  doc,
  noMedia,
  paragraph,
  parseContent,
  plainText,
  run,
} from '../content/index.ts';
import { type Format, type Slot, type SlotValue, type Source, sourceOf } from '../formats/index.ts';
import { type Fragment, parseFragment } from '../places/index.ts';
import { type ConformanceCase, expectRejection, expectSame } from './case.ts';

/** A format that is tried out, with a file of its own: several paragraphs or rows of words. */
export interface FormatSubject {
  readonly format: Format;
  /** With its ending. */
  readonly fileName: string;
  readonly bytes: Uint8Array;
}

/** What every format does (`Format`), as far as it has the method for it. */
export const formatCases: readonly ConformanceCase<FormatSubject>[] = [
  {
    name: 'takes every place that it outlines, and the same again by the place that it then gives',
    async run({ format, fileName, bytes }) {
      if (!format.outline || !format.read) return;
      const { entries } = await format.outline(sourceOf(bytes, fileName), { paragraphs: true, columns: true });
      for (const { place } of entries) {
        const { content, place: given } = await format.read(sourceOf(bytes, fileName), parseFragment(place));
        expectSame(`what #${place} holds, once checked`, parseContent(content), content);
        if (given === undefined) continue;
        const again = await format.read(sourceOf(bytes, fileName), parseFragment(given));
        expectSame(`what #${given} holds, as #${place} is called`, again.content, content);
      }
    },
  },
  {
    name: 'takes content that a drawer can hold, and leaves the file alone',
    async run({ format, fileName, bytes }) {
      const before = bytes.slice();
      const content = await wholeOf(format, bytes, fileName);
      if (!content) return;
      expectSame('the content, once checked', parseContent(content), content);
      expectSame('the bytes of the file', bytes, before);
    },
  },
  {
    name: 'says in one error that a place is not there',
    async run({ format, fileName, bytes }) {
      for (const place of ['section=No such section here', 'table=99', 'NoSuchSheet!A1', 'line=999998,999999', '99']) {
        const taking = async () => format.read?.(sourceOf(bytes, fileName), parseFragment(place));
        if (format.read) await expectRejection(`#${place}`, taking, DrawerError.is);
      }
    },
  },
  {
    name: 'reads a file that ends too early, or says in one error that it cannot',
    async run({ format, fileName, bytes }) {
      if (!format.read) return;
      for (let part = 0; part <= 10; part++) {
        const cut = bytes.slice(0, Math.floor((bytes.length * part) / 11));
        await format.read(sourceOf(cut, fileName), { kind: 'whole' }).catch(onlyDrawerErrors);
      }
    },
  },
  {
    name: 'gives back the words that it writes',
    async run({ format, fileName }) {
      if (!format.write || !format.read) return;
      const content = doc(paragraph('Zürich – 北京 🛶 <&>'), paragraph('Second paragraph, with “quotes” and 1,234.50'));
      const bytes = await format.write(content, { media: noMedia });
      const again = await wholeOf(format, bytes, fileName);
      expectSame('the words', wordsOf(again), wordsOf(content));
    },
  },
  {
    name: 'inserts at the end, and keeps all that was there',
    async run({ format, fileName, bytes }) {
      const before = await wholeOf(format, bytes, fileName);
      if (!format.insert || !before) return;
      const insertion = { content: run('Larch planks came late'), media: noMedia, style: 'local' } as const;
      const inserted = await format.insert(sourceOf(bytes, fileName), { kind: 'whole' }, insertion);
      const after = wordsOf(await wholeOf(format, inserted.bytes, fileName));
      const came = wordsOf(insertion.content);
      expectSame('how often the new words are there', after.split(came).length - 1, 1);
      expectSame('what was there before', after.replace(came, ''), wordsOf(before));
    },
  },
  {
    name: 'removes what it inserted, and nothing else',
    async run({ format, fileName, bytes }) {
      const before = await wholeOf(format, bytes, fileName);
      if (!format.insert || !format.remove || before?.shape !== 'blocks') return;
      const content = doc(paragraph('Larch planks came late'));
      const insertion = { content, media: noMedia, style: 'plain' } as const;
      const { bytes: more } = await format.insert(sourceOf(bytes, fileName), { kind: 'whole' }, insertion);
      const place = parseFragment(':~:text=Larch%20planks%20came%20late');
      if (!(await offers(format, sourceOf(more, fileName), place))) return;
      const { bytes: less } = await format.remove(sourceOf(more, fileName), [place]);
      expectSame('the words', wordsOf(await wholeOf(format, less, fileName)), wordsOf(before));
    },
  },
  {
    name: 'fills the places of a form that it finds, and finds them again',
    async run({ format, fileName, bytes }) {
      const slots = await format.slots?.(sourceOf(bytes, fileName));
      if (!format.slots || !format.fill || !slots) return;
      const values = new Map(slots.map((slot) => [slot.key, valueFor(slot)]));
      const filled = await format.fill(sourceOf(bytes, fileName), values);
      const again = await format.slots(sourceOf(filled.bytes, fileName));
      const sure = (all: readonly Slot[]): string[] => all.filter(({ isGuess }) => !isGuess).map(({ key }) => key);
      expectSame('the places', sure(again), sure(slots));
    },
  },
  {
    name: 'reads no more of a long file than it is handed pieces for',
    async run({ format, fileName, bytes }) {
      if (!format.read) return;
      const plain = sourceOf(bytes, fileName);
      const source: Source = {
        ...plain,
        read(start, end) {
          if (!(start >= 0 && end >= start && end <= plain.size)) throw new Error(`reads from ${start} to ${end}`);
          return plain.read(start, end);
        },
      };
      await format.read(source, { kind: 'whole' });
    },
  },
];

const wholeOf = async (format: Format, bytes: Uint8Array, fileName: string): Promise<Content | undefined> =>
  (await format.read?.(sourceOf(bytes, fileName), { kind: 'whole' }))?.content;

/** Whether a place is of a kind that the format has at all, such as words in running text. */
const offers = async (format: Format, source: Source, place: Fragment): Promise<boolean> =>
  format.read?.(source, place).then(
    () => true,
    (error: unknown) => !(DrawerError.is(error) && error.code === 'unsupported'),
  ) ?? false;

/** Its words, whatever white space parts them. */
const wordsOf = (content: Content | undefined): string =>
  content === undefined ? '' : plainText({ shape: 'blocks', blocks: asBlocks(content) }).replace(/\s+/g, '');

function onlyDrawerErrors(error: unknown): void {
  if (!DrawerError.is(error)) throw error;
}

function valueFor({ kind, choices = [] }: Slot): SlotValue {
  switch (kind) {
    case 'check':
      return true;
    case 'choice':
      return choices[0] ?? '';
    case 'date':
      return '2026-05-03';
    case 'number':
      return 12.5;
    case 'email':
      return 'office@example.org';
    case 'url':
      return 'https://example.org/';
    case 'phone':
      return '+44 20 7946 0018';
    default:
      return 'Larch';
  }
}
