import { mkdir } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { compose } from '../../compose/index.ts';
import {
  type Content,
  DrawerError,
  findLanguage,
  type Media,
  type Picture,
  picturesIn,
  plural,
} from '../../content/index.ts';
import { exportSnippets, type Snippet } from '../../drawer/index.ts';
import { extensionOf, type FormatEntry, findFormatByName, formatNamed, formats } from '../../formats/index.ts';
import { alreadyThere, exists, writeNewFile } from '../../node/index.ts';
import type { Context } from '../context.ts';
import { withDrawer } from '../with-drawer.ts';

interface PasteOptions {
  readonly into?: string;
  readonly as: string;
  /** Whether `--as` was given, rather than left at its default. */
  readonly saysFormat: boolean;
  readonly language: string;
}

const printable = ['text', 'markdown', 'html', 'json'] as const;

/** `drawer paste REF…`: the snippets in the order given, as one block. */
export async function paste(references: readonly string[], options: PasteOptions, context: Context): Promise<void> {
  checkLanguage(options.language);
  const target = options.into === undefined ? undefined : await checkTarget(options.into, options);
  if (!target) checkFormat(options.as);
  await withDrawer(context, async (drawer) => {
    const listed = await drawer.select(references);
    if (listed.length === 0)
      throw new DrawerError({
        code: 'not-found',
        what: 'The drawer is empty',
        next: 'Gather something first: drawer copy FILE',
      });
    const snippets = await Promise.all(listed.map(({ head }) => drawer.get(head.id)));
    const { content } = compose(snippets);
    const media = await drawer.mediaOf(content);
    if (target && options.into !== undefined) {
      await writeInto(options.into, target, content, media, options.language, context);
      context.print(
        `Pasted ${plural(snippets.length, 'snippet')} into ${options.into}: ${contentsInWords(content, snippets)}`,
      );
    } else context.print(await inFormat(options, content, snippets, media, context));
  });
}

async function checkTarget(path: string, { saysFormat }: PasteOptions): Promise<FormatEntry> {
  const target = findFormatByName(path);
  if (saysFormat)
    throw new DrawerError({
      code: 'usage',
      what: '--as and --into do not go together',
      next: 'The file’s ending says its format',
    });
  if (!target || !(await target.load()).write) {
    const endings = await Promise.all(
      formats.map(async (format) => ((await format.load()).write ? [format.extensions[0] as string] : [])),
    );
    throw new DrawerError({
      code: 'usage',
      what: `Drawer cannot write a new ${extname(path) || 'file without an ending'}`,
      where: path,
      next: `It writes ${endings.flat().join(', ')}`,
    });
  }
  if (await exists(path)) throw alreadyThere(path);
  return target;
}

function checkFormat(name: string): void {
  if (!printable.some((each) => each === name))
    throw new DrawerError({
      code: 'usage',
      what: `“${name}” is no format to print`,
      next: `Choose ${printable.join(', ')}`,
    });
}

function checkLanguage(tag: string): void {
  if (findLanguage(tag) === undefined)
    throw new DrawerError({ code: 'usage', what: `“${tag}” is no language tag`, next: 'Such as en-GB, fr or pt-BR' });
}

async function writeInto(
  path: string,
  target: FormatEntry,
  content: Content,
  media: Media,
  language: string,
  { remark }: Context,
): Promise<void> {
  const { write } = await target.load();
  const title = basename(path, extname(path));
  const folder = `${title}-pictures`;
  const pointsToPictures = target.name === 'markdown';
  const address = (picture: Picture): string =>
    `${folder}/${picture.media.slice(0, 16)}.${extensionOf(picture.mediaType)}`;
  const bytes = await write?.(content, {
    media,
    language,
    title,
    ...(pointsToPictures && { pictureAddress: address }),
  });
  if (!bytes) return;
  if (pointsToPictures && media.size > 0) {
    await writePictures(dirname(path), content, media, address);
    remark(`Its ${plural(media.size, 'picture')} ${media.size === 1 ? 'is' : 'are'} in ${join(dirname(path), folder)}`);
  }
  await writeNewFile(path, bytes);
}

/** Markdown points to its pictures, so they are written beside it; first, so that it never points to nothing. */
async function writePictures(
  folder: string,
  content: Content,
  media: Media,
  address: (picture: Picture) => string,
): Promise<void> {
  for (const picture of picturesIn(content)) {
    const bytes = media.get(picture.media);
    const path = join(folder, address(picture));
    if (!bytes || (await exists(path))) continue; // named by its bytes: what is there is the same
    await mkdir(dirname(path), { recursive: true });
    await writeNewFile(path, bytes);
  }
}

/** What is printed; a line end at the end is left to the printing. */
async function inFormat(
  { as, language }: PasteOptions,
  content: Content,
  snippets: readonly Snippet[],
  media: Media,
  { remark }: Context,
): Promise<string> {
  if (as === 'json') return JSON.stringify(exportSnippets(snippets, media), null, 2);
  const format = await formatNamed(as as 'text' | 'markdown' | 'html').load();
  const leavesPictures = as === 'markdown' && media.size > 0;
  if (leavesPictures)
    remark(
      `${plural(media.size, 'picture')} left out, with the description in place; to keep them: drawer paste … --into FILE.md`,
    );
  const bytes = await format.write?.(content, { media, language, ...(leavesPictures && { pictureAddress: () => '' }) });
  return new TextDecoder().decode(bytes).replace(/\n$/, '');
}

/** `231 words, 2 tables, 1 picture` */
function contentsInWords(content: Content, snippets: readonly Snippet[]): string {
  const words = snippets.reduce((sum, { facts }) => sum + facts.words, 0);
  const pictures = [...picturesIn(content)].length;
  const tables =
    content.shape === 'blocks'
      ? content.blocks.filter(({ type }) => type === 'table').length
      : content.shape === 'cells'
        ? 1
        : 0;
  return [
    plural(words, 'word'),
    ...(tables > 0 ? [plural(tables, 'table')] : []),
    ...(pictures > 0 ? [plural(pictures, 'picture')] : []),
  ].join(', ');
}
