import type { DrawerPanel, PanelEvents } from '../dist/browser/index.js';

/** Listeners by the names that React 19 and Svelte 5 give them, such as `ondrawer-keep`. */
type PanelListeners = { [K in keyof PanelEvents as `on${K}`]?: (event: PanelEvents[K]) => void };

/** The attributes and properties of `<drawer-panel>`. */
export interface PanelProps
  extends PanelListeners,
    Partial<Pick<DrawerPanel, 'drawer' | 'pasteHandler' | 'copyHandler' | 'previewHandler' | 'keys'>> {
  /** Overrules the colours of the system. */
  theme?: 'light' | 'dark';
  /** Whether little of each slip is shown, so that many fit. */
  dense?: boolean;
}
