import * as browser from '../../src/browser/index.ts';
import * as core from '../../src/index.ts';

/** What the tests reach from outside. */
declare global {
  interface Window {
    drawer: core.Drawer;
    stop(): void;
    sent: core.Content[];
    tools: typeof browser & typeof core;
  }
}

const rich = document.getElementById('rich');
if (rich) rich.contentEditable = 'true';
for (const [name, value] of [
  ['role', 'textbox'],
  ['aria-label', 'Rich'],
] as const)
  rich?.setAttribute(name, value);

const shadow = document.getElementById('host')?.attachShadow({ mode: 'open' });
const inside = document.createElement('p');
inside.textContent = 'Words in a shadow.';
shadow?.append(inside);

browser.definePanel();
const panel = document.querySelector('drawer-panel');
window.drawer = await browser.openDrawer();
window.tools = { ...core, ...browser };
window.sent = [];
if (panel) {
  panel.drawer = window.drawer;
  const capturing = browser.capture(document, window.drawer, {
    report: panel.report,
    send: async (content) => void window.sent.push(content),
  });
  window.stop = capturing.stop;
}
document.documentElement.dataset.ready = 'yes';
