import { Jodit } from 'jodit/esm/index.js';
import * as browser from '../../src/browser/index.ts';
import * as core from '../../src/index.ts';

/** The same server by its other name is another site. */
const foreign = document.querySelector<HTMLIFrameElement>('#foreign');
if (foreign) foreign.src = `http://localhost:${location.port}/foreign.html`;

const whole = document.querySelector<HTMLIFrameElement>('#whole');
const editWhole = (): void => {
  if (whole?.contentDocument) whole.contentDocument.designMode = 'on';
};
whole?.addEventListener('load', editWhole);
editWhole();

browser.definePanel();
const panel = document.querySelector('drawer-panel');
window.drawer = await browser.openDrawer();
window.tools = { ...core, ...browser };
if (panel) {
  panel.drawer = window.drawer;
  window.stop = browser.capture(document, window.drawer, { report: panel.report }).stop;
}
Jodit.make('#jodit', { iframe: true, iframeTitle: 'Editor in a frame', toolbar: false, askBeforePasteHTML: false });
document.documentElement.dataset.ready = 'yes';
