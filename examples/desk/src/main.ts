import { registerSW } from 'virtual:pwa-register';
import type { Drawer } from 'drawer';
import { type DrawerPanel, definePanel } from 'drawer/browser';
import { DraftPane } from './draft-pane.ts';
import { element } from './element.ts';
import { chosenFiles } from './files.ts';
import { HostedFiles } from './hosted-files.ts';
import { loadDraft } from './keep-draft.ts';
import { ReadingPane } from './reading-pane.ts';

/** Whether the program `drawer desk` serves this page; else it is a page of its own, with a drawer of the browser's. */
const isServed = import.meta.env.MODE === 'served';
/** The trust's files, to try the desk on. */
const firstFile = 'survey.docx';
const demoFiles = [firstFile, 'costs.xlsx', 'letters.html'];
const seenKey = 'writing-desk-seen';

definePanel();
const panel = document.querySelector('drawer-panel');
if (!panel) throw new Error('The page has no panel');

void panel.attempt(() => (isServed ? startServed(panel) : startAlone(panel)));

async function startServed(panel: DrawerPanel): Promise<void> {
  const address = new URL('socket', location.href);
  address.protocol = 'ws:';
  const { drawer, files } = await panel.connectDrawer(address);
  const facts = await files.facts();
  const hosted = new HostedFiles(files, facts, panel);
  const reading = await lay(panel, drawer, hosted);
  for (const { path } of facts.named) await reading.open((await hosted.open(path)).file, false);
  if (facts.named.length === 0) panel.say('Open a file to read: what you keep of it lands in your drawer');
}

async function startAlone(panel: DrawerPanel): Promise<void> {
  const drawer = await panel.openDrawer('writing-desk');
  const reading = await lay(panel, drawer, chosenFiles);
  welcome();
  const files = await Promise.all(
    demoFiles.map(async (name) => new File([await (await fetch(`./${name}`)).blob()], name)),
  );
  await Promise.all(files.map((file) => reading.open(file, false)));
  // Who has opened a file of their own meanwhile needs no telling.
  if (reading.shows(firstFile)) panel.say('Select something in a file and copy it: it is kept in the drawer');
  // Once visited, it works without a network.
  registerSW({ immediate: true });
}

/** Lays out the desk: a draft, and a place to read. */
async function lay(panel: DrawerPanel, drawer: Drawer, files: HostedFiles | typeof chosenFiles): Promise<ReadingPane> {
  const draft = new DraftPane(panel, files);
  await draft.newDocument(await loadDraft());
  panel.pasteHandler = async (content, { media = new Map() }) => {
    draft.insert(content, media);
    return { name: 'the draft' };
  };
  return new ReadingPane(drawer, panel, files);
}

/** A first visit explains itself once. */
function welcome(): void {
  const sheet = element('welcome', HTMLDialogElement);
  if (localStorage.getItem(seenKey) === null) sheet.showModal();
  sheet.addEventListener('close', () => localStorage.setItem(seenKey, 'yes'));
  element('about', HTMLButtonElement).addEventListener('click', () => sheet.showModal());
}
