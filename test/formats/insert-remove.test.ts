import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { doc, noMedia, paragraph, parseFragment, plainText, run } from 'drawer';
import { type Format, formatNamed, sourceOf } from 'drawer/formats';
import * as fc from 'fast-check';
import { unzipSync } from 'fflate';
import { demoFiles } from '../support/cli.ts';

/** What was inserted and is removed again leaves nothing behind, wherever it stood. */

const files = [
  ['docx', 'survey.docx'],
  ['docx', 'application.docx'],
  ['odt', 'history.odt'],
  ['html', 'letters.html'],
  ['markdown', 'log.md'],
  ['text', 'log.md'],
] as const;

type Editable = Required<Pick<Format, 'outline' | 'read' | 'insert' | 'remove'>>;

/** The parts of a package as text, or the text of a file that is none. */
function partsOf(bytes: Uint8Array): Readonly<Record<string, string>> {
  const isZip = bytes[0] === 0x50 && bytes[1] === 0x4b;
  const parts = isZip ? unzipSync(bytes) : { text: bytes };
  return Object.fromEntries(Object.entries(parts).map(([name, part]) => [name, Buffer.from(part).toString('latin1')]));
}

describe.each(files)('in a %s file (%s)', (name, file) => {
  const bytes = new Uint8Array(readFileSync(join(demoFiles, file)));
  let format: Editable;
  let places: readonly string[];
  beforeAll(async () => {
    format = (await formatNamed(name).load()) as Editable;
    const { entries } = await format.outline(sourceOf(bytes, file), { paragraphs: true });
    places = entries.flatMap(({ place, kind }) => (kind === 'paragraph' ? [place] : []));
  });

  it('a paragraph of its own goes again, from beside any other', async () => {
    expect(places.length).toBeGreaterThan(0);
    const before = partsOf(bytes);
    await fc.assert(
      fc.asyncProperty(fc.nat(), fc.constantFrom('before' as const, 'after' as const), async (at, side) => {
        const place = parseFragment(places[at % places.length] ?? '');
        const insertion = {
          content: doc(paragraph('Quills of a heron')),
          media: noMedia,
          style: 'local',
          side,
        } as const;
        const inserted = await format.insert(sourceOf(bytes, file), place, insertion);
        expect(partsOf(inserted.bytes)).not.toEqual(before);
        const quote = parseFragment(':~:text=Quills%20of%20a%20heron');
        const removed = await format.remove(sourceOf(inserted.bytes, file), [quote]);
        expect([place, side, partsOf(removed.bytes)]).toEqual([place, side, before]);
      }),
      { numRuns: Number(process.env.RUNS ?? 25) },
    );
  });

  it('words go again from between any others, and leave no space doubled', async () => {
    const wordsOf = async (of: Uint8Array): Promise<string> =>
      plainText((await format.read(sourceOf(of, file), { kind: 'whole' })).content);
    const whole = await wordsOf(bytes);
    // Words that stand once, in the text and not in the description of a picture.
    const known: string[] = [];
    for (const word of new Set(whole.match(/\b[A-Za-z]{5,}\b/g)))
      await format.read(sourceOf(bytes, file), parseFragment(`:~:text=${word}`)).then(
        () => known.push(word),
        () => {},
      );
    expect(known.length).toBeGreaterThan(5);
    await fc.assert(
      fc.asyncProperty(fc.nat(), fc.constantFrom('before' as const, 'after' as const), async (at, side) => {
        const word = known[at % known.length] ?? '';
        const insertion = { content: run('quills of heron'), media: noMedia, style: 'local', side } as const;
        const inserted = await format.insert(sourceOf(bytes, file), parseFragment(`:~:text=${word}`), insertion);
        const between = await wordsOf(inserted.bytes);
        expect([word, side, between.replace(/\s/g, '').length]).toEqual([
          word,
          side,
          whole.replace(/\s/g, '').length + 'quillsofheron'.length,
        ]);
        const quote = parseFragment(':~:text=quills%20of%20heron');
        const removed = await format.remove(sourceOf(inserted.bytes, file), [quote]);
        expect([word, side, await wordsOf(removed.bytes)]).toEqual([word, side, whole]);
      }),
      { numRuns: Number(process.env.RUNS ?? 25) },
    );
  });
});
