import { randomBytes } from 'node:crypto';
import { type Source, sourceOf } from 'drawer/formats';
import { nodeTools } from 'drawer/node';
import * as fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { bounds } from '../../src/formats/bounds.ts';
import { openZip, portableInflate } from '../../src/formats/package/zip.ts';

const source = (bytes: Uint8Array): Source => sourceOf(bytes, 'x.zip');

async function contents(bytes: Uint8Array, name: string, inflate = nodeTools.inflate): Promise<string> {
  const zip = await openZip(source(bytes), { inflate });
  const entry = zip.find(name);
  if (!entry) throw new Error(`no part ${name}`);
  const chunks: Uint8Array[] = [];
  for await (const chunk of zip.chunks(entry)) chunks.push(chunk);
  return Buffer.concat(chunks).toString();
}

/** Bytes with little-endian numbers put over them. */
function patched(bytes: Uint8Array, at: number, ...values: [bits: 16 | 32 | 64, value: number][]): Uint8Array {
  const copy = bytes.slice();
  const view = new DataView(copy.buffer);
  let offset = at;
  for (const [bits, value] of values) {
    if (bits === 16) view.setUint16(offset, value, true);
    else if (bits === 32) view.setUint32(offset, value, true);
    else view.setBigUint64(offset, BigInt(value), true);
    offset += bits / 8;
  }
  return copy;
}

const find = (bytes: Uint8Array, signature: number): number => {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = bytes.length - 4; at >= 0; at--) if (view.getUint32(at, true) === signature) return at;
  throw new Error('no such record');
};
const directoryEntry = (bytes: Uint8Array): number => find(bytes, 0x02014b50);
const endRecord = (bytes: Uint8Array): number => find(bytes, 0x06054b50);

const plain = zipSync({ 'a/b.xml': strToU8('hello '.repeat(100)) });

describe('parts of a zip', () => {
  it('come out as they went in, packed or stored, by either inflate', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.dictionary(fc.stringMatching(/^[a-z]{1,8}$/), fc.string({ unit: 'grapheme', maxLength: 3000 }), {
          minKeys: 1,
        }),
        fc.integer({ min: 0, max: 9 }),
        async (parts, level) => {
          const bytes = zipSync(
            Object.fromEntries(Object.entries(parts).map(([name, text]) => [name, strToU8(text)])),
            { level: level as 6 },
          );
          for (const [name, text] of Object.entries(parts)) {
            const expected = Buffer.from(strToU8(text)).toString();
            expect(await contents(bytes, name)).toBe(expected);
            expect(await contents(bytes, name, portableInflate)).toBe(expected);
          }
        },
      ),
      { numRuns: 40 },
    );
  });

  it('are found whatever the case of their names where that does not tell them apart, and the slashes in them', async () => {
    const zip = await openZip(source(plain), nodeTools, true);
    expect([zip.find('A/B.XML')?.size, (await openZip(source(plain))).find('A/B.XML')]).toEqual([600, undefined]);
    expect(await contents(zipSync({ 'a\\c.xml': strToU8('x') }), 'a/c.xml')).toBe('x');
  });

  it('are found behind a comment at the end', async () => {
    const comment = strToU8('PK comment '.repeat(50));
    const bytes = Uint8Array.from([...patched(plain, endRecord(plain) + 20, [16, comment.length]), ...comment]);
    expect(await contents(bytes, 'a/b.xml')).toHaveLength(600);
  });

  it('are found by a 64-bit directory', async () => {
    const end = endRecord(plain);
    const view = new DataView(plain.buffer, plain.byteOffset);
    const [size, offset] = [view.getUint32(end + 12, true), view.getUint32(end + 16, true)];
    const record = patched(
      new Uint8Array(56),
      0,
      [32, 0x06064b50],
      [64, 44],
      [16, 45],
      [16, 45],
      [32, 0],
      [32, 0],
      [64, 1],
      [64, 1],
      [64, size],
      [64, offset],
    );
    const locator = patched(new Uint8Array(20), 0, [32, 0x07064b50], [32, 0], [64, end], [32, 1]);
    const tail = patched(plain.slice(end), 8, [16, 0xffff], [16, 0xffff], [32, 0xffffffff], [32, 0xffffffff]);
    const bytes = Uint8Array.from([...plain.slice(0, end), ...record, ...locator, ...tail]);
    expect(await contents(bytes, 'a/b.xml')).toHaveLength(600);
    await expect(openZip(source(patched(bytes, end, [32, 0])))).rejects.toMatchObject({ code: 'unreadable' });
  });

  it('can be left half-way, which closes what they were read from', async () => {
    const big = zipSync({ big: randomBytes(4_000_000) }); // does not pack, so it is read in many pieces
    let read = 0;
    const counting: Source = {
      ...source(big),
      read: async (start, end) => {
        read += end - start;
        return big.subarray(start, end);
      },
    };
    const zip = await openZip(counting, nodeTools);
    const before = read;
    for await (const chunk of zip.chunks(zip.entries[0] as (typeof zip.entries)[0])) {
      expect(chunk.length).toBeGreaterThan(0);
      break;
    }
    expect(read - before).toBeLessThan(big.length / 2);
  });
});

describe('hostile zips are refused with a clear error', () => {
  it.each<[string, Uint8Array, string]>([
    ['no directory', plain.slice(0, -30), 'unreadable'],
    ['a directory past the end', patched(plain, endRecord(plain) + 16, [32, 0x7fffffff]), 'unreadable'],
    ['a broken directory', patched(plain, directoryEntry(plain), [32, 0]), 'unreadable'],
    ['an encrypted part', patched(plain, directoryEntry(plain) + 8, [16, 1]), 'unreadable'],
    [
      'more parts than any document has',
      patched(plain, endRecord(plain) + 8, [16, bounds.parts.most + 1], [16, bounds.parts.most + 1]),
      'too-large',
    ],
  ])('%s', async (_, bytes, code) => {
    await expect(openZip(source(bytes), nodeTools)).rejects.toMatchObject({ name: 'DrawerError', code });
  });

  it.each<[string, Uint8Array, string]>([
    ['a part that lies elsewhere', patched(plain, directoryEntry(plain) + 42, [32, 5]), 'unreadable'],
    ['a part longer than it says', patched(plain, directoryEntry(plain) + 24, [32, 10]), 'unreadable'],
    ['a part shorter than it says', patched(plain, directoryEntry(plain) + 24, [32, 5000]), 'unreadable'],
    [
      'a part that says it grows beyond reason',
      patched(plain, directoryEntry(plain) + 24, [32, 0x70000000]),
      'too-large',
    ],
    ['a part packed in an unknown way', patched(plain, directoryEntry(plain) + 10, [16, 99]), 'unreadable'],
    ['a part that is cut off', patched(plain, directoryEntry(plain) + 20, [32, 0x00ffffff]), 'unreadable'],
  ])('%s', async (_, bytes, code) => {
    for (const inflate of [nodeTools.inflate, portableInflate]) {
      await expect(contents(bytes, 'a/b.xml', inflate)).rejects.toMatchObject({ name: 'DrawerError', code });
    }
  });
});
