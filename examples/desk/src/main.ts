import { registerSW } from 'virtual:pwa-register';
import { definePanel } from 'drawer/browser';
import { DraftPane } from './draft-pane.ts';
import { element } from './element.ts';
import { loadDraft } from './keep-draft.ts';
import { ReadingPane } from './reading-pane.ts';

/** The trust's files, to try the desk on. */
const firstFile = 'survey.docx';
const demoFiles = [firstFile, 'costs.xlsx', 'letters.html'];
const seenKey = 'writing-desk-seen';

definePanel();
const panel = document.querySelector('drawer-panel');
if (!panel) throw new Error('The page has no panel');

void panel.attempt(async () => {
  const drawer = await panel.openDrawer('writing-desk');
  const draft = new DraftPane(panel);
  await draft.newDocument(await loadDraft());
  panel.pasteHandler = async (content, { media = new Map() }) => {
    draft.insert(content, media);
    return { name: 'the draft' };
  };
  const reading = new ReadingPane(drawer, panel);
  welcome();
  const files = await Promise.all(
    demoFiles.map(async (name) => new File([await (await fetch(`./${name}`)).blob()], name)),
  );
  await Promise.all(files.map((file) => reading.open(file, false)));
  // Who has opened a file of their own meanwhile needs no telling.
  if (reading.shows(firstFile)) panel.say('Select something in a file and copy it: it is kept in the drawer');
});

/** A first visit explains itself once. */
function welcome(): void {
  const sheet = element('welcome', HTMLDialogElement);
  if (localStorage.getItem(seenKey) === null) sheet.showModal();
  sheet.addEventListener('close', () => localStorage.setItem(seenKey, 'yes'));
  element('about', HTMLButtonElement).addEventListener('click', () => sheet.showModal());
}

// Once visited, it works without a network.
registerSW({ immediate: true });
