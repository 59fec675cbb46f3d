// Node's own decoder takes Windows-1252 for Latin-1.
import { TextDecoder } from '@exodus/bytes/encoding-lite.js';
import htmlEncodingSniffer from 'html-encoding-sniffer';
import { parse } from 'parse5';
import { type Block, findLanguage } from '../../content/index.ts';
import type { Fragment } from '../../places/index.ts';
import { decodeDataUri } from '../data-uri.ts';
import { type Outline, readAll, type Source, type Taken } from '../format.ts';
import { NoteCounter } from '../notes.ts';
import { resolvePictures } from '../pictures.ts';
import { outlineProse, selectProse } from '../prose.ts';
import { attribute, type Element, elementsIn, isElement, textOf } from './dom.ts';
import { BlockReader } from './read-blocks.ts';
import { outermost } from './surroundings.ts';

export async function takeHtml(source: Source, fragment: Fragment): Promise<Taken> {
  const page = readPage(await readAll(source));
  const { content: selected, place } = selectProse(page.blocks, fragment);
  const { content, media } = await resolvePictures(selected, async (address) => decodeDataUri(address), page.notes);
  return {
    content,
    media,
    notes: page.notes.notes,
    ...(place !== undefined && { place }),
    ...(page.title && { title: page.title }),
    ...(page.language && { language: page.language }),
  };
}

export async function outlineHtml(source: Source): Promise<Outline> {
  const { blocks, notes, language } = readPage(await readAll(source));
  return { entries: outlineProse(blocks, language), notes: notes.notes };
}

interface Page {
  readonly blocks: readonly Block[];
  readonly notes: NoteCounter;
  readonly title: string;
  readonly language: string | undefined;
}

/** A page by the HTML standard's own parsing rules (HTML, section 13.2), its encoding sniffed as section 13.2.3 says. */
function readPage(bytes: Uint8Array): Page {
  const encoding = htmlEncodingSniffer(bytes, { defaultEncoding: isUtf8(bytes) ? 'utf-8' : 'windows-1252' });
  const document = parse(new TextDecoder(encoding).decode(bytes));
  const elements = [...elementsIn(document.childNodes)];
  const first = (tag: string): Element | undefined => elements.find((element) => element.tagName === tag);
  const root = first('html');
  const language = findLanguage(root && attribute(root, 'lang'));
  const base = first('base');
  const notes = new NoteCounter();
  const shared = { notes, noteTexts: noteTexts(elements), base: base && attribute(base, 'href') };
  const title = first('title');
  return {
    blocks: BlockReader.read(first('body')?.childNodes ?? [], shared, outermost(language)),
    notes,
    title: title ? textOf(title).replace(/\s+/g, ' ').trim() : '',
    language,
  };
}

function isUtf8(bytes: Uint8Array): boolean {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return true;
  } catch {
    return false;
  }
}

/** Footnotes as DPUB-ARIA marks them: the items of an element with the role `doc-endnotes`. */
function noteTexts(elements: readonly Element[]): ReadonlyMap<string, Element> {
  const found = new Map<string, Element>();
  for (const section of elements) {
    if (attribute(section, 'role') !== 'doc-endnotes') continue;
    for (const item of elementsIn(section.childNodes.filter(isElement))) {
      const id = attribute(item, 'id');
      if (item.tagName === 'li' && id !== undefined) found.set(id, item);
    }
  }
  return found;
}
