import type { InlineCollector } from '../../flow/inline-collector.ts';
import type { RawBlock, RawParagraph } from '../../flow/raw.ts';
import type { ParagraphMeaning } from '../../flow/style-meaning.ts';
import type { SourceNode } from '../../trace.ts';
import type { Style, StyleBook } from '../styles.ts';

/** A paragraph that is being heard. */
export interface OpenParagraph {
  readonly collector: InlineCollector;
  readonly style: Style;
  readonly meaning: ParagraphMeaning;
  /** Blocks of text boxes anchored in it, which follow it. */
  readonly after: RawBlock[];
  readonly kept: boolean;
  readonly node: SourceNode | undefined;
}

/** The paragraph as it counts. */
export function finishParagraph(
  { collector, style, meaning, node }: OpenParagraph,
  { plain }: StyleBook,
): RawParagraph {
  const { inlines = [], pieces = [] } = collector.finish({ keepsBreak: true }) ?? {};
  node?.pieces.push(...pieces);
  const look = { ...plain.paragraph, ...style.paragraph };
  const indent = meaning.kind === 'plain' || meaning.kind === 'named' ? look.indent : style.direct.paragraph.indent;
  const direction = look.direction ?? 'ltr';
  return {
    kind: 'paragraph',
    meaning,
    inlines,
    ...(look.align && { align: look.align }),
    ...(indent !== undefined && { indent }),
    ...(direction !== (plain.paragraph.direction ?? 'ltr') && { direction }),
    ...(look.ruled && { ruled: true }),
    ...(node && { source: node }),
  };
}
