import { countOf, picturesIn } from '../../content/index.ts';
import type { Drawer, Snippet } from '../../drawer/index.ts';
import type { Context } from '../context.ts';
import { marksInWords } from '../listing.ts';
import { type Drawn, renderContent } from '../render.ts';
import { withDrawer } from '../with-drawer.ts';

/** `drawer show REF…`: the whole content, its counts and its origin. */
export const show = (references: readonly string[], { json }: { json?: boolean }, context: Context): Promise<void> =>
  withDrawer(context, async (drawer) => {
    const listed = await drawer.select(references);
    const found = await drawer.getMany(listed.map(({ summary }) => summary.id));
    const snippets = found.map((snippet, at) => ({ position: listed[at]?.position ?? 0, ...snippet }));
    if (json) return context.print(JSON.stringify(snippets.map(withoutSecret), null, 2));
    await context.words.load();
    const texts: string[] = [];
    for (const { position, ...snippet } of snippets)
      texts.push(inWords(position, snippet, await drawnIn(snippet, drawer, context), context));
    context.print(texts.join('\n\n'));
  });

/** Its pictures for a terminal that can show them. */
async function drawnIn({ content, secret }: Snippet, drawer: Drawer, context: Context): Promise<Drawn> {
  const drawn = new Map<string, readonly string[]>();
  if (!context.colourful || secret) return drawn;
  const media = await drawer.mediaOf(content);
  const { drawPicture } = await import('../picture.ts');
  for (const { media: hash, mediaType } of picturesIn(content)) {
    const bytes = media.get(hash);
    const lines = bytes && (await drawPicture(bytes, mediaType, context.width));
    if (lines) drawn.set(hash, lines);
  }
  return drawn;
}

const withoutSecret = <S extends Snippet>({ content, ...rest }: S) => (rest.secret ? rest : { ...rest, content });

function inWords(position: number, snippet: Snippet, drawn: Drawn, { now, width, words }: Context): string {
  const { facts, label, takenAt, content } = snippet;
  const counts = (['words', 'characters', 'lines', 'bytes'] as const)
    .map((unit) => words.part(countOf(unit, facts[unit])))
    .join(', ');
  const marks = marksInWords(snippet, { now, words });
  return [
    `${position}: ${words.size(facts)}${label === undefined ? '' : `, “${label}”`}`,
    `   ${words.tell('from', { origin: words.origin(snippet) || words.tell('fromUnknown') })}, ${words.age(takenAt, now)}`,
    ...(snippet.parts ?? []).map(({ what, origin }, at) => {
      const from = words.source(origin);
      const told = from === '' ? '' : words.say('keptFrom', { origin: from });
      return `   ${words.tell('part', { number: at + 1, what: words.what(what), from: told })}`;
    }),
    ...(marks === '' ? [] : [`   ${marks}`]),
    ...(snippet.secret
      ? [`   ${words.tell('shownNowhere', { position })}`]
      : [`   ${counts}`, '', renderContent(content, width, drawn)]),
  ].join('\n');
}
