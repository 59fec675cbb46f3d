import { text } from './build.ts';
import type { Block, Content, Inline, ListItem, Picture, TableCell, TableRow } from './model.ts';

/** What stands instead of a picture: another picture, or the words to put there; blank words leave nothing. */
export type PictureReplacement = Picture | string;

/** The content with every picture replaced; parts without one are the same objects as before. */
export function mapPictures(content: Content, replace: (picture: Picture) => PictureReplacement): Content {
  switch (content.shape) {
    case 'cells':
      return content;
    case 'run': {
      const inlines = mapInlines(content.inlines, replace);
      return inlines === content.inlines ? content : { ...content, inlines };
    }
    case 'blocks': {
      const blocks = mapBlocks(content.blocks, replace);
      return blocks === content.blocks ? content : { ...content, blocks };
    }
    case 'picture': {
      const picture = replace(content.picture);
      return typeof picture === 'string' ? { shape: 'run', inlines: wordsFor(picture) } : { ...content, picture };
    }
  }
}

type Replace = (picture: Picture) => PictureReplacement;

/** `flatMap` that gives back the array it was given when nothing in it changed. */
function mapSame<T>(items: readonly T[], map: (item: T) => readonly T[]): readonly T[] {
  let changed = false;
  const mapped = items.flatMap((item) => {
    const result = map(item);
    changed ||= result.length !== 1 || result[0] !== item;
    return result;
  });
  return changed ? mapped : items;
}

const wordsFor = (words: string): Inline[] => (words.trim() === '' ? [] : [text(words)]);

const mapInlines = (inlines: readonly Inline[], replace: Replace): readonly Inline[] =>
  mapSame(inlines, (inline) => {
    if (inline.type === 'picture') {
      const { type: _, ...picture } = inline;
      const replacement = replace(picture);
      return typeof replacement === 'string' ? wordsFor(replacement) : [{ type: 'picture', ...replacement }];
    }
    if (inline.type !== 'footnote') return [inline];
    const blocks = mapBlocks(inline.blocks, replace);
    return [blocks === inline.blocks ? inline : { ...inline, blocks }];
  });

const mapBlocks = (blocks: readonly Block[], replace: Replace): readonly Block[] =>
  mapSame(blocks, (block) => mapBlock(block, replace));

function mapBlock(block: Block, replace: Replace): readonly Block[] {
  switch (block.type) {
    case 'picture': {
      const { type: _, ...picture } = block;
      const replacement = replace(picture);
      if (typeof replacement !== 'string') return [{ type: 'picture', ...replacement }];
      const inlines = wordsFor(replacement);
      return inlines.length === 0 ? [] : [{ type: 'paragraph', inlines }];
    }
    case 'paragraph':
    case 'heading': {
      const inlines = mapInlines(block.inlines, replace);
      return [inlines === block.inlines ? block : { ...block, inlines }];
    }
    case 'quote': {
      const blocks = mapBlocks(block.blocks, replace);
      return [blocks === block.blocks ? block : { ...block, blocks }];
    }
    case 'list': {
      const items = mapSame(block.items, (item) => [mapHolder<ListItem>(item, replace)]);
      return [items === block.items ? block : { ...block, items }];
    }
    case 'table': {
      const rows = mapSame(block.rows, (row) => [mapRow(row, replace)]);
      return [rows === block.rows ? block : { ...block, rows }];
    }
    case 'code':
    case 'rule':
      return [block];
  }
}

function mapRow(row: TableRow, replace: Replace): TableRow {
  const cells = mapSame(row.cells, (cell) => [mapHolder<TableCell>(cell, replace)]);
  return cells === row.cells ? row : { ...row, cells };
}

function mapHolder<T extends { readonly blocks: readonly Block[] }>(holder: T, replace: Replace): T {
  const blocks = mapBlocks(holder.blocks, replace);
  return blocks === holder.blocks ? holder : { ...holder, blocks };
}
