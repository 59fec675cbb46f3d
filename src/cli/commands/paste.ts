import { compose } from '../../compose/index.ts';
import { type Content, DrawerError, type Media, parseEnum } from '../../content/index.ts';
import { type Drawer, exportSnippets, type Snippet } from '../../drawer/index.ts';
import { formatNamed } from '../../formats/index.ts';
import { type ComposingOptions, composingOf } from '../composing.ts';
import type { Context } from '../context.ts';
import { checkInsertOptions, type InsertOptions } from '../insert-options.ts';
import { usualLanguage } from '../language.ts';
import { remarkNotes } from '../notes.ts';
import { pasteInto } from '../paste-into.ts';
import { takeOut } from '../removal-summary.ts';
import { withDrawer } from '../with-drawer.ts';
import { chosen } from './chosen.ts';

/** What was to be pasted once only goes now; said, since undo does not bring it back. */
export async function spendSecrets(
  drawer: Drawer,
  pasted: readonly Pick<Snippet, 'id' | 'secret'>[],
  { remark, words }: Context,
): Promise<void> {
  const spent = await drawer.spend(pasted.filter(({ secret }) => secret === 'once').map(({ id }) => id));
  if (spent > 0) remark(words.tell('goneAsMarked', { count: spent }));
}

export interface PasteOptions extends ComposingOptions, InsertOptions {
  readonly as: string;
  /** Whether `--as` was given, rather than left at its default. */
  readonly saysFormat: boolean;
  readonly takeOut?: boolean;
}

const printable = ['text', 'markdown', 'html', 'json'] as const;

/** `drawer paste REF…`: the snippets as one, printed or into files. */
export async function paste(references: readonly string[], given: PasteOptions, context: Context): Promise<void> {
  const options = withoutOutput(given);
  const composing = await composingOf(options);
  checkInsertOptions(options);
  checkFormat(options);
  checkLinked(options);
  await withDrawer(context, async (drawer) => {
    const listed = await chosen(drawer, references);
    const snippets = await drawer.getMany(listed.map(({ summary }) => summary.id));
    const { content, parts, languages, notes } = compose(snippets, composing);
    const media = await drawer.mediaOf(content);
    let arrived: readonly Snippet[] = snippets;
    if (options.into) {
      arrived = await pasteInto(drawer, { snippets, content, media, pieces: parts, languages }, options, context);
    } else {
      context.print(await inFormat(options, content, snippets, media, context));
      arrived = printed(snippets, options);
      if (options.takeOut) await takeOut(drawer, arrived, context);
    }
    if (!options.preview) await spendSecrets(drawer, arrived, context);
    if (!options.quiet) await remarkNotes(notes, 'noted', context);
  });
}

/** `--into -` is standard output, where snippets are printed anyway. */
function withoutOutput({ into, ...options }: PasteOptions): PasteOptions {
  const files = into?.filter((each) => each !== '-') ?? [];
  return files.length > 0 ? { ...options, into: files } : options;
}

/** Linked snippets land as they are in the drawer, one behind the other, and stay there. */
function checkLinked(options: PasteOptions): void {
  if (!options.linked) return;
  if (!options.into) throw new DrawerError('usage/command-landing-without-into', { option: '--linked' });
  const others = {
    join: '--join',
    around: '--around',
    sources: '--sources',
    tidy: '--tidy',
    totals: '--totals',
    takeOut: '--take-out',
    spread: '--spread',
  };
  for (const [name, option] of Object.entries(others))
    if (options[name as keyof typeof others] !== undefined)
      throw new DrawerError('usage/command-options-clash', { options: ['--linked', option] });
}

function checkFormat({ as, saysFormat, into, preview }: PasteOptions): void {
  if (saysFormat && into) throw new DrawerError('usage/command-options-clash', { options: ['--as', '--into'] });
  if (preview && !into) throw new DrawerError('usage/command-preview-of-nothing');
  parseEnum('print', as, printable);
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
  { remark, words }: Context,
): Promise<string> {
  if (as === 'json') return JSON.stringify(exportSnippets(printed(snippets, { as }), media), null, 2);
  const format = await formatNamed(as as 'text' | 'markdown' | 'html').load();
  const leavesPictures = as === 'markdown' && media.size > 0;
  if (leavesPictures) remark(words.tell('picturesLeft', { count: media.size }));
  const bytes = await format.write?.(content, {
    media,
    language: language ?? usualLanguage,
    ...(leavesPictures && { pictureAddress: () => '' }),
  });
  return new TextDecoder().decode(bytes).replace(/\n$/, '');
}
