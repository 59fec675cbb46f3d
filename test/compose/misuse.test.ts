import { type Content, compose, DrawerError, doc, paragraph, run } from 'drawer';
import { formats } from 'drawer/formats';
import * as fc from 'fast-check';
import { samplePictures } from '../support/pictures.ts';
import { newDrawer, storageKinds } from '../support/storages.ts';

/** Whatever is handed over, the answer is a result or one clear error. */

const anything = fc.anything({ withMap: true, withBigInt: true });
const isClear = (error: unknown): void => {
  if (!DrawerError.is(error)) throw error;
};

it('composing takes anything, or says that it does not', () => {
  fc.assert(
    fc.property(
      anything,
      anything,
      fc.constantFrom('space', 'rows', 'sentence', 'bullets'),
      (content, options, join) => {
        for (const given of [[{ content }], [{ content: run('x') }, { content }], content])
          for (const told of [{ join }, options, { totals: options }, { language: options, totals: ['sum'] }])
            try {
              compose(given as never, told as never);
            } catch (error) {
              isClear(error);
            }
      },
    ),
    { numRuns: 300 },
  );
});

it.each(formats.map((format) => format.name))('writing %s takes anything, or says that it does not', async (name) => {
  const { write } = await (formats.find((format) => format.name === name) as (typeof formats)[number]).load();
  if (!write) return expect(['json', 'picture']).toContain(name);
  await fc.assert(
    fc.asyncProperty(anything, anything, async (content, options) => {
      for (const [given, told] of [
        [content, { media: new Map() }],
        [doc(paragraph('x')), options],
        [{ shape: 'blocks', blocks: content }, { media: new Map() }],
      ])
        await write(given as never, told as never).catch(isClear);
    }),
    { numRuns: 100 },
  );
});

describe.each(storageKinds)('a picture kept in $name', (kind) => {
  const [{ hash, bytes }, other] = samplePictures as [(typeof samplePictures)[0], (typeof samplePictures)[0]];
  const picture = (media: string): Content => ({ shape: 'picture', picture: { media, mediaType: 'image/png' } });

  it('goes by the hash of its own bytes, and not without them', async () => {
    const drawer = await newDrawer(kind);
    await drawer.keep([{ content: picture(hash), media: new Map([[hash, bytes]]), origin: {} }]);
    for (const media of [new Map([[hash, other.bytes]]), new Map([[other.hash, bytes]])])
      await expect(
        drawer.keep([{ content: picture([...media.keys()][0] as string), media, origin: {} }]),
      ).rejects.toMatchObject({
        code: 'invalid',
      });
    await expect(drawer.keep([{ content: picture(other.hash), origin: {} }])).rejects.toMatchObject({
      code: 'invalid',
    });
    await expect(drawer.append([{ content: picture(other.hash), origin: {} }])).rejects.toMatchObject({
      code: 'invalid',
    });
    await drawer.keep([
      { content: doc(paragraph('again')), origin: {} },
      { content: picture(hash), origin: {} },
    ]);
    expect((await drawer.mediaOf(picture(hash))).get(hash)).toEqual(bytes);
    expect(await drawer.count()).toBe(3);
    await drawer.close();
  });
});
