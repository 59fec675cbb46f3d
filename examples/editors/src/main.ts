import { capture, definePanel } from 'drawer/browser';
import { embedCodeMirror } from './embeds/codemirror.ts';
import { embedGrid } from './embeds/grid.ts';
import { embedLexical } from './embeds/lexical.ts';
import { embedPlain } from './embeds/plain.ts';
import { embedQuill } from './embeds/quill.ts';
import { embedTiptap } from './embeds/tiptap.ts';

const place = (id: string): HTMLElement => document.getElementById(id) as HTMLElement;

embedTiptap(place('tiptap'));
embedLexical(place('lexical'));
embedQuill(place('quill'));
embedCodeMirror(place('codemirror'));
embedGrid(place('grid'));
embedPlain(place('plain'));

// The whole of what a page needs for the drawer: an element, a drawer, and what gathers.
definePanel();
const panel = document.querySelector('drawer-panel');
if (panel) capture(document, await panel.openDrawer(), { report: panel.report });
