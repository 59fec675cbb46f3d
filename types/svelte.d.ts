import type { HTMLAttributes } from 'svelte/elements';
import type { DrawerPanel } from '../dist/browser/index.js';
import type { PanelProps } from './panel.js';

declare module 'svelte/elements' {
  interface SvelteHTMLElements {
    'drawer-panel': HTMLAttributes<DrawerPanel> & PanelProps;
  }
}
