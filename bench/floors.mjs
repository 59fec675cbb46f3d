// The least that must be done, written for these files alone: what cannot be beaten, not what is due.
import { open } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { createInflateRaw, deflateRawSync, inflateRawSync } from 'node:zlib';
import { SaxesParser } from 'saxes';

/** The packed bytes of a part, found by the directory at the zip's end. */
async function packedPart(path, name) {
  const file = await open(path);
  const { size } = await file.stat();
  const read = async (start, end) => (await file.read(Buffer.alloc(end - start), 0, end - start, start)).buffer;
  const tail = await read(Math.max(0, size - 65_557), size);
  let end = tail.length - 22;
  while (tail.readUInt32LE(end) !== 0x06054b50) end--;
  const start = tail.readUInt32LE(end + 16);
  const directory = await read(start, start + tail.readUInt32LE(end + 12));
  for (let at = 0; at < directory.length; ) {
    const [nameLength, extra, comment] = [28, 30, 32].map((offset) => directory.readUInt16LE(at + offset));
    if (directory.toString('utf8', at + 46, at + 46 + nameLength) === name) {
      const header = directory.readUInt32LE(at + 42);
      const local = await read(header, header + 30);
      const first = header + 30 + local.readUInt16LE(26) + local.readUInt16LE(28);
      return { file, read, first, last: first + directory.readUInt32LE(at + 20) };
    }
    at += 46 + nameLength + extra + comment;
  }
  throw new Error(`no part ${name}`);
}

/** Inflates a part in chunks and tokenises it until `handlers.done()`. */
async function tokenise(path, name, handlers) {
  const { file, read, first, last } = await packedPart(path, name);
  const chunks = async function* () {
    for (let at = first; at < last; at += 65_536) yield read(at, Math.min(last, at + 65_536));
  };
  const parser = new SaxesParser();
  parser.on('opentag', handlers.open);
  parser.on('text', handlers.text);
  const decoder = new TextDecoder();
  const inflater = Readable.from(chunks()).pipe(createInflateRaw({ chunkSize: 65_536 }));
  for await (const chunk of inflater) {
    parser.write(decoder.decode(chunk, { stream: true }));
    if (handlers.done?.()) break;
  }
  await file.close();
}

/** Cells B2:D9, counted: the sheet to row 9, then the strings as far as they are named. */
export async function sheetTop(path) {
  let row = 0;
  let cells = 0;
  let last = -1;
  let isString = false;
  let column = 0;
  let inValue = false;
  await tokenise(path, 'xl/worksheets/sheet1.xml', {
    open({ name, attributes }) {
      inValue = name === 'v';
      if (name === 'row') {
        row = Number(attributes.r);
        column = 0;
      } else if (name === 'c') {
        column++;
        isString = attributes.t === 's';
        if (row >= 2 && row <= 9 && column >= 2 && column <= 4) cells++;
      }
    },
    text(words) {
      if (inValue && isString && row >= 2 && row <= 9 && column >= 2 && column <= 4)
        last = Math.max(last, Number(words) || 0);
    },
    done: () => row > 9,
  });
  let strings = 0;
  await tokenise(path, 'xl/sharedStrings.xml', {
    open: ({ name }) => {
      strings += name === 'si';
    },
    text() {},
    done: () => strings > last,
  });
  return cells;
}

/** Every event of a document's main part. */
export async function documentEvents(path) {
  let paragraphs = 0;
  await tokenise(path, 'word/document.xml', {
    open({ name }) {
      if (name === 'w:p') paragraphs++;
    },
    text() {},
  });
  return paragraphs;
}

/** The bytes of a part, inflated at once. */
async function inflated(path, name) {
  const { file, read, first, last } = await packedPart(path, name);
  const bytes = inflateRawSync(await read(first, last));
  await file.close();
  return bytes;
}

/** The sheet's part inflated in chunks and looked at no further. */
export async function inflateSheet(path) {
  const { file, read, first, last } = await packedPart(path, 'xl/worksheets/sheet1.xml');
  const inflater = Readable.from([await read(first, last)]).pipe(createInflateRaw({ chunkSize: 65_536 }));
  let size = 0;
  for await (const chunk of inflater) size += chunk.length;
  await file.close();
  return size > 1_000_000 ? 1 : 0;
}

/** Every cell's value as a row of values, by the plainest scanner that reads what the generator wrote. */
export async function wholeSheet(path) {
  const strings = (await inflated(path, 'xl/sharedStrings.xml'))
    .toString()
    .split('<si><t>')
    .slice(1)
    .map((item) => item.slice(0, item.indexOf('<')));
  const text = (await inflated(path, 'xl/worksheets/sheet1.xml')).toString();
  const rows = [];
  for (let at = text.indexOf('<row '); at >= 0; at = text.indexOf('<row ', at)) {
    const end = text.indexOf('</row>', at);
    const row = [];
    for (let cell = text.indexOf('<c ', at); cell >= 0 && cell < end; cell = text.indexOf('<c ', cell + 3)) {
      const value = text.indexOf('<v>', cell) + 3;
      const words = text.slice(value, text.indexOf('<', value));
      row.push(text.startsWith('t="s"', value - 9) ? strings[Number(words)] : Number(words));
    }
    rows.push(row);
    at = end;
  }
  return rows.length;
}

/** A part unpacked, read to its end when `tokenised`, and packed again. */
export async function rewritePart(path, name, tokenised) {
  const bytes = await inflated(path, name);
  if (tokenised) {
    const parser = new SaxesParser();
    let count = 0;
    parser.on('opentag', () => count++);
    parser.write(new TextDecoder().decode(bytes)).close();
  }
  return deflateRawSync(bytes).length > 1_000 ? 1 : 0;
}
