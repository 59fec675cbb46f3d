import { realpath } from 'node:fs/promises';
import { resolve } from 'node:path';
import { type Match, type Matching, matchSlots, slotValue } from '../../compose/index.ts';
import { clipped, DrawerError, parseEnum, preview } from '../../content/index.ts';
import { type Drawer, hidden, loadDateFinder, type Snippet } from '../../drawer/index.ts';
import type { Slot, SlotValue } from '../../formats/index.ts';
import { alreadyThere, checkWritable, exists, type Form, fillForm, readForm, whileClaimed } from '../../node/index.ts';
import { type CommandWords, snippetCount } from '../command-words.ts';
import type { Context } from '../context.ts';
import { usualLanguage } from '../language.ts';
import { withDrawer } from '../with-drawer.ts';
import { spendSecrets } from './paste.ts';

export interface FillOptions {
  readonly into?: string;
  readonly slot?: readonly string[];
  readonly by?: string;
  readonly from?: readonly string[];
  readonly preview?: boolean;
  readonly language?: string;
  readonly quiet?: boolean;
  readonly json?: boolean;
}

/** `drawer fill FORM`: the drawer's snippets into the places of a form, each by its name, its label or what it is. */
export async function fill(file: string, options: FillOptions, context: Context): Promise<void> {
  const by = options.by === undefined ? undefined : parseEnum('match', options.by, ['label', 'trait'] as const);
  if (options.into !== undefined && (await exists(options.into))) throw alreadyThere(options.into);
  await whileClaimed(options.preview ? [] : [file], () => fillClaimed(file, by, options, context));
}

async function fillClaimed(
  file: string,
  by: 'label' | 'trait' | undefined,
  options: FillOptions,
  context: Context,
): Promise<void> {
  const form = await readForm(file);
  if (form.slots.length === 0) throw new DrawerError('not-found/fields-none', {}, { where: file });
  await withDrawer(context, async (drawer) => {
    const snippets = await chosenSnippets(drawer, options.from ?? ['all']);
    const map = await explicit(drawer, options.slot ?? []);
    const matching = matchSlots(form.slots, snippets, { map, ...(by && { by }) });
    if (matching.unknown.length > 0) throw unknownSlot(matching.unknown[0] ?? '', form);
    const { values, unfit } = await valuesOf(matching, options.language ?? usualLanguage);
    if (!options.preview) await write(drawer, form, values, options);
    report(form, matching, values, unfit, options, context);
    const used = matching.matches.filter(({ slot }) => values.has(slot.key)).map(({ snippet }) => snippet);
    if (!options.preview) await spendSecrets(drawer, used, context);
  });
}

const chosenSnippets = async (drawer: Drawer, references: readonly string[]): Promise<readonly Snippet[]> =>
  drawer.getMany((await drawer.select(references)).map(({ summary }) => summary.id));

/** `Date=3`: a slot's name and a reference. */
async function explicit(drawer: Drawer, pairs: readonly string[]): Promise<Map<string, Snippet>> {
  const map = new Map<string, Snippet>();
  for (const pair of pairs) {
    const [, name = '', reference = ''] = /^(.+)=([^=]+)$/.exec(pair) ?? [];
    if (name === '') throw new DrawerError('usage/command-slot-invalid', { words: pair });
    const [snippet, ...others] = await chosenSnippets(drawer, [reference.trim()]);
    if (!snippet || others.length > 0)
      throw new DrawerError('usage/reference-fits-several', { reference, count: others.length + 1 });
    map.set(name.trim(), snippet);
  }
  return map;
}

function unknownSlot(name: string, { slots, file }: Form): DrawerError {
  const names = slots.filter(({ isGuess }) => !isGuess).map((slot) => slot.names[0] ?? slot.key);
  return new DrawerError('not-found/field-unknown', { name, names: names.slice(0, 12) }, { where: file });
}

type Fit = { readonly values: ReadonlyMap<string, SlotValue>; readonly unfit: readonly Match<Slot>[] };

async function valuesOf({ matches }: Matching<Slot>, language: string): Promise<Fit> {
  const findDate = await loadDateFinder(language);
  const values = new Map<string, SlotValue>();
  const unfit: Match<Slot>[] = [];
  for (const match of matches) {
    const value = slotValue(match.slot, match.snippet.content, findDate, language);
    if (value === undefined) unfit.push(match);
    else values.set(match.slot.key, value);
  }
  return { values, unfit };
}

async function write(
  drawer: Drawer,
  form: Form,
  values: Fit['values'],
  { into, language = usualLanguage }: FillOptions,
): Promise<void> {
  if (values.size === 0) return;
  const path = into === undefined ? await realpath(form.file) : resolve(into);
  if (into === undefined) await checkWritable(path);
  const after = await fillForm(form, values, language);
  const name = { kind: 'filled', params: { count: values.size, file: into ?? form.file } };
  await drawer.writeFiles({ name, files: [{ path, ...(into === undefined && { before: form.bytes }), after }] });
}

function report(
  form: Form,
  { matches, empty, unused, ambiguous }: Matching<Slot>,
  values: Fit['values'],
  unfit: Fit['unfit'],
  options: FillOptions,
  { print, remark, words }: Context,
): void {
  const filled = matches.filter(({ slot }) => values.has(slot.key));
  const isUnfit = (slot: Slot): boolean => unfit.some((match) => match.slot === slot);
  const left = empty.filter((slot) => !isUnfit(slot));
  const names = (slots: readonly Slot[]): string => slots.map((slot) => slot.names[0]).join(', ');
  if (options.json) {
    const asJson = {
      filled: filled.map(({ slot, snippet, by }) => ({
        slot: slot.names[0],
        value: snippet.secret ? hidden : values.get(slot.key),
        snippet: snippet.id,
        by,
      })),
      empty: left.map((slot) => slot.names[0]),
      ambiguous: ambiguous.map(({ slot, snippets }) => ({
        slot: slot.names[0],
        snippets: snippets.map(({ id }) => id),
      })),
      unfit: unfit.map(({ slot }) => slot.names[0]),
      unused: unused.map(({ id }) => id),
    };
    return print(JSON.stringify(asJson, null, 2));
  }
  if (options.quiet && !options.preview) return;
  const count = { count: filled.length, file: options.into ?? form.file };
  print(
    filled.length === 0 ? words.tell('filledNothing') : words.tell(options.preview ? 'wouldFill' : 'filledSome', count),
  );
  const name = (slot: Slot): string => slot.names[0] ?? slot.key;
  for (const { slot, snippet, by } of filled)
    print(
      `  ${words.tell('filledSlot', {
        slot: name(slot),
        value: snippet.secret ? hidden : shown(values.get(slot.key), words),
        by: words.tell(`by.${by}`),
      })}`,
    );
  if (left.length > 0) print(words.tell('leftEmpty', { slots: names(left) }));
  if (unused.length > 0) print(words.tell('notUsed', { snippets: snippetCount(unused.length) }));
  for (const { slot, snippet } of unfit)
    remark(
      words.tell('slotUnfit', {
        slot: name(slot),
        wanted: words.tell(slot.kind === 'choice' ? 'unfit.choice' : `takes.${slot.kind}`),
        preview: snippet.secret ? hidden : preview(snippet.content, 40),
      }),
    );
  for (const { slot, snippets } of ambiguous)
    remark(words.tell('slotAmbiguous', { slot: name(slot), count: snippets.length }));
}

const shown = (value: SlotValue | undefined, words: CommandWords): string => {
  if (typeof value === 'boolean') return words.tell(value ? 'ticked' : 'notTicked');
  return clipped(String(value ?? '').replace(/\s+/g, ' '), 60);
};
