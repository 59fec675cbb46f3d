import {
  asBlocks,
  type Block,
  bullets,
  type Content,
  doc,
  paragraph,
  plainText,
  restyle,
  run,
  splitContent,
  text,
} from 'drawer';
import * as fc from 'fast-check';
import { type BlocksContent, item, keepUnshown, quote } from '../../src/content/index.ts';
import { blocks } from '../support/arbitrary.ts';

/** A form of content that shows no marks, as a text file would. */
const shownOf = (content: Content): BlocksContent => {
  const plain = restyle(content, 'plain');
  return plain.shape === 'blocks' ? plain : doc(paragraph(plainText(plain)));
};

describe('editing in a form that does not show everything', () => {
  it('changes nothing when nothing was changed', () =>
    fc.assert(
      fc.property(blocks, (original) => {
        expect(keepUnshown(original, shownOf(original), shownOf(original))).toBe(original);
      }),
    ));

  it('holds the words that were typed, and the other blocks as they were', () => {
    let kept = 0;
    fc.assert(
      fc.property(blocks, fc.nat(), fc.constantFrom('replace', 'insert', 'delete'), (original, at, how) => {
        const shown = shownOf(original);
        const isDistinct = new Set(shown.blocks.map((block) => JSON.stringify(block))).size === shown.blocks.length;
        fc.pre(original.blocks.length > 0 && shown.blocks.length === original.blocks.length && isDistinct);
        const place = at % original.blocks.length;
        const typed = paragraph('typed anew, like nothing else');
        const changed = (all: readonly Block[]): BlocksContent => ({
          shape: 'blocks',
          blocks: all.toSpliced(place, how === 'insert' ? 0 : 1, ...(how === 'delete' ? [] : [typed])),
        });
        const result = keepUnshown(original, shown, changed(shown.blocks));
        if (how !== 'replace') expect(result).toEqual(changed(original.blocks));
        else {
          const now = result.shape === 'blocks' ? result.blocks : [];
          expect(plainText({ shape: 'blocks', blocks: now.slice(place, place + 1) })).toBe(
            'typed anew, like nothing else',
          );
          expect(now.toSpliced(place, 1)).toEqual(original.blocks.toSpliced(place, 1));
        }
        kept += original.blocks.length;
      }),
    );
    expect(kept).toBeGreaterThan(50);
  });

  it('keeps the look of the words around a change, which takes the look of where it stands', () => {
    const red = { colour: '#aa0000' };
    const original = run(text('Planks of larch', red), text(' and oak'));
    const shown = doc(paragraph('Planks of larch and oak'));
    const edited = doc(paragraph('Planks of dry larch and oak'));
    expect(keepUnshown(original, shown, edited)).toEqual(run(text('Planks of dry larch', red), text(' and oak')));
  });

  it('keeps what is not shown in lists and quotes, item by item, and takes what came or went', () => {
    const red = (words: string) => paragraph(text(words, { colour: '#aa0000' }));
    const original = doc(
      { ...bullets(item(red('a'), quote(red('b'))), item(red('c'))), marker: 'square' },
      quote(red('d'), red('e')),
    );
    const shown = doc(
      bullets(item(paragraph('a'), quote(paragraph('b'))), item('c')),
      quote(paragraph('d'), paragraph('e')),
    );
    const edited = doc(
      bullets(item(paragraph('a'), quote(paragraph('b!'))), item('new'), item('c')),
      quote(paragraph('e')),
    );
    const kept = keepUnshown(original, shown, edited);
    expect(plainText(kept)).toBe(plainText(edited));
    const [list, second] = asBlocks(kept);
    expect(list).toMatchObject({
      marker: 'square',
      items: [{ blocks: [red('a'), quote(red('b!'))] }, item('new'), item(red('c'))],
    });
    expect(second).toEqual(quote(red('e')));
  });

  it('keeps the cells of a range that were not edited, and numbers as numbers', () => {
    const price = { type: 'number', value: 12, text: '£12.00', format: '"£"#,##0.00' } as const;
    const name = (value: string) => ({ type: 'text', value }) as const;
    const original: Content = {
      shape: 'cells',
      rows: [
        [name('oak'), price],
        [name('larch'), price],
      ],
    };
    const table = (...rows: string[][]): Content => ({
      shape: 'blocks',
      blocks: [
        {
          type: 'table',
          rows: rows.map((cells) => ({
            cells: cells.map((words) => ({ blocks: words === '' ? [] : [paragraph(words)] })),
          })),
        },
      ],
    });
    const shown = table(['', ''], ['oak', '£12.00'], ['larch', '£12.00']);
    const edited = table(['', ''], ['oak', '14'], ['elm', '£12.00'], ['ash', '3']);
    expect(keepUnshown(original, shown, edited)).toEqual({
      shape: 'cells',
      rows: [
        [name('oak'), { ...price, value: 14, text: '14' }],
        [name('elm'), price],
        [name('ash'), { type: 'number', value: 3, text: '3' }],
      ],
    });
  });
});

describe('splitting', () => {
  it('loses no block, item, row or word', () =>
    fc.assert(
      fc.property(blocks, fc.constantFrom('paragraph', 'item', 'row', 'cell', 'e'), (content, by) => {
        const parts = splitContent(content, by);
        const letters = (all: readonly Content[]): string =>
          all
            .map(plainText)
            .join('')
            .replace(/[\s\d.•-]/g, '')
            .replaceAll('e', '')
            .replaceAll('[x]', '')
            .replaceAll('[]', '');
        const isCut = by === 'e' || by === 'paragraph';
        if (isCut) expect(letters(parts)).toBe(letters([content]));
        else expect(letters(parts).length).toBeLessThanOrEqual(letters([content]).length + parts.length * 8);
      }),
    ));

  it('parts words at a text that lies across marks', () => {
    const content = run(text('oak;', { bold: true }), text('; larch;;elm'));
    expect(splitContent(content, ';;')).toEqual([run(text('oak', { bold: true })), run(' larch'), run('elm')]);
  });

  it('gives each cell with its value', () => {
    const cell = { type: 'number', value: 12, text: '12' } as const;
    const content: Content = {
      shape: 'cells',
      rows: [
        [cell, { type: 'empty' }],
        [cell, cell],
      ],
    };
    expect(splitContent(content, 'cell')).toEqual(Array(3).fill({ shape: 'cells', rows: [[cell]] }));
    expect(splitContent(content, 'row').length).toBe(2);
  });
});
