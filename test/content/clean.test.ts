import { type Content, noMedia, parseContent, plainText } from 'drawer';
import * as fc from 'fast-check';
import { cleanContent } from '../../src/content/index.ts';
import { cleaned } from '../../src/formats/checked-change.ts';
import { blocks as blocksContent } from '../support/arbitrary.ts';

/** What a careless reader might leave in any place. */
const nonsense = fc.constantFrom<unknown>(
  undefined,
  null,
  Number.NaN,
  Number.POSITIVE_INFINITY,
  -3,
  1e12,
  '',
  'a\nb',
  '\u0000',
  'x'.repeat(300),
  'javascript:alert(1)',
  '#ggg',
  {},
  [],
);

/** Every place of a value, as the object that holds it and its key there. */
function placesIn(
  value: unknown,
  found: [Record<string, unknown>, string][] = [],
): [Record<string, unknown>, string][] {
  if (typeof value !== 'object' || value === null) return found;
  for (const key of Object.keys(value)) {
    found.push([value as Record<string, unknown>, key]);
    placesIn((value as Record<string, unknown>)[key], found);
  }
  return found;
}

describe('what a reader makes is cleaned', () => {
  test('so that it is valid whatever stands in it, and valid content is left as it is', () => {
    let changed = 0;
    fc.assert(
      fc.property(blocksContent, fc.array(fc.tuple(fc.nat(), nonsense), { maxLength: 4 }), (content, damages) => {
        expect(cleanContent(content)).toEqual({ content, cleaned: 0 });
        const damaged = structuredClone(content);
        for (const [at, what] of damages) {
          const places = placesIn(damaged);
          const place = places[at % Math.max(1, places.length)];
          if (place) place[0][place[1]] = what;
        }
        const { content: clean, cleaned } = cleanContent(damaged);
        changed += cleaned;
        expect(parseContent(clean)).toEqual(clean);
      }),
    );
    expect(changed).toBeGreaterThan(20);
  });

  test('so that an empty list where marks belong is no mark', () => {
    const content = { shape: 'run', inlines: [{ type: 'text', text: 'a', marks: [] }] } as unknown as Content;
    const clean = { shape: 'run', inlines: [{ type: 'text', text: 'a', marks: {} }] };
    expect(cleanContent(content)).toEqual({ content: clean, cleaned: 0 });
    expect(cleaned({ content, media: noMedia, notes: [] })).toEqual({ content: clean, media: noMedia, notes: [] });
  });

  test('where one object stands in several places, each is mended once', () => {
    const shared = { type: 'paragraph', inlines: undefined };
    const words = { type: 'paragraph', inlines: [{ type: 'text', text: 'a\u0001b' }] };
    const { content } = cleanContent({ shape: 'blocks', blocks: [shared, shared, words, words] } as unknown as Content);
    const [blank, ab] = [{ inlines: [] }, { inlines: [{ text: 'ab' }] }];
    expect(content).toMatchObject({ blocks: [blank, blank, ab, ab] });
  });

  test('and keeps the words', () => {
    const text = (words: string, marks = {}) => ({ type: 'text', text: words, marks });
    const inlines = [
      text('one\u0001', { size: -4, bold: true }),
      text('\u0000'),
      text('two\nlines', { colour: 'red' }),
    ];
    const blocks = [
      { type: 'heading', level: 9, inlines, indent: Number.NaN },
      { type: 'paragraph', inlines: [text('link', { link: { href: 'javascript:x' } })], style: 's'.repeat(400) },
      { type: 'table', rows: [{ cells: [{ blocks: [], columnSpan: 1 }] }], columnWidths: [-1] },
    ];
    const { content, cleaned } = cleanContent({ shape: 'blocks', blocks } as unknown as Content);
    expect(plainText(content)).toContain('onetwo lines\n\nlink');
    expect(content).toMatchObject({
      blocks: [
        {
          type: 'heading',
          level: 6,
          inlines: [
            { text: 'one', marks: { bold: true } },
            { text: 'two lines', marks: {} },
          ],
        },
        { type: 'paragraph', inlines: [{ text: 'link', marks: {} }] },
        { type: 'table' },
      ],
    });
    expect(cleaned).toBe(11);
  });
});
