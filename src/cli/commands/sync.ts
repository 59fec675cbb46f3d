import { setTimeout as pause } from 'node:timers/promises';
import { DrawerError } from '../../content/index.ts';
import { openSyncing, type Syncing, type SyncResult, sharingOf } from '../../node/index.ts';
import { askNewPassphrase, type Context } from '../context.ts';
import { withProgress } from '../gather.ts';
import { untilStopped } from '../until-stopped.ts';
import { openingOf, pathOf, withDrawer } from '../with-drawer.ts';

export interface SyncCommandOptions {
  /** How the others call this device. */
  readonly name?: string;
  /** Stays until it is stopped, and keeps in step. */
  readonly follow?: boolean;
  /** Chooses another passphrase for all devices. */
  readonly newPassphrase?: boolean;
  readonly json?: boolean;
}

/** The variables that hold the passphrase, another one to be chosen, and what a server asks for. */
const variables = {
  passphrase: 'DRAWER_SYNC_PASSPHRASE',
  next: 'DRAWER_SYNC_NEW_PASSPHRASE',
  token: 'DRAWER_SYNC_TOKEN',
} as const;

/** How long it waits before it tries a server again that cannot be reached, in milliseconds. */
const again = 5_000;

/**
 * `drawer sync ADDRESS`: brings the drawer together with those of other devices, over a folder or a server. Without an address:
 * names the other devices, and counts the snippets still to be sent.
 */
export async function sync(address: string | undefined, options: SyncCommandOptions, context: Context): Promise<void> {
  const { name, follow, newPassphrase, json } = options;
  if (address === undefined) {
    if (follow || newPassphrase || name !== undefined) throw new DrawerError('usage/sync-address-invalid', {});
    return tellSharing(options, context);
  }
  const { environment, words } = context;
  const open = (): Promise<Syncing> =>
    openSyncing(pathOf(context), address, {
      passphrase: environment[variables.passphrase] ?? ((asked) => askPassphrase(asked, context)),
      token: environment[variables.token],
      name,
      open: openingOf(context),
      labelBeside: (preview) => words.tell('syncLabel', { preview }),
    });
  const telling = { json, context, told: new Set<string>() };
  const opened = follow ? await whenReached(open, telling) : await open();
  try {
    const next = newPassphrase ? await askNext(context) : undefined;
    const work = () => (next === undefined ? opened.sync() : opened.changePassphrase(next));
    await tell(await withProgress(words.tell('syncing'), context, work), telling);
    if (next !== undefined && !json) context.print(words.tell('syncPassphraseChanged'));
    if (follow) await keepInStep(opened, telling);
  } finally {
    await opened.close();
  }
}

async function tellSharing({ json }: SyncCommandOptions, context: Context): Promise<void> {
  const { words } = context;
  const sharing = await withDrawer(context, sharingOf);
  if (json) return context.print(JSON.stringify(sharing ?? { devices: [], waiting: 0 }));
  if (!sharing) return context.print(words.tell('syncNever'));
  const { devices, waiting } = sharing;
  context.print(
    [
      devices.length === 0 ? words.tell('syncWithNobody') : words.tell('syncWith', { devices }),
      waiting === 0 ? words.tell('syncNothingWaits') : words.tell('syncWaiting', { count: waiting }),
    ].join(' '),
  );
}

/** Tries until the server can be reached. */
async function whenReached<T>(attempt: () => Promise<T>, telling: Telling): Promise<T> {
  for (;;) {
    const reached = await attempt().then(
      (result) => ({ result }),
      (error: unknown) => tellUnreached(error, telling),
    );
    if (reached) return reached.result;
    await pause(again);
  }
}

/** Says once that the server cannot be reached. @throws every other error */
async function tellUnreached(error: unknown, { context, told }: Telling): Promise<void> {
  if (!DrawerError.is(error) || error.reason !== 'sync-server-unreachable') throw error;
  const problem = `${(await context.words.load()).problem(error)}.`;
  if (!told.has(problem)) context.remark(`${problem} ${context.words.tell('syncRetries')}`);
  told.add(problem);
}

/** @throws DrawerError `sync-passphrase-missing` where nobody can be asked */
async function askPassphrase(
  { isNew, name }: { readonly isNew: boolean; readonly name: string },
  { askSecret, words }: Context,
): Promise<string> {
  if (!askSecret) throw new DrawerError('usage/sync-passphrase-missing', { variable: variables.passphrase });
  return isNew ? askNewPassphrase(askSecret, words) : askSecret(words.tell('passphraseOf', { file: name }));
}

/** Another passphrase. @throws DrawerError `sync-passphrase-missing` where nobody can be asked */
async function askNext({ environment, askSecret, words }: Context): Promise<string> {
  const given = environment[variables.next];
  if (given !== undefined) return given;
  if (!askSecret) throw new DrawerError('usage/sync-passphrase-missing', { variable: variables.next });
  return askNewPassphrase(askSecret, words);
}

/** What a sync is told by. */
interface Telling {
  readonly json: boolean | undefined;
  readonly context: Context;
  /** Problems that were told already. */
  readonly told: Set<string>;
}

/** Says what a sync did. */
async function tell(result: SyncResult, { json, context, told }: Telling, isAgain = false): Promise<void> {
  const { words } = context;
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

/** Syncs again after every change, here or elsewhere, until somebody stops it. */
async function keepInStep(opened: Syncing, telling: Telling): Promise<void> {
  const { context } = telling;
  context.remark(context.words.tell('syncFollows'));
  const ending = new AbortController();
  const stopped = untilStopped().then(() => ending.abort());
  await opened.follow({
    onSynced: (result) => tell(result, telling, true),
    onUnreachable: (problem) => tellUnreached(problem, telling),
    signal: ending.signal,
  });
  await stopped;
}
