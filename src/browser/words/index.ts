export { type Catalogue, catalogueFor, catalogues, type PhraseName, type Plural } from './catalogue.ts';
export { english } from './english.ts';
export { Words } from './words.ts';
