import { plural } from '../../content/index.ts';
import { originsInWords, type Snippet, sizeInWords } from '../../drawer/index.ts';
import type { Context } from '../context.ts';
import { marksInWords } from '../listing.ts';
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
    if (json) return context.print(JSON.stringify(snippets.map(withoutSecret), null, 2));
    context.print(snippets.map(({ position, ...snippet }) => inWords(position, snippet, context)).join('\n\n'));
  });

const withoutSecret = <S extends Snippet>({ content, ...rest }: S) => (rest.secret ? rest : { ...rest, content });

function inWords(position: number, snippet: Snippet, { now, width }: Context): string {
  const { facts, label, takenAt, content } = snippet;
  const counts = [
    plural(facts.words, 'word'),
    plural(facts.characters, 'character'),
    plural(facts.lines, 'line'),
    plural(facts.bytes, 'byte'),
  ].join(', ');
  const marks = marksInWords(snippet, now);
  return [
    `${position}: ${sizeInWords(facts)}${label === undefined ? '' : `, “${label}”`}`,
    `   from ${originsInWords(snippet) || 'an unknown place'}, ${ageInWords(takenAt, now)}`,
    ...(marks === '' ? [] : [`   ${marks}`]),
    ...(snippet.secret
      ? [`   what it holds is shown nowhere; drawer mark ${position} --open shows it again`]
      : [`   ${counts}`, '', renderContent(content, width)]),
  ].join('\n');
}
