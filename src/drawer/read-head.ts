import { descriptionKinds, parseWith, shapes } from '../content/index.ts';
import { headSchema, patterns } from './schema.ts';
import { type SnippetHead, traits } from './snippet.ts';

/**
 * A stored value as a snippet's head. Lists read many, the first of them in a program that has just started, where a schema
 * takes longer than all else: so what is plainly right is seen by a plain look, and the schema judges the rest.
 * @throws DrawerError `invalid`, with the path of the first thing wrong.
 */
export const readHead = (value: unknown): SnippetHead =>
  isPlainHead(value) ? value : parseWith(headSchema, value, 'snippet');

/** Whether the schema would take it, of heads without parts; says no where it is not sure. */
function isPlainHead(value: unknown): value is SnippetHead {
  return (
    isRecord(value) &&
    hasOnly(value, keys.head) &&
    isText(value.id, 64) &&
    isLike(value.order, patterns.order) &&
    isOrigin(value.origin) &&
    isLike(value.takenAt, patterns.moment) &&
    isFacts(value.facts) &&
    (!('language' in value) || isLike(value.language, patterns.language)) &&
    (!('label' in value) || isText(value.label, 4096)) &&
    (!('held' in value) || value.held === true) &&
    (!('secret' in value) || value.secret === true || value.secret === 'once') &&
    (!('expiresAt' in value) || isLike(value.expiresAt, patterns.moment))
  );
}

const keys = {
  head: ['id', 'order', 'origin', 'takenAt', 'facts', 'language', 'label', 'held', 'secret', 'expiresAt'],
  origin: ['file', 'place', 'title', 'url', 'program'],
  description: ['kind', 'params'],
  facts: ['shape', 'what', 'preview', 'characters', 'words', 'lines', 'bytes', 'traits'],
} as const;

function isOrigin(value: unknown): boolean {
  if (!isRecord(value) || !hasOnly(value, keys.origin)) return false;
  for (const key in value) if (!isText(value[key], 4096)) return false;
  return true;
}

function isFacts(value: unknown): boolean {
  return (
    isRecord(value) &&
    hasOnly(value, keys.facts) &&
    isOneOf(value.shape, shapes) &&
    isDescription(value.what) &&
    typeof value.preview === 'string' &&
    isCount(value.characters) &&
    isCount(value.words) &&
    isCount(value.lines) &&
    isCount(value.bytes) &&
    (!('traits' in value) || (Array.isArray(value.traits) && value.traits.every((trait) => isOneOf(trait, traits))))
  );
}

function isDescription(value: unknown): boolean {
  if (!isRecord(value) || !hasOnly(value, keys.description) || !isOneOf(value.kind, descriptionKinds)) return false;
  return !('params' in value) || (isRecord(value.params) && Object.values(value.params).every(Number.isFinite));
}

type Fields = Readonly<Record<string, unknown>>;

/** What `JSON.parse` makes of braces. */
const isRecord = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype;

function hasOnly(value: Fields, known: readonly string[]): boolean {
  for (const key of Object.keys(value)) if (!known.includes(key)) return false;
  return true;
}

const isText = (value: unknown, longest: number): boolean =>
  typeof value === 'string' && value.length > 0 && value.length <= longest;
const isLike = (value: unknown, pattern: RegExp): boolean => typeof value === 'string' && pattern.test(value);
const isOneOf = (value: unknown, all: readonly unknown[]): boolean => all.includes(value);
const isCount = (value: unknown): boolean => Number.isInteger(value) && (value as number) >= 0;
