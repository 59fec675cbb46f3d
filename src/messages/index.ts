/**
 * The sentences for people in English, German and Arabic, and in languages that an application adds.
 * @packageDocumentation
 */

export {
  type Catalogue,
  type CommandName,
  type CommandPhrases,
  catalogueFor,
  type Details,
  english,
  locales,
  type PartName,
  type Phrase,
  type PhraseName,
  type Plural,
  type Problem,
  registerLocale,
  type SheetPhraseName,
} from './catalogue.ts';
export { command as englishCommand } from './en/command.ts';
export { type Hints, type NoteHints, Words } from './words.ts';
