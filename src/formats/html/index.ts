export type { Node as PageNode } from './dom.ts';
export { fragmentNodes, htmlFragment } from './fragment.ts';
export { excerptOfMarkup, excerptOfNodes } from './read.ts';
