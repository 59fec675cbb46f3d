import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { deflateSync } from 'node:zlib';
import * as fc from 'fast-check';
import { encode } from 'fast-png';
import { encode as encodeJpeg } from 'jpeg-js';
import { drawPicture } from '../../src/cli/picture.ts';
import { demoFiles, workplace } from '../support/cli.ts';

/** The colours of a drawn line: of each cell the pixel above and the one below. */
function colours(line: string): [string, string | undefined][] {
  const cells: [string, string | undefined][] = [];
  let now: [string, string | undefined] = ['', undefined];
  for (const [, upper, lower] of line.matchAll(/(?:\u001b\[38;2;(\d+;\d+;\d+);(?:48;2;(\d+;\d+;\d+)|49)m)?▀/g)) {
    if (upper !== undefined) now = [upper, lower];
    cells.push(now);
  }
  return cells;
}

it('draws small pictures pixel by pixel, what shines through on white paper', async () => {
  const pixel = fc.tuple(fc.nat(255), fc.nat(255), fc.nat(255), fc.constantFrom(255, 255, 0));
  await fc.assert(
    fc.asyncProperty(
      fc.integer({ min: 1, max: 8 }),
      fc.integer({ min: 1, max: 7 }),
      fc.infiniteStream(pixel),
      async (width, height, stream) => {
        const pixels = Array.from(
          { length: width * height },
          () => stream.next().value as [number, number, number, number],
        );
        const bytes = encode({ width, height, channels: 4, data: Uint8Array.from(pixels.flat()) });
        const lines = (await drawPicture(bytes, 'image/png', 80)) ?? [];
        const shown = pixels.map(([red, green, blue, opacity]) =>
          opacity === 0 ? '255;255;255' : `${red};${green};${blue}`,
        );
        expect(lines.length).toBe(Math.ceil(height / 2));
        for (const [row, line] of lines.entries())
          expect(colours(line)).toEqual(
            Array.from({ length: width }, (_, column) => [
              shown[2 * row * width + column],
              shown[(2 * row + 1) * width + column],
            ]),
          );
      },
    ),
    { numRuns: 60 },
  );
});

it('draws large ones smaller, photographs too, and leaves what is damaged or of another kind', async () => {
  const data = new Uint8Array(300 * 200 * 4).fill(128);
  const { data: bytes } = encodeJpeg({ width: 300, height: 200, data }, 90);
  const lines = (await drawPicture(new Uint8Array(bytes), 'image/jpeg', 30)) ?? [];
  expect(lines.length).toBe(10);
  expect(colours(lines[0] ?? '').length).toBe(30);
  expect(colours(lines[0] ?? '')[0]?.[0]).toMatch(/^12[789];12[789];12[789]$/);
  expect(await drawPicture(new Uint8Array(bytes).subarray(0, 60), 'image/jpeg', 30)).toBeUndefined();
  expect(await drawPicture(new Uint8Array([1, 2, 3]), 'image/png', 30)).toBeUndefined();
  expect(await drawPicture(new TextEncoder().encode('<svg/>'), 'image/svg+xml', 30)).toBeUndefined();
});

it('shows pictures where a terminal can, and nowhere else', async () => {
  const place = workplace();
  try {
    await place.run('copy', join(demoFiles, 'ferry.png'));
    const shown = (variables: Record<string, string>): string =>
      spawnSync(
        'script',
        [
          '-qec',
          `${process.execPath} ${new URL('../../dist/bin/drawer.cjs', import.meta.url).pathname} show 1`,
          '/dev/null',
        ],
        {
          encoding: 'utf8',
          env: { ...process.env, COLORTERM: '', NO_COLOR: '', DRAWER: place.drawer, ...variables },
        },
      ).stdout;
    expect(shown({ COLORTERM: 'truecolor' })).toMatch(/\[picture, 480 × 300 pt\]\r\n\u001b\[38;2;/);
    expect(shown({})).not.toContain('▀');
    expect(shown({ COLORTERM: 'truecolor', NO_COLOR: '1' })).not.toContain('▀');
    expect((await place.run('show', '1')).out).not.toContain('▀');
  } finally {
    place.remove();
  }
});

describe('a picture that is an attack', () => {
  const chunk = (type: string, data: Uint8Array): Buffer => {
    const length = Buffer.alloc(4);
    length.writeUInt32BE(data.length);
    return Buffer.concat([length, Buffer.from(type), data, Buffer.alloc(4)]);
  };
  const header = (width: number, height: number): Buffer => {
    const size = Buffer.alloc(8);
    size.writeUInt32BE(width);
    size.writeUInt32BE(height, 4);
    return chunk('IHDR', Buffer.concat([size, Buffer.from([8, 2, 0, 0, 0])]));
  };
  const png = (...chunks: Buffer[]): Uint8Array =>
    new Uint8Array(
      Buffer.concat([Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'), ...chunks, chunk('IEND', Buffer.alloc(0))]),
    );
  const zeros = deflateSync(Buffer.alloc(300_000_000));

  it.each<[string, Uint8Array]>([
    ['two headers', png(header(1, 1), header(30_000, 30_000), chunk('IDAT', deflateSync(Buffer.alloc(4))))],
    ['image data far past its size', png(header(1, 1), chunk('IDAT', zeros))],
    ['a size past any screen', png(header(60_000, 60_000), chunk('IDAT', zeros))],
    ['a chunk past its end', png(header(1, 1)).subarray(0, 40)],
  ])('is not drawn: %s', async (_, bytes) => {
    const before = process.memoryUsage().rss;
    expect(await drawPicture(bytes, 'image/png', 30)).toBeUndefined();
    expect(process.memoryUsage().rss - before).toBeLessThan(100_000_000);
  });

  it('is drawn without the words that it brings, which may unpack to any size', async () => {
    const words = chunk('zTXt', Buffer.concat([Buffer.from('Comment\0\0'), zeros]));
    const whole = encode({ width: 1, height: 1, channels: 3, data: new Uint8Array([9, 9, 9]) });
    const before = process.memoryUsage().rss;
    const bytes = new Uint8Array(Buffer.concat([whole.subarray(0, 33), words, whole.subarray(33)]));
    expect(await drawPicture(bytes, 'image/png', 30)).toEqual(['\u001b[38;2;9;9;9;49m▀\u001b[0m']);
    expect(process.memoryUsage().rss - before).toBeLessThan(100_000_000);
  });
});
