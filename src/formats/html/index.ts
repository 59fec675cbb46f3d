export { fragmentNodes, htmlFragment } from './fragment.ts';
