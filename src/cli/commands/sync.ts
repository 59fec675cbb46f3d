import { watch } from 'node:fs';
import { resolve } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { DrawerError } from '../../content/index.ts';
import { type FolderSync, isSyncFolder, openFolderSync, type SyncResult } from '../../node/index.ts';
import { askNewPassphrase, type Context } from '../context.ts';
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
    const telling = { json, context, told: new Set<string>() };
    await once(opened, telling);
    if (follow) await keepInStep(opened, folder, telling);
  } finally {
    await opened.close();
  }
}

async function passphraseOf(folder: string, { environment, askSecret, words }: Context): Promise<string> {
  const told = environment[passphraseVariable];
  if (told !== undefined) return told;
  if (!askSecret) throw new DrawerError('usage/sync-passphrase-missing', { variable: passphraseVariable });
  if (await isSyncFolder(folder)) return askSecret(words.tell('passphraseOf', { file: folder }));
  return askNewPassphrase(askSecret, words);
}

/** What a sync is told by. */
interface Telling {
  readonly json: boolean | undefined;
  readonly context: Context;
  /** Problems that were told already. */
  readonly told: Set<string>;
}

/** Syncs once, and says what that did. */
async function once(opened: FolderSync, { json, context, told }: Telling, isAgain = false): Promise<void> {
  const { words } = context;
  const result = await withProgress(words.tell('syncing'), context, () => opened.sync());
  const problems = await Promise.all(
    result.problems.map(async (problem) => `${(await words.load()).problem(problem)}.`),
  );
  const anew = problems.filter((problem) => !told.has(problem));
  told.clear();
  for (const problem of problems) told.add(problem);
  if (isAgain && anew.length === 0 && !didAnything(result)) return;
  if (json) return context.print(JSON.stringify({ ...result, problems }));
  context.print(inWords(result, words));
  for (const problem of anew) context.remark(problem);
}

const didAnything = ({ sent, added, changed, removed }: SyncResult): boolean => sent + added + changed + removed > 0;

function inWords({ sent, added, changed, removed, beside, devices }: SyncResult, words: Context['words']): string {
  const came = added + changed + removed;
  return [
    devices === 0 ? words.tell('syncAlone', { sent }) : words.tell('syncDone', { sent, count: devices }),
    came > 0 ? words.tell('syncCame', { added, changed, removed }) : words.tell('syncNothingCame'),
    ...(beside.length > 0 ? [words.tell('syncBeside', { count: beside.length })] : []),
  ].join(' ');
}

/** Syncs again after every change, here or in the folder, until somebody stops it. */
async function keepInStep(opened: FolderSync, folder: string, telling: Telling): Promise<void> {
  telling.context.remark(telling.context.words.tell('syncFollows'));
  let isOver = false;
  let isChanged = false;
  let wake = (): void => {};
  const changed = (): void => {
    isChanged = true;
    wake();
  };
  const watcher = watch(folder, changed);
  watcher.on('error', () => {}); // shares that tell of no changes are looked at again and again
  const unwatch = opened.watch(changed);
  const stopped = untilStopped().then(() => {
    isOver = true;
    wake();
  });
  try {
    while (!isOver) {
      if (!isChanged)
        await new Promise<void>((next) => {
          const timer = setTimeout(next, atLeast);
          wake = () => {
            clearTimeout(timer);
            next();
          };
        });
      if (isOver) break;
      if (isChanged) await pause(shortly);
      isChanged = false;
      await once(opened, telling, true);
    }
  } finally {
    watcher.close();
    unwatch();
  }
  await stopped;
}
