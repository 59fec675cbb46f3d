import { DrawerError } from 'drawer';
import { openDrawer } from 'drawer/browser';
import { DraftPane } from './draft-pane.ts';
import { DrawerPane } from './drawer-pane.ts';
import { element } from './element.ts';
import { loadDraft, saveDraft } from './keep-draft.ts';
import { ReadingPane } from './reading-pane.ts';

/** The trust's files, to try the desk on. */
const demoFiles = ['survey.docx', 'costs.xlsx', 'letters.html'];

/** Says one short fact, for eyes and for screen readers. */
function say(words: string): void {
  element('status', HTMLElement).textContent = words;
}

/** Runs what somebody asked for; what goes wrong is said, and nothing else happens. */
function attempt(work: () => Promise<void>): void {
  work().catch((error: unknown) => {
    say(DrawerError.is(error) ? error.message : 'Something went wrong in the desk. What the drawer holds is safe.');
    if (!DrawerError.is(error)) console.error(error);
  });
}

attempt(async () => {
  const drawer = await openDrawer('writing-desk');
  const draft = new DraftPane({ say, attempt, initial: await loadDraft(), changed: saveDraft });
  const slips = new DrawerPane(drawer, {
    say,
    attempt,
    paste: (content, media) => draft.insert(content, media),
  });
  const reading = new ReadingPane({
    say,
    attempt,
    keep: async (gathered, notes) => slips.keep(gathered, notes),
  });
  await slips.refresh();
  for (const name of demoFiles) {
    const response = await fetch(`/${name}`);
    await reading.open(new File([await response.blob()], name));
  }
  reading.show(0);
  say('Select something in a file and copy it: it is kept in the drawer');
});
