import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import * as fc from 'fast-check';
import { encode } from 'fast-png';
import { encode as encodeJpeg } from 'jpeg-js';
import { drawPicture } from '../src/cli/picture.ts';
import { demoFiles, workplace } from './support/cli.ts';

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
          `${process.execPath} ${new URL('../dist/bin/drawer.cjs', import.meta.url).pathname} show 1`,
          '/dev/null',
        ],
        {
          encoding: 'utf8',
          env: { ...process.env, NODE_OPTIONS: '', COLORTERM: '', NO_COLOR: '', DRAWER: place.drawer, ...variables },
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
