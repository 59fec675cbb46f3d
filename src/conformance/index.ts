/**
 * What every storage and every format has to do, for those who add one: run each case with a test runner of your own.
 * @packageDocumentation
 */
export type { ConformanceCase } from './case.ts';
export { type FormatSubject, formatCases } from './format.ts';
export { type StorageSubject, storageCases } from './storage.ts';
