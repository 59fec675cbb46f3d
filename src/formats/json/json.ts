import { fromBase64 } from '@exodus/bytes/base64.js';
import { applyEdits as applyJsonEdits, modify } from 'jsonc-parser';
import * as v from 'valibot';
import {
  asBlocks,
  type Content,
  contentSchema,
  DrawerError,
  describe,
  type Media,
  mapPictures,
  parseWith,
  picturesIn,
  preview,
  whatOf,
} from '../../content/index.ts';
import { type Fragment, printFragment } from '../../places/index.ts';
import { type Excerpt, type Format, type Outline, type Removed, readWhole, type Source } from '../format.ts';
import { mediaHash } from '../pictures.ts';
import { decodeExactly, decodeText, encodeText } from '../text/encoding.ts';

/** Snippets as Drawer prints and stores them: `docs/snippets.schema.json`. */
export const json = { name: 'json', outline: outlineJson, read: readJson, remove: removeJson } satisfies Format;

/** As much of an exported drawer as a reader needs. */
interface StoredSnippet {
  readonly content: Content;
  readonly [more: string]: unknown;
}

const fileSchema = v.object({
  format: v.literal('drawer-snippets'),
  version: v.literal(1),
  snippets: v.array(v.looseObject({ content: contentSchema })),
  media: v.record(v.string(), v.string()),
});

interface SnippetFile {
  readonly snippets: readonly StoredSnippet[];
  readonly media: Readonly<Record<string, string>>;
}

export async function readJson(source: Source, fragment: Fragment): Promise<Excerpt> {
  const file = readFile(decodeText(await readWhole(source, 'values')).text);
  const separate = chosen(file, fragment).map((at) => excerptOf(file, at));
  const [only] = separate;
  if (separate.length === 1 && only) return only;
  return {
    content: { shape: 'blocks', blocks: separate.flatMap(({ content }) => asBlocks(content)) },
    media: new Map(separate.flatMap(({ media }) => [...media])),
    notes: [],
    separate,
  };
}

export async function outlineJson(source: Source): Promise<Outline> {
  const { snippets } = readFile(decodeText(await readWhole(source, 'values')).text);
  return {
    entries: snippets.map(({ content }, at) => ({
      place: String(at + 1),
      kind: 'snippet',
      depth: 0,
      label: preview(content, 60),
      size: whatOf(describe(content)),
    })),
    notes: [],
  };
}

/** The file without snippets; all else in it is written as it was. */
export async function removeJson(source: Source, fragments: readonly Fragment[]): Promise<Removed> {
  const decoded = decodeExactly(await readWhole(source, 'values'));
  const file = readFile(decoded.text);
  const places = [...new Set(fragments.flatMap((fragment) => chosen(file, fragment)))].sort(
    (one, other) => other - one,
  );
  let { text } = decoded;
  for (const at of places) text = applyJsonEdits(text, modify(text, ['snippets', at], undefined, {}));
  return { bytes: encodeText(text, decoded), notes: [] };
}

function readFile(text: string): SnippetFile {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (cause) {
    throw new DrawerError('unreadable/json-broken', {}, { cause });
  }
  return parseWith(fileSchema, value, 'file of snippets');
}

/** Positions from 0. */
function chosen({ snippets }: SnippetFile, fragment: Fragment): number[] {
  if (fragment.kind === 'whole') return snippets.map((_, at) => at);
  const ranges = fragment.kind === 'snippets' ? fragment.ranges : [];
  const last = ranges.reduce((most, { to }) => Math.max(most, to), 0);
  if (ranges.length === 0 || last > snippets.length)
    throw ranges.length === 0
      ? new DrawerError('unsupported/place-kind-not-here', {
          place: printFragment(fragment),
          example: `1-${snippets.length}`,
        })
      : new DrawerError('not-found/snippet-not-there', { number: String(last), count: snippets.length });
  return ranges.flatMap(({ from, to }) => Array.from({ length: to - from + 1 }, (_, at) => from - 1 + at));
}

function excerptOf(file: SnippetFile, at: number): Excerpt {
  const { content, ...brings } = file.snippets[at] as StoredSnippet;
  const { media, missing } = mediaOf(file, content);
  return {
    content:
      missing.size === 0
        ? content
        : mapPictures(content, (picture) => (missing.has(picture.media) ? (picture.alt ?? '') : picture)),
    media,
    notes: missing.size === 0 ? [] : [{ kind: 'picture-missing', count: missing.size }],
    brings,
    place: `snippet ${at + 1}`,
  };
}

/** @throws DrawerError `invalid` for bytes that are not those of the picture they are said to be. */
function mediaOf(
  { media }: SnippetFile,
  content: Content,
): { readonly media: Media; readonly missing: ReadonlySet<string> } {
  const found = new Map<string, Uint8Array>();
  const missing = new Set<string>();
  for (const { media: hash } of picturesIn(content)) {
    const bytes = Object.hasOwn(media, hash) ? findBytes(media[hash]) : undefined;
    if (!bytes) missing.add(hash);
    else if (mediaHash(bytes) === hash) found.set(hash, bytes);
    else throw new DrawerError('invalid/picture-bytes-wrong', { hash });
  }
  return { media: found, missing };
}

function findBytes(base64: string | undefined): Uint8Array | undefined {
  try {
    return base64 === undefined ? undefined : fromBase64(base64);
  } catch {
    return undefined; // damaged
  }
}
