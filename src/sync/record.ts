import { asBlocks } from '../content/index.ts';
import type { Part, Snippet } from '../drawer/index.ts';

/** The edits that a version, or a deletion, comes after: their number by device; and what was there before, by its hash. */
export type Seen = Readonly<Record<string, number>>;

/** What an edit replaces. */
export type Value = Omit<Snippet, 'id' | 'order' | 'label' | 'held' | 'secret' | 'expiresAt'>;

/** What was appended at once. */
export interface Piece {
  /** The stamp of the edit. */
  readonly at: string;
  /** The number of its blocks, and of its parts. */
  readonly blocks: number;
  readonly parts: number;
}

/** What a version has appended to another; others may have appended to that one, too. */
export interface Appended {
  /** The stamp of the version that it was appended to. */
  readonly to: string;
  /** The number of that version's blocks, and of its parts. */
  readonly blocks: number;
  readonly parts: number;
  /** In the order of their stamps. */
  readonly pieces: readonly Piece[];
}

/** One version of a snippet's content. */
export interface Version {
  /** The stamp of the edit. */
  readonly at: string;
  readonly seen: Seen;
  /** The snippet's order key at the edit. */
  readonly order: string;
  readonly value: Value;
  readonly appended?: Appended;
}

/** Where it stands, and since when. */
export interface Place {
  readonly at: string;
  readonly order: string;
}

/** How it is marked, and since when. */
export interface Marks extends Pick<Snippet, 'label' | 'held' | 'expiresAt'> {
  readonly at: string;
}

/** A deletion. */
export interface Gone {
  readonly at: string;
  /** The edits it knew of. */
  readonly seen: Seen;
  /** The edits at which it became a secret; versions that do not include them are dropped. */
  readonly secretSince?: Seen;
  /** When it was first told of, in milliseconds since 1970. */
  readonly told?: number;
}

/** All that devices tell one another about a snippet. */
export interface State {
  /** The device that gathered it. */
  readonly by?: string;
  readonly place: Place;
  readonly marks: Marks;
  /** Versions that none of the others knew of; the one with the highest stamp is shown. None: it is deleted. */
  readonly versions: readonly Version[];
  readonly gone?: Gone;
}

/** A message from one device to the others. */
export interface SyncRecord {
  readonly id: string;
  readonly state: State;
}

/** The snippet that a state shows; `undefined` if it is deleted. */
export function shown(id: string, { place, marks, versions }: State): Snippet | undefined {
  const version = shownVersion(versions);
  if (!version) return undefined;
  const { at: _, ...marked } = marks;
  return { id, order: place.order, ...version.value, ...marked };
}

/** The version with the highest stamp; `undefined` if there is none. */
export const newest = (versions: readonly Version[]): Version | undefined =>
  versions.reduce<Version | undefined>((last, each) => (last && last.at > each.at ? last : each), undefined);

/** The versions that are shown: the newest, and those that have appended to the same. */
export function shownVersions(versions: readonly Version[]): readonly Version[] {
  const top = newest(versions);
  return versions.filter((each) => each === top || (each.appended && isSameBase(each.appended, top?.appended)));
}

const isSameBase = (one: Appended, other: Appended | undefined): boolean =>
  one.to === other?.to && one.blocks === other.blocks && one.parts === other.parts;

/** The version that is shown, with all that was appended to the same; its facts are those of the newest. */
export function shownVersion(versions: readonly Version[]): Version | undefined {
  const together = shownVersions(versions);
  const top = newest(together);
  if (!top?.appended || together.length === 1) return top;
  const { blocks, parts } = top.appended;
  const pieces = new Map(together.flatMap(piecesOf).map((piece) => [piece.at, piece]));
  const all = [...pieces.values()].sort((one, other) => (one.at < other.at ? -1 : 1));
  const before = asBlocks(top.value.content).slice(0, blocks);
  const first = together.map(({ value }) => value.parts).find((each) => each !== undefined);
  return {
    ...top,
    value: {
      ...top.value,
      content: { shape: 'blocks', blocks: [...before, ...all.flatMap(({ content }) => content)] },
      ...(first && { parts: [...first.slice(0, parts), ...all.flatMap(({ of }) => of)] }),
    },
    appended: {
      ...top.appended,
      pieces: all.map(({ at, content, of }) => ({ at, blocks: content.length, parts: of.length })),
    },
  };
}

/** What a version has appended, with its content and parts. */
function piecesOf({ value, appended }: Version) {
  const content = asBlocks(value.content);
  let block = appended?.blocks ?? 0;
  let part = appended?.parts ?? 0;
  return (appended?.pieces ?? []).map(({ at, blocks, parts }) => {
    const of: readonly Part[] = value.parts?.slice(part, part + parts) ?? [];
    const piece = { at, content: content.slice(block, block + blocks), of };
    block += blocks;
    part += parts;
    return piece;
  });
}

/**
 * What two devices know of a snippet, put together: the same in whatever order and however often it is done. The later place
 * and the later marks win. Versions stay that no other version, and no deletion, knew of.
 */
export function join(one: State, other: State): State {
  const gone = one.gone && other.gone ? joinGone(one.gone, other.gone) : (one.gone ?? other.gone);
  const versions = new Map([...one.versions, ...other.versions].map((version) => [version.at, version]));
  const all = [...versions.values()];
  const stays = (version: Version): boolean =>
    !(gone && isEnded(version.seen, gone)) && !all.some((each) => isOlder(version.seen, each.seen));
  const by = one.by && other.by ? (one.by < other.by ? one.by : other.by) : (one.by ?? other.by);
  return {
    ...(by !== undefined && { by }),
    place: later(one.place, other.place),
    marks: later(one.marks, other.marks),
    versions: all.filter(stays).sort((a, b) => (a.at < b.at ? -1 : 1)),
    ...(gone && { gone }),
  };
}

function joinGone(one: Gone, other: Gone): Gone {
  const seen = allSeen([one, other]);
  // Of what only both together have ended nobody has told yet.
  const told = Math.max(...[one, other].map((each) => (isKnown(seen, each.seen) ? (each.told ?? 0) : 0)));
  const secretSince = allSeen([{ seen: one.secretSince ?? {} }, { seen: other.secretSince ?? {} }]);
  return {
    at: later(one, other).at,
    seen,
    ...(Object.keys(secretSince).length > 0 && { secretSince }),
    ...(told > 0 && { told }),
  };
}

/** Whether a deletion ends a version. */
const isEnded = (edits: Seen, { seen, secretSince = {} }: Gone): boolean =>
  isKnown(edits, seen) || !isKnown(secretSince, edits);

/** The one with the higher stamp; of two with the same, always the same one. */
function later<T extends { readonly at: string }>(one: T, other: T): T {
  if (one.at !== other.at) return one.at > other.at ? one : other;
  return JSON.stringify(one) > JSON.stringify(other) ? one : other;
}

/** Whether all these edits are among the others. */
const isKnown = (edits: Seen, others: Seen): boolean =>
  Object.entries(edits).every(([device, count]) => count <= (others[device] ?? 0));

const isOlder = (edits: Seen, others: Seen): boolean => isKnown(edits, others) && !isKnown(others, edits);

/** The edits that any of these knew of. */
export function allSeen(known: readonly { readonly seen: Seen }[]): Seen {
  const all: Record<string, number> = {};
  for (const { seen } of known)
    for (const [device, count] of Object.entries(seen)) all[device] = Math.max(count, all[device] ?? 0);
  return all;
}
