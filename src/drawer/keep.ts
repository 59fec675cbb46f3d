import { DrawerError, findLanguage } from '../content/index.ts';
import { type Change, picturesOf } from './change.ts';
import { commit } from './commit.ts';
import { factsShown } from './erase.ts';
import { type FactsOf, isBlank, lookOf } from './facts.ts';
import { type ChangedFile, hashOf } from './file-change.ts';
import { keyBetween } from './order-keys.ts';
import { makeRoom, roomLeft } from './room.ts';
import { type CallOptions, type CheckedInput, patterns } from './schema.ts';
import { momentAfter, pauseOf, readSettings, type Settings } from './settings.ts';
import type { Origin, Snippet, SnippetSummary } from './snippet.ts';
import { getSnippet, type WritableRows } from './storage.ts';

/** The result of keeping one item. */
export type KeepResult =
  | {
      /** `moved`: the drawer had it already; it is now at the end. */
      readonly kind: 'kept' | 'appended' | 'moved';
      readonly position: number;
      readonly summary: SnippetSummary;
      /** The position of a snippet with the same content and origin. */
      readonly sameAs?: number;
      /** How many more snippets fit, once that is few. */
      readonly room?: number;
      /** Snippets removed because the drawer was full. */
      readonly letGo?: readonly SnippetSummary[];
      /** The snippet that the next one will remove. */
      readonly nextToGo?: SnippetSummary;
    }
  /** The drawer has it already, at `position`; it was not kept again. */
  | { readonly kind: 'repeat'; readonly position: number; readonly summary: SnippetSummary }
  | { readonly kind: 'blank'; readonly origin: Origin }
  /** The drawer's rules exclude this origin. */
  | { readonly kind: 'ignored'; readonly origin: Origin };

export interface KeepOptions extends CallOptions {
  readonly now: Date;
  generateId(): string;
  readonly factsOf: FactsOf;
  /** The files that the items are cut from; absent if nothing is cut. */
  readonly files?: readonly ChangedFile[];
}

/** A snippet without a position. */
interface Draft {
  readonly snippet: Omit<Snippet, 'order'>;
  /** Its facts as lists show them, for finding duplicates. */
  readonly look: string;
}

/** The changes planned so far by one call of `keep`. */
interface Plan {
  /** Existing snippets by their look. */
  readonly there: ReadonlyMap<string, readonly SnippetSummary[]>;
  readonly changes: Change[];
  /** New snippets, in their final order. */
  readonly added: Snippet[];
  /** New snippets by their look. */
  readonly looks: Map<string, Snippet[]>;
  /** Ids of snippets that move to the end. */
  readonly moved: Set<string>;
  /** Order key of the snippet that will be last. */
  last: string | null;
}

type Outcome =
  | { readonly result: KeepResult }
  | { readonly kind: 'kept' | 'moved'; readonly snippet: Snippet; readonly same: Snippet | undefined };

/** Keeps items at the end by the drawer's rules: all of them or none. */
export async function keep(
  rows: WritableRows,
  gathered: readonly CheckedInput[],
  options: KeepOptions,
): Promise<readonly KeepResult[]> {
  const settings = await readSettings(rows);
  checkRunning(settings, options.now);
  const drafts = gathered.map((each, index): Draft | Outcome => {
    options.signal?.throwIfAborted();
    options.onProgress?.(index + 1, gathered.length);
    const result = passedOver(each, settings);
    return result ? { result } : draftOf(each, settings, options);
  });
  const plan: Plan = {
    there: await thereAlready(rows, drafts),
    changes: [],
    added: [],
    looks: new Map(),
    moved: new Set(),
    last: (await rows.findLast())?.order ?? null,
  };
  const outcomes: Outcome[] = [];
  for (const draft of drafts) outcomes.push('look' in draft ? await outcomeOf(rows, draft, plan, settings) : draft);
  if (options.files) for (const outcome of outcomes) checkTaken(outcome);
  const { letGo, count } = await makeRoom(rows, plan.added, plan.moved, settings);
  const isNothing = outcomes.every((outcome) => 'result' in outcome && outcome.result.kind === 'blank');
  const files = isNothing ? [] : (options.files ?? []);
  await putMedia(rows, gathered);
  const moved = plan.moved.size;
  await commit(rows, {
    name:
      plan.added.length === 0 && moved > 0
        ? { kind: 'moved', params: { count: moved } }
        : { kind: files.length > 0 ? 'cut' : 'kept', params: { count: plan.added.length } },
    changes: [...letGo.map(({ id }): Change => ({ type: 'remove', id })), ...plan.changes],
    at: options.now,
    files,
  });
  const facts = await roomLeft(rows, settings, plan.added.length > 0);
  let position = count - letGo.length - moved;
  const results: KeepResult[] = [];
  for (const outcome of outcomes) {
    if ('result' in outcome) {
      results.push(outcome.result);
      continue;
    }
    const { kind, snippet, same } = outcome;
    const { content: _, ...summary } = snippet;
    const isRepeat = kind === 'kept' && same && isFromThere(same, snippet);
    results.push({
      kind,
      position: ++position,
      summary,
      ...(isRepeat && { sameAs: (await rows.countBefore(same)) + 1 }),
      ...facts,
      ...(snippet === plan.added.at(-1) && letGo.length > 0 && { letGo }),
    });
  }
  return results;
}

const isFromThere = ({ origin }: Snippet, other: Snippet): boolean =>
  JSON.stringify(origin) === JSON.stringify(other.origin);

/** Content that is cut from a file must be kept. */
function checkTaken(outcome: Outcome): void {
  if (!('result' in outcome) || outcome.result.kind !== 'ignored') return;
  throw new DrawerError('refused/origin-ignored');
}

/** The result for an item that the rules exclude; `undefined` for any other. */
export function passedOver(
  { content, origin }: CheckedInput,
  { blanks, ignored }: Pick<Settings, 'blanks' | 'ignored'>,
): KeepResult | undefined {
  if (blanks === 'skip' && isBlank(content)) return { kind: 'blank', origin };
  return isFrom(origin, ignored) ? { kind: 'ignored', origin } : undefined;
}

/** Existing snippets that look like one of the drafts, read in one query. */
async function thereAlready(
  rows: WritableRows,
  drafts: readonly (Draft | Outcome)[],
): Promise<ReadonlyMap<string, readonly SnippetSummary[]>> {
  const open = drafts.flatMap((draft) => ('look' in draft && !draft.snippet.secret ? [draft.snippet.facts] : []));
  const there = new Map<string, SnippetSummary[]>();
  for (const summary of open.length > 0 ? await rows.duplicates(open) : [])
    addTo(there, lookOf(summary.facts), summary);
  return there;
}

function addTo<T>(lists: Map<string, T[]>, key: string, value: T): void {
  const list = lists.get(key);
  if (list) list.push(value);
  else lists.set(key, [value]);
}

async function outcomeOf(
  rows: WritableRows,
  { snippet: draft, look }: Draft,
  plan: Plan,
  settings: Settings,
): Promise<Outcome> {
  const order = keyBetween(plan.last, null, draft.id);
  const snippet: Snippet = { ...draft, order };
  const same = await sameAs(rows, snippet, look, plan);
  const isAdded = (other: Snippet): boolean => plan.looks.get(look)?.includes(other) === true;
  if (same && (settings.repeats === 'skip' || plan.moved.has(same.id))) {
    const { content: _, ...summary } = same;
    return {
      result: {
        kind: 'repeat',
        position: (await rows.countBefore(same)) + Math.max(0, plan.added.indexOf(same)) + 1,
        summary,
      },
    };
  }
  plan.last = order;
  if (same && settings.repeats === 'to-end' && !isAdded(same)) {
    plan.moved.add(same.id);
    plan.changes.push({ type: 'reorder', id: same.id, order });
    return { kind: 'moved', snippet: { ...same, order }, same };
  }
  plan.changes.push({ type: 'insert', snippet });
  plan.added.push(snippet);
  addTo(plan.looks, look, snippet);
  return { kind: 'kept', snippet, same };
}

/** A snippet with the same content, from any origin. */
async function sameAs(
  rows: WritableRows,
  snippet: Snippet,
  look: string,
  { there, looks }: Plan,
): Promise<Snippet | undefined> {
  if (snippet.secret) return undefined;
  const [summaries, added] = [there.get(look), looks.get(look)];
  if (!summaries && !added) return undefined;
  const words = JSON.stringify(snippet.content);
  const isSame = (other: Snippet): boolean => JSON.stringify(other.content) === words;
  for (const summary of summaries ?? []) {
    const other = await getSnippet(rows, summary.id);
    if (isSame(other)) return other;
  }
  return added?.find(isSame);
}

export async function putMedia(
  rows: WritableRows,
  gathered: readonly Pick<CheckedInput, 'content' | 'media'>[],
): Promise<void> {
  for (const { media } of gathered)
    for (const [hash, bytes] of media ?? []) {
      checkHash(hash, bytes);
      await rows.putMedia(hash, bytes);
    }
  for (const { content } of gathered) for (const hash of picturesOf(content)) await checkBytes(rows, hash);
}

/** Wrong bytes under a picture's hash would replace that picture in every snippet that shows it. */
function checkHash(hash: string, bytes: Uint8Array): void {
  if (hashOf(bytes) === hash) return;
  throw new DrawerError('invalid/picture-bytes-wrong', { hash });
}

async function checkBytes(rows: WritableRows, hash: string): Promise<void> {
  if (await rows.findMedia(hash)) return;
  throw new DrawerError('invalid/picture-bytes-missing', { hash });
}

export function checkRunning(settings: Settings, now: Date): void {
  const pause = pauseOf(settings, now);
  if (pause) throw new DrawerError('refused/gathering-paused', pause.params);
}

/** Whether an origin's name contains one of the words, ignoring case. */
function isFrom(origin: Origin, words: readonly string[]): boolean {
  const { file, title, url, program, place = '' } = origin;
  const name = [file, title, url, program, place.replace(/^[a-z]+=/, '')].join('\n').toLowerCase();
  return words.some((each) => name.includes(each.toLowerCase()));
}

/** Whether an item is secret, by its own mark or by the drawer's rules. */
export const isSecret = ({ secret, origin }: CheckedInput, { secretFrom }: Settings): boolean =>
  secret !== undefined || isFrom(origin, secretFrom);

/** The language, if it is a valid tag: pages also declare others. */
function languageOf(tag: string | undefined): Pick<Snippet, 'language'> {
  const language = findLanguage(tag);
  return language === undefined || !patterns.language.test(language) ? {} : { language };
}

function draftOf(each: CheckedInput, settings: Settings, { now, generateId, factsOf }: KeepOptions): Draft {
  const { content, origin, language, label, held, parts, meta } = each;
  const facts = factsOf(content, language);
  const seconds = settings.lasts[facts.shape];
  const secret = each.secret ?? (isSecret(each, settings) ? true : undefined);
  const expiresAt = each.expiresAt ?? (seconds === undefined ? undefined : momentAfter(now, seconds));
  const shown = factsShown(facts, secret);
  const snippet = {
    id: generateId(),
    origin,
    takenAt: each.takenAt ?? now.toISOString(),
    facts: shown,
    ...languageOf(language),
    ...(label !== undefined && { label }),
    ...(held && { held }),
    ...(secret && { secret }),
    ...(expiresAt !== undefined && { expiresAt }),
    ...(parts && { parts }),
    ...(meta && { meta }),
    content,
  };
  return { snippet, look: lookOf(shown) };
}
