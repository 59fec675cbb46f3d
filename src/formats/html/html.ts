/**
 * Pages (.html) alone.
 * @packageDocumentation
 */

import type { Content } from '../../content/index.ts';
import type { Format } from '../format.ts';
import { type ProseWriting, proseFormat } from '../prose-format.ts';
import { editHtml } from './edit.ts';
import { fillHtml, slotsHtml } from './fill.ts';
import { htmlFragment } from './fragment.ts';
import { escapeText, escapeValue } from './markup.ts';
import { openHtml } from './read.ts';

/** Pages: the HTML standard. */
export const html = {
  ...proseFormat({ name: 'html', open: openHtml, edit: editHtml, write: writeHtml }),
  slots: slotsHtml,
  fill: fillHtml,
} satisfies Format;

/** A page that stands by itself: its pictures are in it, and it fetches nothing. */
export async function writeHtml(
  content: Content,
  { media, language = 'en-GB', title = 'Gathered' }: ProseWriting,
): Promise<Uint8Array> {
  const head = `<meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>${escapeText(title)}</title><style>${look}</style>`;
  return new TextEncoder().encode(
    `<!doctype html><html lang="${escapeValue(language)}"><head>${head}</head><body>${htmlFragment(content, media)}</body></html>\n`,
  );
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
