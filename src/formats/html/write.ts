import { toHtml } from 'hast-util-to-html';
import type { Content } from '../../content/index.ts';
import type { WriteOptions } from '../format.ts';
import { element } from './element.ts';
import { htmlFragment } from './fragment.ts';

/** A page that stands by itself: its pictures are in it, and it fetches nothing. */
export async function writeHtml(
  content: Content,
  { media, language = 'en-GB', title = 'Gathered' }: WriteOptions,
): Promise<Uint8Array> {
  const head = element('head', undefined, [
    element('meta', { charSet: 'utf-8' }),
    element('meta', { name: 'viewport', content: 'width=device-width, initial-scale=1' }),
    element('title', undefined, title),
    element('style', undefined, look),
  ]);
  const body = element('body');
  const page = toHtml({
    type: 'root',
    children: [{ type: 'doctype' }, element('html', { lang: language }, [head, body])],
  });
  const end = page.lastIndexOf('</body>');
  return new TextEncoder().encode(`${page.slice(0, end)}${htmlFragment(content, media)}${page.slice(end)}\n`);
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
