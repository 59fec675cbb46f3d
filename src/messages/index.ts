export {
  type Catalogue,
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
} from './catalogue.ts';
export { type Hints, type NoteHints, Words } from './words.ts';
