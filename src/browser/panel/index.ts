import { DrawerPanel } from './panel.ts';

export { type KeyChanges, type PageKey, pageKeys } from './keys.ts';
export { type CopyHandler, DrawerPanel, type PasteHandler, type PreviewHandler } from './panel.ts';
export { draggedSlips } from './slips.ts';

/** Makes `<drawer-panel>` known to the page, once. */
export function definePanel(name = 'drawer-panel'): void {
  if (!customElements.get(name)) customElements.define(name, DrawerPanel);
}

declare global {
  interface HTMLElementTagNameMap {
    'drawer-panel': DrawerPanel;
  }
}

export { type CommandId, type PanelCommand, panelCommands } from './commands.ts';
