import { DrawerError } from '../../content/index.ts';
import {
  type Drawer,
  momentAfter,
  parseDuration,
  parseRules,
  pauseOf,
  rules as ruleTable,
  type Settings,
  untilTold,
} from '../../drawer/index.ts';
import { withConsent } from '../consent.ts';
import { askNewPassphrase, type Context, passphraseVariable } from '../context.ts';
import { fullnessInWords, ruleInWords } from '../rules-in-words.ts';
import { making, remarkCopies, withDrawer } from '../with-drawer.ts';

export interface RulesOptions {
  /** How long, `off`, or nothing for until told. */
  readonly pause?: string | true;
  readonly lock?: boolean;
  readonly unlock?: boolean;
  readonly yes?: boolean;
  readonly json?: boolean;
}

/** `drawer rules [NAME=VALUE…]`: what holds in this drawer, and what shall hold. */
export const rules = (words: readonly string[], options: RulesOptions, context: Context): Promise<void> =>
  withDrawer(
    context,
    async (drawer) => {
      const asked = { ...parseRules(words), ...askedPause(options, context.now) };
      const goesOn = options.pause === 'off';
      if (options.lock) return lock(drawer, context);
      if (options.unlock) return unlock(drawer, context);
      if (Object.keys(asked).length > 0) await change(drawer, asked, options, context);
      if (goesOn) await drawer.forgetSettings(['paused']);
      await show(
        drawer,
        words.map((each) => each.replace(/=.*/s, '')),
        options,
        context,
      );
    },
    { ...making, mayBeUnlocked: options.unlock === true },
  );

async function lock(drawer: Drawer, context: Context): Promise<void> {
  const { environment, askSecret, print, words } = context;
  if (await drawer.isLocked()) return print(words.tell('lockedAlready'));
  const passphrase = environment[passphraseVariable] ?? (askSecret && (await askNewPassphrase(askSecret, words)));
  if (passphrase === undefined) throw new DrawerError('usage/command-passphrase-missing');
  await drawer.lock(passphrase);
  print(words.tell('lockedIs'));
  await remarkCopies(context);
}

async function unlock(drawer: Drawer, { print, words }: Context): Promise<void> {
  if (!(await drawer.isLocked())) return print(words.tell('lockedNot'));
  await drawer.unlock();
  print(words.tell('lockOff'));
}

function askedPause({ pause }: RulesOptions, now: Date): Partial<Settings> {
  if (pause === undefined || pause === 'off') return {};
  if (pause === true) return { paused: untilTold };
  return { paused: momentAfter(now, parseDuration(pause)) };
}

const change = (drawer: Drawer, asked: Partial<Settings>, { yes }: RulesOptions, context: Context): Promise<void> =>
  withConsent(
    (letGo) => drawer.changeSettings(asked, { letGo }),
    { yes, question: context.words.tell('askRules') },
    context,
  );

async function show(
  drawer: Drawer,
  names: readonly string[],
  { json, pause: asked }: RulesOptions,
  { print, now, words }: Context,
): Promise<void> {
  const settings = await drawer.settings();
  const [count, bytes] = [await drawer.count(), await drawer.bytes()];
  if (json) return print(JSON.stringify({ count, bytes, rules: settings }, null, 2));
  const isAll = names.length === 0 && asked === undefined;
  for (const { name } of ruleTable)
    if (isAll || names.includes(name)) print(`${name.padEnd(8)} ${ruleInWords[name]?.(settings, words)}`);
  if (!isAll && asked === undefined) return;
  const pause = pauseOf(settings, now);
  const running = pause ? (await words.load()).part(pause) : words.tell('gatheringOn');
  print(
    words.tell('rulesState', {
      state: running,
      full: fullnessInWords(count, bytes, settings, words),
      locked: (await drawer.isLocked()) ? words.tell('rulesLocked') : '',
    }),
  );
}
