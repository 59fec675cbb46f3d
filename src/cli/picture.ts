import type { PictureType } from '../content/index.ts';
import { bounds } from '../formats/index.ts';

/** Pixels of eight bits each of red, green, blue and opacity, line by line from the top. */
interface Pixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** In columns of the terminal: what shows enough without filling it. */
const widest = 64;
const upperHalf = '▀';

/**
 * A picture as lines for a terminal: each of its cells shows two pixels one above the other, by half a block in 24-bit colours
 * (ISO/IEC 8613-6, 13.1.8). `undefined` for a kind that is not drawn, or damaged.
 */
export async function drawPicture(
  bytes: Uint8Array,
  type: PictureType,
  columns: number,
): Promise<readonly string[] | undefined> {
  try {
    const pixels = await pixelsOf(bytes, type);
    return pixels && linesOf(pixels, Math.min(columns, widest, pixels.width));
  } catch {
    return undefined; // its facts are told all the same
  }
}

/** What reads pictures is loaded only to draw one. */
async function pixelsOf(bytes: Uint8Array, type: PictureType): Promise<Pixels | undefined> {
  if (type === 'image/png') return pngPixels(bytes);
  if (type !== 'image/jpeg') return undefined;
  const { decode } = await import('jpeg-js');
  return decode(bytes, { useTArray: true, maxResolutionInMP: bounds.pixels.most / 1e6, formatAsRGBA: true });
}

async function pngPixels(bytes: Uint8Array): Promise<Pixels | undefined> {
  const bounded = await boundedPng(bytes);
  if (!bounded) return undefined;
  const { convertIndexedToRgb, decode } = await import('fast-png');
  const png = decode(bounded);
  const { width, height, palette } = png;
  if (!palette && png.depth < 8) return undefined; // its pixels share bytes
  const channels = palette ? (palette[0]?.length ?? 3) : png.channels;
  const values = palette ? convertIndexedToRgb(png) : png.data;
  const most = palette ? 255 : 2 ** png.depth - 1;
  const data = new Uint8Array(width * height * 4);
  for (let pixel = 0; pixel < width * height; pixel++) {
    const of = (channel: number): number => ((values[pixel * channels + channel] ?? 0) * 255) / most;
    const isGrey = channels < 3;
    data.set([of(0), of(isGrey ? 0 : 1), of(isGrey ? 0 : 2), channels % 2 === 0 ? of(channels - 1) : 255], pixel * 4);
  }
  return { width, height, data };
}

/** Samples in a pixel by the type of colour (ISO/IEC 15948, 11.2.2). */
const samples: Readonly<Record<number, number>> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 };
const needed = new Set(['IHDR', 'PLTE', 'tRNS', 'IDAT', 'IEND']);

/**
 * The chunks of a PNG that show it and no others, which may unpack to any size; `undefined` where it is larger than a look is worth,
 * says its size twice, or has image data that unpack to more than that size needs.
 */
async function boundedPng(bytes: Uint8Array): Promise<Uint8Array | undefined> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const chunks: { readonly type: string; readonly whole: Uint8Array }[] = [];
  for (let at = 8; at + 12 <= bytes.length; ) {
    const end = at + 12 + view.getUint32(at);
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (end > bytes.length) return undefined;
    if (needed.has(type)) chunks.push({ type, whole: bytes.subarray(at, end) });
    at = end;
  }
  const headers = chunks.filter(({ type }) => type === 'IHDR').length;
  const [width, height] = [view.getUint32(16), view.getUint32(20)];
  if (headers !== 1 || chunks[0]?.type !== 'IHDR' || width * height > bounds.pixels.most) return undefined;
  const bits = view.getUint8(24) * (samples[view.getUint8(25)] ?? 4);
  const { inflateSync } = await import('node:zlib');
  const data = chunks.filter(({ type }) => type === 'IDAT').map(({ whole }) => whole.subarray(8, -4));
  // Twice, since interlaced ones have more and shorter lines.
  inflateSync(Buffer.concat(data), { maxOutputLength: 2 * height * (1 + Math.ceil((width * bits) / 8)) + 1024 });
  return Buffer.concat([bytes.subarray(0, 8), ...chunks.map(({ whole }) => whole)]);
}

function linesOf(pixels: Pixels, columns: number): string[] {
  const rows = Math.max(1, Math.round((pixels.height * columns) / pixels.width));
  const lines: string[] = [];
  for (let row = 0; row < rows; row += 2) {
    let line = '';
    let before = '';
    for (let column = 0; column < columns; column++) {
      const upper = colourAt(pixels, columns, rows, column, row);
      const lower = row + 1 < rows ? `48;2;${colourAt(pixels, columns, rows, column, row + 1)}` : '49';
      const colours = `\u001b[38;2;${upper};${lower}m`;
      line += colours === before ? upperHalf : colours + upperHalf;
      before = colours;
    }
    lines.push(`${line}\u001b[0m`);
  }
  return lines;
}

/** The mean of the pixels under one point, over white paper. */
function colourAt({ width, height, data }: Pixels, columns: number, rows: number, column: number, row: number): string {
  const span = (at: number, of: number, size: number): [number, number] => {
    const from = Math.min(size - 1, Math.floor((at * size) / of));
    return [from, Math.max(from + 1, Math.min(size, Math.floor(((at + 1) * size) / of)))];
  };
  const [left, right] = span(column, columns, width);
  const [top, bottom] = span(row, rows, height);
  const sum = [0, 0, 0];
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) {
      const at = (y * width + x) * 4;
      const opacity = (data[at + 3] ?? 255) / 255;
      for (let channel = 0; channel < 3; channel++)
        sum[channel] = (sum[channel] ?? 0) + (data[at + channel] ?? 0) * opacity + 255 * (1 - opacity);
    }
  const count = (right - left) * (bottom - top);
  return sum.map((each) => Math.round(each / count)).join(';');
}
