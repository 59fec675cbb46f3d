import type { PanelEvents } from './host.ts';
import { DrawerPanel } from './panel.ts';

export type { PanelEvents } from './host.ts';
export { type KeyChanges, type PageKey, pageKeys } from './keys.ts';
export { type CopyHandler, DrawerPanel, type PasteHandler, type PreviewHandler } from './panel.ts';
export { draggedSlips } from './slips.ts';

let isDefined = false;

/** Makes `<drawer-panel>` known to the page, once; by several names, where it is asked for by several. */
export function definePanel(name = 'drawer-panel'): void {
  if (customElements.get(name)) return;
  customElements.define(name, isDefined ? class extends DrawerPanel {} : DrawerPanel); // a class has one name
  isDefined = true;
}

declare global {
  interface HTMLElementTagNameMap {
    'drawer-panel': DrawerPanel;
  }
  interface HTMLElementEventMap extends PanelEvents {}
}

export { type CommandId, type PanelCommand, panelCommands } from './commands.ts';
