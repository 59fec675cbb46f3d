import { plural } from '../../content/index.ts';
import { originInWords, type Snippet, sizeInWords } from '../../drawer/index.ts';
import type { Context } from '../context.ts';
import { renderContent } from '../render.ts';
import { withDrawer } from '../with-drawer.ts';
import { ageInWords } from '../wording.ts';

/** `drawer show REF…`: the whole content, its counts and its origin. */
export const show = (references: readonly string[], { json }: { json?: boolean }, context: Context): Promise<void> =>
  withDrawer(context, async (drawer) => {
    const listed = await drawer.select(references);
    const snippets = await Promise.all(
      listed.map(async ({ position, head }) => ({ position, ...(await drawer.get(head.id)) })),
    );
    if (json) return context.print(JSON.stringify(snippets, null, 2));
    context.print(snippets.map(({ position, ...snippet }) => inWords(position, snippet, context)).join('\n\n'));
  });

function inWords(position: number, { facts, origin, takenAt, content }: Snippet, { now, width }: Context): string {
  const counts = [
    plural(facts.words, 'word'),
    plural(facts.characters, 'character'),
    plural(facts.lines, 'line'),
    plural(facts.bytes, 'byte'),
  ].join(', ');
  return [
    `${position}: ${sizeInWords(facts)}`,
    `   from ${originInWords(origin) || 'an unknown place'}, ${ageInWords(takenAt, now)}`,
    `   ${counts}`,
    '',
    renderContent(content, width),
  ].join('\n');
}
