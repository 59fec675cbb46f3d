import { watch } from 'node:fs';
import { resolve } from 'node:path';
import { DrawerError } from '../../content/index.ts';
import { type FolderSync, isSyncFolder, openFolderSync, type SyncResult } from '../../node/index.ts';
import type { Context } from '../context.ts';
import { withProgress } from '../gather.ts';
import { untilStopped } from '../until-stopped.ts';
import { openingOf, pathOf } from '../with-drawer.ts';

export interface SyncCommandOptions {
  /** How the others call this device. */
  readonly name?: string;
  /** Stays until it is stopped, and keeps in step. */
  readonly follow?: boolean;
  readonly json?: boolean;
}

/** The variable that holds the passphrase of a folder. */
const passphraseVariable = 'DRAWER_SYNC_PASSPHRASE';

/** How long after a change it is sent, and how often a folder is looked at that tells of no changes, in milliseconds. */
const [shortly, atLeast] = [300, 5_000];

/** `drawer sync FOLDER`: brings the drawer together with those of other devices, over a folder that all of them see. */
export async function sync(named: string, { name, follow, json }: SyncCommandOptions, context: Context): Promise<void> {
  const folder = resolve(named);
  const { words } = context;
  const opened = await openFolderSync(pathOf(context), folder, {
    passphrase: await passphraseOf(folder, context),
    name,
    open: openingOf(context),
    labelBeside: (preview) => words.tell('syncLabel', { preview }),
  });
  try {
    await once(opened, json, context);
    if (follow) await keepInStep(opened, folder, json, context);
  } finally {
    await opened.close();
  }
}

async function passphraseOf(folder: string, { environment, askSecret, words }: Context): Promise<string> {
  const told = environment[passphraseVariable];
  if (told !== undefined) return told;
  if (!askSecret) throw new DrawerError('usage/sync-passphrase-missing', { variable: passphraseVariable });
  if (await isSyncFolder(folder)) return askSecret(words.tell('passphraseOf', { file: folder }));
  const passphrase = await askSecret(words.tell('newPassphrase'));
  if ((await askSecret(words.tell('sameAgain'))) !== passphrase)
    throw new DrawerError('usage/command-passphrases-differ');
  return passphrase;
}

/** Syncs once, and says what that did. */
async function once(opened: FolderSync, json: boolean | undefined, context: Context, isQuiet = false): Promise<void> {
  const { words } = context;
  const result = await withProgress(words.tell('syncing'), context, () => opened.sync());
  if (isQuiet && !didAnything(result)) return;
  const problems = await Promise.all(
    result.problems.map(async (problem) => `${(await words.load()).problem(problem)}.`),
  );
  if (json) return context.print(JSON.stringify({ ...result, problems }));
  context.print(inWords(result, words));
  for (const problem of problems) context.remark(problem);
}

const didAnything = ({ sent, added, changed, removed, problems }: SyncResult): boolean =>
  sent + added + changed + removed + problems.length > 0;

function inWords({ sent, added, changed, removed, beside, devices }: SyncResult, words: Context['words']): string {
  const came = added + changed + removed;
  return [
    devices === 0 ? words.tell('syncAlone', { sent }) : words.tell('syncDone', { sent, count: devices }),
    came > 0 ? words.tell('syncCame', { added, changed, removed }) : words.tell('syncNothingCame'),
    ...(beside.length > 0 ? [words.tell('syncBeside', { count: beside.length })] : []),
  ].join(' ');
}

/** Syncs again after every change, here or in the folder, until somebody stops it. */
async function keepInStep(
  opened: FolderSync,
  folder: string,
  json: boolean | undefined,
  context: Context,
): Promise<void> {
  context.remark(context.words.tell('syncFollows'));
  let isOver = false;
  let wake = (): void => {};
  const changed = (): void => wake();
  const watcher = watch(folder, changed);
  watcher.on('error', () => {}); // shares that tell of no changes are looked at again and again
  const unwatch = opened.watch(changed);
  const stopped = untilStopped().then(() => {
    isOver = true;
    wake();
  });
  try {
    while (!isOver) {
      await new Promise<void>((next) => {
        const timer = setTimeout(next, atLeast);
        wake = () => {
          clearTimeout(timer);
          setTimeout(next, isOver ? 0 : shortly);
        };
      });
      if (!isOver) await once(opened, json, context, true);
    }
  } finally {
    watcher.close();
    unwatch();
  }
  await stopped;
}
