import { choose, compose } from '../../compose/index.ts';
import { type Content, DrawerError, type Media, plural } from '../../content/index.ts';
import { type Drawer, exportSnippets, notesInWords, type Snippet } from '../../drawer/index.ts';
import { findFormatByName, formatNamed } from '../../formats/index.ts';
import { pasteSnippets, planPaste, takesSnippets } from '../../node/index.ts';
import { type ComposingOptions, composingOf } from '../composing.ts';
import type { Context } from '../context.ts';
import { findPlace } from '../gather.ts';
import { checkLanding, type LandingOptions, landingRequests, reportLanded } from '../landing.ts';
import { writePicturesBeside } from '../pictures.ts';
import { leaving, takeOut } from '../take-out.ts';
import { withDrawer } from '../with-drawer.ts';
import { chosen } from './chosen.ts';

/** What was to be pasted once only goes now; said, since undo does not bring it back. */
export async function spendSecrets(
  drawer: Drawer,
  pasted: readonly Pick<Snippet, 'id' | 'secret'>[],
  { remark }: Context,
): Promise<void> {
  const spent = await drawer.spend(pasted.filter(({ secret }) => secret === 'once').map(({ id }) => id));
  if (spent > 0) remark(`${plural(spent, 'secret')} gone for good, as marked.`);
}

export interface PasteOptions extends ComposingOptions, LandingOptions {
  readonly as: string;
  /** Whether `--as` was given, rather than left at its default. */
  readonly saysFormat: boolean;
  readonly takeOut?: boolean;
}

const printable = ['text', 'markdown', 'html', 'json'] as const;

/** `drawer paste REF…`: the snippets as one, printed or into files. */
export async function paste(references: readonly string[], options: PasteOptions, context: Context): Promise<void> {
  const composing = await composingOf(options);
  checkLanding(options);
  checkFormat(options);
  await withDrawer(context, async (drawer) => {
    const listed = await chosen(drawer, references);
    const snippets = await Promise.all(listed.map(({ head }) => drawer.get(head.id)));
    const { content, pieces, notes } = compose(snippets, composing);
    const joined = options.join === undefined && options.totals === undefined ? pieces : [content];
    const media = await drawer.mediaOf(content);
    let arrived: readonly Snippet[] = snippets;
    if (options.into) {
      const pasted = { snippets, content, media, pieces: joined };
      const { others, ids } = await pasteIntoDrawers(drawer, pasted, options, context);
      if (others.length > 0) await pasteInto(drawer, pasted, { ...options, into: others }, context);
      else {
        arrived = snippets.filter(({ id }) => ids.has(id));
        if (options.takeOut) await takeOut(drawer, arrived, context);
      }
    } else {
      context.print(await inFormat(options, content, snippets, media, context));
      arrived = printed(snippets, options);
      if (options.takeOut) await takeOut(drawer, arrived, context);
    }
    if (!options.preview) await spendSecrets(drawer, arrived, context);
    const said = notesInWords(notes, 'Note');
    if (said && !options.quiet) context.remark(said);
  });
}

interface Pasted {
  readonly snippets: readonly Snippet[];
  readonly content: Content;
  readonly pieces: readonly Content[];
  readonly media: Media;
}

/** Pastes into other drawers and files of snippets; gives the places that are neither, and the ids of what arrived somewhere. */
async function pasteIntoDrawers(
  drawer: Drawer,
  { snippets, media }: Pasted,
  options: PasteOptions,
  { print, remark, passphraseOf }: Context,
): Promise<{ readonly others: readonly string[]; readonly ids: ReadonlySet<string> }> {
  const others: string[] = [];
  const ids = new Set<string>();
  for (const words of options.into ?? []) {
    const place = await findPlace(words);
    if (!(await takesSnippets(place))) {
      others.push(words);
      continue;
    }
    const what = plural(snippets.length, 'snippet');
    if (options.preview) {
      print(`Would paste ${what} into ${place.file}, as they are`);
      continue;
    }
    const {
      from,
      to,
      ids: arrived,
    } = await pasteSnippets(place, { snippets, media }, drawer, {
      side: options.side,
      passphraseOf,
    });
    for (const id of arrived) ids.add(id);
    const pasted = to - from + 1;
    const numbers = pasted === 0 ? '' : `: ${from === to ? from : `${from}-${to}`} there`;
    if (!options.quiet) print(`Pasted ${plural(pasted, 'snippet')} into ${place.file}${numbers}`);
    if (pasted < snippets.length)
      remark(`Left out: ${plural(snippets.length - pasted, 'snippet')} (secret, blank or there already)`);
  }
  return { others, ids };
}

async function pasteInto(
  drawer: Drawer,
  { snippets, content, pieces, media }: Pasted,
  options: PasteOptions,
  context: Context,
) {
  const places = options.into ?? [];
  const settings = await drawer.settings();
  const requests = await landingRequests(places, { content, media, pieces }, options, settings, context);
  const { files, landed } = await planPaste(requests, { language: options.language });
  const what = plural(snippets.length, 'snippet');
  if (!options.preview) {
    for (const { place } of requests)
      if (findFormatByName(place.file)?.name === 'markdown')
        await writePicturesBeside(place.file, content, media, context);
    const gone = options.takeOut ? leaving(snippets) : undefined;
    await drawer.writeFiles({
      name: `Pasted ${what} into ${[...new Set(landed.map(({ file }) => file))].join(', ')}`,
      files,
      ...(gone && { changes: gone.changes }),
    });
    gone?.say(context);
    if (options.style !== undefined && options.style !== settings.style)
      await drawer.changeSettings({ style: options.style as typeof settings.style });
  }
  reportLanded(landed, what, { content, snippets }, options, context);
}

function checkFormat({ as, saysFormat, into, preview }: PasteOptions): void {
  if (saysFormat && into)
    throw new DrawerError({
      code: 'usage',
      what: '--as and --into do not go together',
      next: 'The file’s ending says its format',
    });
  if (preview && !into)
    throw new DrawerError({
      code: 'usage',
      what: '--preview shows what would land in a file',
      next: 'Say which with --into; without it the snippets are only printed',
    });
  choose('format to print', as, printable);
}

/** Those of the snippets that are printed: secrets are left out of JSON. */
export const printed = (snippets: readonly Snippet[], { as }: Pick<PasteOptions, 'as'>): readonly Snippet[] =>
  as === 'json' ? snippets.filter(({ secret }) => !secret) : snippets;

/** What is printed; a line end at the end is left to the printing. */
export async function inFormat(
  { as, language }: Pick<PasteOptions, 'as' | 'language'>,
  content: Content,
  snippets: readonly Snippet[],
  media: Media,
  { remark }: Context,
): Promise<string> {
  if (as === 'json') return JSON.stringify(exportSnippets(printed(snippets, { as }), media), null, 2);
  const format = await formatNamed(as as 'text' | 'markdown' | 'html').load();
  const leavesPictures = as === 'markdown' && media.size > 0;
  if (leavesPictures)
    remark(
      `${plural(media.size, 'picture')} left out, with the description in place; to keep them: drawer paste … --into FILE.md`,
    );
  const bytes = await format.write?.(content, { media, language, ...(leavesPictures && { pictureAddress: () => '' }) });
  return new TextDecoder().decode(bytes).replace(/\n$/, '');
}
