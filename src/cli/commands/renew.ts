import { type Content, changedLines, DrawerError } from '../../content/index.ts';
import type { Drawer } from '../../drawer/index.ts';
import {
  findLinkedParts,
  findRenewals,
  type LinkedPart,
  type LinkedRenewal,
  planLinkedRenewal,
  type Renewal,
  whileClaimed,
} from '../../node/index.ts';
import { fit } from '../columns.ts';
import { withConsent } from '../consent.ts';
import type { Context } from '../context.ts';
import { withProgress } from '../gather.ts';
import { remarkNotes } from '../notes.ts';
import { withDrawer } from '../with-drawer.ts';
import { chosen, eachOnce, idsOf } from './chosen.ts';

export interface RenewOptions {
  /** Files with linked parts. */
  readonly into?: readonly string[];
  readonly folder?: string;
  /** Whether cells in the way of a part that has become longer give way. */
  readonly over?: boolean;
  readonly yes?: boolean;
  readonly quiet?: boolean;
  readonly json?: boolean;
}

/** `drawer renew REF…`: shows what has changed in the files, and takes it once that is wanted. */
export const renew = (references: readonly string[], options: RenewOptions, context: Context): Promise<void> =>
  withDrawer(context, async (drawer) => {
    if (options.over) throw new DrawerError('usage/command-landing-without-into', { option: '--over' });
    const { print, words } = context;
    const listed = eachOnce(await chosen(drawer, references));
    const renewals = await withProgress(words.tell('readingFiles'), context, (onRead) =>
      findRenewals(drawer, listed, { folder: options.folder, onRead: (_, end, size) => onRead(end, size) }),
    );
    const changed = renewals.filter((each) => each.kind === 'changed');
    if (!options.json && !options.quiet) await show(renewals, context);
    await remarkNotes(
      changed.flatMap(({ notes }) => notes),
      'simplified',
      context,
    );
    const wanted = changed.length > 0 && (options.yes === true || !options.json);
    const isRenewed = wanted && (await renewSnippets(drawer, changed, options.yes, context));
    if (options.json) return print(JSON.stringify(inJson(renewals, isRenewed)));
    if (!options.quiet)
      print(isRenewed ? words.tell('renewedSome', { count: changed.length }) : words.tell('renewedNothing'));
  });

/** Renews what has changed, once that is allowed; `false` if it is not. */
async function renewSnippets(
  drawer: Drawer,
  changed: readonly (Renewal & { readonly kind: 'changed' })[],
  yes: boolean | undefined,
  context: Context,
): Promise<boolean> {
  const work = async (given: boolean): Promise<true> => {
    if (!given) throw new DrawerError('consent/renewal-changes', { count: changed.length });
    await drawer.renew(changed.map(({ summary: { id }, content, media, was }) => ({ id, content, media, was })));
    return true;
  };
  return (await withConsent(work, { yes, question: context.words.tell('askRenew') }, context)) ?? false;
}

function printChanges(was: Content, now: Content, { print, width }: Context): void {
  for (const line of changedLines(was, now)) print(`   ${fit(line, Math.max(20, width - 4)).trimEnd()}`);
}

async function show(renewals: readonly Renewal[], context: Context): Promise<void> {
  const { print, words } = context;
  const phrases = await words.load();
  for (const { position, summary, ...found } of renewals) {
    if (found.kind === 'same') print(words.tell('renewalSame', { position }));
    else if (found.kind === 'unknown')
      print(words.tell('renewalNot', { position, problem: phrases.error(found.problem) }));
    else {
      print(words.tell('renewalChanged', { position, what: `${words.size(summary.facts)}, ${words.origin(summary)}` }));
      printChanges(found.was, found.content, context);
    }
  }
}

const inJson = (renewals: readonly Renewal[], isRenewed: boolean) => ({
  renewed: isRenewed,
  snippets: renewals.map(({ position, summary, ...found }) => ({
    position,
    id: summary.id,
    kind: found.kind,
    ...(found.kind === 'unknown' && { reason: found.problem.reason }),
  })),
});

/** `drawer renew [REF…] --into FILE…`: brings what was pasted there with `--linked` up to date, and its snippets. */
export const renewInto = (
  references: readonly string[],
  files: readonly string[],
  options: RenewOptions,
  context: Context,
): Promise<void> =>
  withDrawer(context, async (drawer) => {
    const ids = references.length > 0 ? new Set(idsOf(await chosen(drawer, references))) : undefined;
    await whileClaimed(files, async () => {
      const parts = await withProgress(context.words.tell('readingFiles'), context, (onRead) =>
        findLinkedParts(drawer, files, { ids, folder: options.folder, onRead: (_, end, size) => onRead(end, size) }),
      );
      const changed = parts.filter((each) => each.kind === 'changed');
      const { style } = await drawer.settings();
      const renewal = await planLinkedRenewal(drawer, changed, { style, over: options.over }); // what cannot land is said before anything is changed
      const become = new Map(changed.map((part, index) => [part, renewal.contents[index]]));
      if (!options.json && !options.quiet) await showParts(parts, become, files, context);
      const isWanted = changed.length > 0 && (options.yes === true || !options.json);
      const isRenewed = isWanted && (await renewParts(drawer, changed, renewal, options.yes, context));
      const { print, words } = context;
      if (options.json) return print(JSON.stringify({ renewed: isRenewed, parts: parts.map(partInJson) }));
      if (!options.quiet)
        print(isRenewed ? words.tell('renewedParts', { count: changed.length }) : words.tell('renewedNothing'));
    });
  });

type ChangedPart = LinkedPart & { readonly kind: 'changed' };

/** Writes the files, once that is allowed; `false` if it is not. */
async function renewParts(
  drawer: Drawer,
  parts: readonly ChangedPart[],
  { action }: LinkedRenewal,
  yes: boolean | undefined,
  context: Context,
): Promise<boolean> {
  const work = async (given: boolean): Promise<true> => {
    if (!given) throw new DrawerError('consent/renewal-changes', { count: parts.length });
    const names = [...new Set(parts.map(({ file }) => file))];
    const name = { kind: 'renewedInto', params: { count: parts.length, files: names } };
    await drawer.writeFiles({ name, ...action });
    return true;
  };
  return (await withConsent(work, { yes, question: context.words.tell('askRenew') }, context)) ?? false;
}

async function showParts(
  parts: readonly LinkedPart[],
  become: ReadonlyMap<LinkedPart, Content | undefined>,
  files: readonly string[],
  context: Context,
): Promise<void> {
  const { print, words } = context;
  const phrases = await words.load();
  if (parts.length === 0) print(words.tell('linkedNone', { files }));
  for (const part of parts) {
    const { file, listed } = part;
    const position = String(listed?.position ?? '?');
    if (part.kind === 'same') print(words.tell('linkedSame', { file, position }));
    else if (part.kind === 'unknown')
      print(words.tell('linkedNot', { file, position, problem: phrases.error(part.problem) }));
    else {
      const { summary } = part.listed;
      const what = `${words.size(summary.facts)}, ${words.origin(summary)}`;
      print(words.tell('linkedChanged', { file, position, what }));
      printChanges(part.was, become.get(part) ?? part.content, context);
    }
  }
}

const partInJson = (part: LinkedPart) => ({
  file: part.file,
  bookmark: part.bookmark,
  kind: part.kind,
  ...(part.listed && { position: part.listed.position, id: part.listed.summary.id }),
  ...(part.kind === 'unknown' && { reason: part.problem.reason }),
});
