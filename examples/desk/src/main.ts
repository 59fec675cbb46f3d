import { registerSW } from 'virtual:pwa-register';
import { type Drawer, restyle } from 'drawer';
import { DrawerPanel, definePanel, sharingOf } from 'drawer/browser';
import { useDesktopClipboard } from './desktop-clipboard.ts';
import { DraftPane } from './draft-pane.ts';
import { element } from './element.ts';
import { chosenFiles, type FileSource } from './files.ts';
import { HostedFiles } from './hosted-files.ts';
import { loadDraft } from './keep-draft.ts';
import { ReadingPane } from './reading-pane.ts';
import { speak } from './words/index.ts';

/** Whether the program `drawer desk` serves this page; else it is a page of its own, with a drawer of the browser's. */
const isServed = import.meta.env.MODE === 'served';
/** The trust's files, to try the desk on. */
const firstFile = 'survey.docx';
const demoFiles = [firstFile, 'costs.xlsx', 'letters.html'];
const seenKey = 'writing-desk-seen';

const say = await speak();
definePanel();
const panel = element('drawer-panel', DrawerPanel);
showParts();
// Where the drawer is out of sight, what it says is not.
addEventListener('drawer-say', (event) => {
  element('said', HTMLElement).textContent = String((event as CustomEvent).detail);
});
await panel.words.load();
void panel.attempt(() => (isServed ? startServed() : startAlone()));

async function startServed(): Promise<void> {
  const address = new URL('socket', location.href);
  address.protocol = 'ws:';
  const { drawer, files, clipboard } = await panel.connectDrawer(address);
  const facts = await files.facts();
  const hosted = new HostedFiles(files, facts, panel, say);
  const reading = await lay(drawer, hosted);
  void useDesktopClipboard(clipboard, panel, say);
  const share = (): void => void panel.attempt(() => showSharing(drawer));
  drawer.addEventListener('change', share);
  share();
  if (facts.named.length === 0) panel.say(say('nothingOpen'));
  for (const { path } of facts.named) await reading.open((await hosted.open(path)).file, false);
}

async function startAlone(): Promise<void> {
  const reading = await lay(await panel.openDrawer('writing-desk'), chosenFiles);
  welcome();
  const files = await Promise.all(
    demoFiles.map(async (name) => new File([await (await fetch(`./${name}`)).blob()], name)),
  );
  await Promise.all(files.map((file) => reading.open(file, false)));
  // Who has opened a file of their own meanwhile needs no telling.
  if (reading.shows(firstFile)) panel.say(say('selectAndCopy'));
  // Once visited, it works without a network.
  registerSW({ immediate: true });
}

/** With whom the drawer is shared, and how much waits to be sent to them. */
async function showSharing(drawer: Drawer): Promise<void> {
  const line = element('shared', HTMLElement);
  const sharing = await sharingOf(drawer);
  line.hidden = sharing === undefined;
  if (!sharing) return;
  const { devices, waiting } = sharing;
  const others = devices.length === 0 ? say('sharedWithNobody') : say('sharedWith', { devices });
  line.textContent = waiting === 0 ? others : `${others} · ${say('waiting', { count: waiting })}`;
}

/** Lays out the desk: a draft, and a place to read. Until then nothing on it can be used. */
async function lay(drawer: Drawer, files: FileSource): Promise<ReadingPane> {
  const draft = new DraftPane(panel, files, say);
  await draft.newDocument(files.create ? '' : await loadDraft());
  panel.previewHandler = (content, { media = new Map(), style = 'local' } = {}) =>
    draft.preview(content && restyle(content, style), media);
  panel.pasteHandler = async (content, { media = new Map(), style = 'local' }) => {
    await draft.insert(restyle(content, style), media);
    return { name: say('theDraft') };
  };
  const reading = new ReadingPane(drawer, panel, files, say);
  element('about', HTMLButtonElement).addEventListener('click', () =>
    element('welcome', HTMLDialogElement).showModal(),
  );
  for (const pane of document.querySelectorAll('[inert]')) pane.removeAttribute('inert');
  return reading;
}

/** A first visit explains itself once. */
function welcome(): void {
  const sheet = element('welcome', HTMLDialogElement);
  if (localStorage.getItem(seenKey) === null) sheet.showModal();
  sheet.addEventListener('close', () => localStorage.setItem(seenKey, 'yes'));
}

/** On a narrow window one part of the desk is shown at a time. */
function showParts(): void {
  const main = document.querySelector('main');
  const buttons = document.querySelectorAll<HTMLButtonElement>('[data-part]');
  for (const button of buttons)
    button.addEventListener('click', () => {
      main?.setAttribute('data-shown', button.dataset.part ?? '');
      for (const each of buttons) each.setAttribute('aria-pressed', String(each === button));
    });
}
