import { fork } from 'node:child_process';
import { join, parse } from 'node:path';
import { DrawerError, type Param, type PasteStyle, restyle } from '../content/index.ts';
import { type Offering, offeringOf } from '../desktop/index.ts';
import type { Snippet } from '../drawer/index.ts';
import type { Context } from './context.ts';
import type { Held, ToHold } from './hold-clipboard.ts';
import { type InsertContent, type InsertOptions, sizeOf } from './insert-options.ts';
import { usualLanguage } from './language.ts';

type Offered = Pick<InsertContent, 'content' | 'media' | 'languages'> & { readonly snippets: readonly Snippet[] };
type Options = InsertOptions & { readonly language?: string };

const isSecret = ({ secret }: Snippet): boolean => secret !== undefined;

/** What is to go on the clipboard, in every form. */
export async function offeringFor(
  { content, media, snippets, languages: [language] }: Offered,
  options: Options,
): Promise<Offering> {
  return offeringOf(restyle(content, (options.style as PasteStyle | undefined) ?? 'original'), media, {
    language: options.language ?? language ?? usualLanguage,
    isSecret: snippets.some(isSecret),
  });
}

/** Puts snippets on the clipboard and starts a background process that keeps them there. @throws DrawerError `storage` */
export async function putOnClipboard(offered: Offered, options: Options, context: Context): Promise<void> {
  const offering = await offeringFor(offered, options);
  await leaveWithHolder({ offering, isSecret: offered.snippets.some(isSecret) }, context);
}

async function leaveWithHolder(toHold: ToHold, { environment, remark, words }: Context): Promise<void> {
  const holder = fork(join(__dirname, 'hold-clipboard.cjs'), {
    cwd: parse(process.cwd()).root, // so that no folder is in use by it
    env: environment,
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    serialization: 'advanced',
    detached: true,
  });
  const { problem, isWordsAlone } = await new Promise<Held>((answered, failed) => {
    holder.once('message', (held: Held) => answered(held));
    holder.once('error', failed);
    holder.once('exit', (code) => failed(new Error(`what holds the clipboard ended with ${code}`)));
    holder.send(toHold);
  });
  holder.removeAllListeners();
  holder.unref();
  if (problem) throw new DrawerError(problem.problem, problem.params);
  if (isWordsAlone) remark(words.tell('wordsOnClipboard'));
}

/** `On the clipboard: 2 snippets, 231 words, 1 table`. */
export async function reportOnClipboard(
  what: Param,
  { content, snippets }: Offered,
  { preview, quiet, json }: InsertOptions,
  context: Context,
): Promise<void> {
  if (quiet && !preview) return;
  const words = await context.words.load();
  const size = words.list(sizeOf({ content, snippets }).map((each) => words.part(each)));
  if (json) return context.print(JSON.stringify({ ...(preview && { preview }), clipboard: size }, null, 2));
  context.print(words.tell(preview ? 'wouldBeOnClipboard' : 'onClipboard', { what, size }));
  if (snippets.some(isSecret)) context.remark(words.tell('secretOnClipboard'));
}
