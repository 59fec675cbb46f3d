import type { Root } from 'hast';
import { toHtml } from 'hast-util-to-html';
import { h } from 'hastscript';
import { asBlocks, type Content, type Media } from '../../content/index.ts';
import type { WriteOptions } from '../format.ts';
import { type HtmlWriter, writeBlocks } from './write-blocks.ts';
import { writeInlines } from './write-inlines.ts';

/** A page that stands by itself: its pictures are in it, and it fetches nothing. */
export async function writeHtml(
  content: Content,
  { media, language = 'en-GB', title = 'Gathered' }: WriteOptions,
): Promise<Uint8Array> {
  const page = h('html', { lang: language }, [
    h('head', [
      h('meta', { charSet: 'utf-8' }),
      h('meta', { name: 'viewport', content: 'width=device-width, initial-scale=1' }),
      h('title', title),
      h('style', look),
    ]),
    h('body', fragmentNodes(content, media)),
  ]);
  const root: Root = { type: 'root', children: [{ type: 'doctype' }, page] };
  return new TextEncoder().encode(`${toHtml(root)}\n`);
}

/** Only what goes inside a body, for a page or a clipboard. Everything in it is made from the content, never passed through. */
export const htmlFragment = (content: Content, media: Media): string =>
  toHtml({ type: 'root', children: fragmentNodes(content, media) });

function fragmentNodes(content: Content, media: Media) {
  const writer: HtmlWriter = { media, footnotes: [] };
  const inside =
    content.shape === 'run' ? writeInlines(writer, content.inlines) : writeBlocks(writer, asBlocks(content));
  return [...inside, ...noteSection(writer)];
}

/** The notes' texts (DPUB-ARIA 1.1: doc-endnotes, doc-backlink); a note that a note refers to comes after it. */
function noteSection(writer: HtmlWriter) {
  const items = [];
  for (let index = 0; index < writer.footnotes.length; index++) {
    const number = index + 1;
    const back = h('p', [
      h('a', { href: `#reference-${number}`, role: 'doc-backlink' }, `Back to reference ${number}`),
    ]);
    items.push(
      h('li', { id: `note-${number}` }, [...writeBlocks(writer, writer.footnotes[index]?.blocks ?? []), back]),
    );
  }
  return items.length === 0 ? [] : [h('section', { role: 'doc-endnotes' }, [h('ol', items)])];
}

const look = `
body { max-width: 42rem; margin: 3rem auto; padding: 0 1.5rem; font: 1rem/1.55 Georgia, "Liberation Serif", serif; color: #22303a; background: #fff; }
h1, h2, h3, h4, h5, h6 { line-height: 1.2; color: #1f3a4d; margin: 1.8em 0 .5em; }
table { border-collapse: collapse; margin: 1em 0; font-size: .95em; font-variant-numeric: tabular-nums; }
th, td { border: 1px solid #9aa7af; padding: .3em .6em; text-align: start; vertical-align: top; }
thead th { background: #e6ecef; }
th > p, td > p { margin: 0; }
blockquote { margin: 1em 0; padding-inline-start: 1.2em; border-inline-start: 3px solid #9aa7af; font-style: italic; }
pre { overflow-x: auto; padding: .8em 1em; background: #f3f5f6; }
img { max-width: 100%; height: auto; }
a { color: #0b5c8a; }
[role="doc-endnotes"] { margin-top: 2.5em; border-top: 1px solid #9aa7af; font-size: .9em; }
`;
