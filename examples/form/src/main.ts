import { DrawerError } from 'drawer';
import { capture, definePanel, fillPageForm, setPlace, slotsOf } from 'drawer/browser';
import { read } from 'drawer/formats';
import { htmlFragment } from 'drawer/formats/html-fragment';
import { keepForm, restoreForm } from './keep-form.ts';

/** The trust's papers, to try the form on. */
const demoFiles = ['letters.html', 'survey.docx', 'history.odt', 'log.md'];

function element<T extends Element>(id: string, kind: new () => T): T {
  const found = document.getElementById(id);
  if (found instanceof kind) return found;
  throw new Error(`The page has no ${kind.name} #${id}`);
}

const form = element('claim', HTMLFormElement);
const page = element('page', HTMLElement);

// --- The drawer: what is copied in a document is kept, and what is pasted lands in the field the caret was in ----------

definePanel();
const panel = document.querySelector('drawer-panel');
if (!panel) throw new Error('The page has no panel');
const drawer = await panel.openDrawer('claim-form');
let reading = '';
capture(page, drawer, {
  report: panel.report,
  origin: (node) => ({ file: reading, ...(headingOver(node) && { place: headingOver(node) as string }) }),
});

function headingOver(node: Node): string | undefined {
  const headings = [...page.querySelectorAll('h1, h2, h3, h4, h5, h6')];
  return headings
    .findLast((heading) => heading.compareDocumentPosition(node) & Node.DOCUMENT_POSITION_FOLLOWING)
    ?.textContent?.trim();
}

// --- The documents ------------------------------------------------------------------------------------------------------

async function open(file: File): Promise<void> {
  const { content, media } = await read(file);
  const tab = document.createElement('button');
  tab.type = 'button';
  tab.textContent = file.name;
  tab.addEventListener('click', () => {
    reading = file.name;
    for (const each of element('files', HTMLElement).children) each.setAttribute('aria-pressed', String(each === tab));
    page.innerHTML = htmlFragment(content, media); // made from the content model, so nothing in it can run
    page.setAttribute('aria-label', file.name);
    page.scrollTop = 0;
  });
  element('files', HTMLElement).append(tab);
  if (reading === '') tab.click();
}

const chooser = element('open', HTMLInputElement);
chooser.addEventListener('change', () =>
  panel.attempt(async () => {
    for (const file of chooser.files ?? []) await open(file);
  }),
);

// --- The form -----------------------------------------------------------------------------------------------------------

/** The fields that hold nothing yet, by what people call them. */
const emptyFields = () =>
  slotsOf(form).filter(({ field }) =>
    field instanceof HTMLInputElement && field.type === 'checkbox'
      ? !field.checked
      : field instanceof HTMLInputElement && field.type === 'radio'
        ? new FormData(form).get(field.name) === null
        : field.value === '',
  );

function tellWhatIsLeft(): void {
  const left = emptyFields();
  for (const { field } of slotsOf(form))
    field.toggleAttribute(
      'data-empty',
      left.some((each) => each.field === field),
    );
  element('left', HTMLElement).textContent =
    left.length === 0
      ? 'Nothing is left to fill'
      : `Left to fill: ${left.map(({ names, key }) => names[0] ?? key).join(', ')}`;
}

element('fill', HTMLButtonElement).addEventListener('click', () =>
  panel.attempt(async () => {
    const words = await panel.words.load();
    const snippets = await drawer.getMany((await drawer.select('all')).map(({ summary }) => summary.id));
    const { filled, ambiguous, refused } = await fillPageForm(form, snippets);
    const names = ambiguous.map(({ slot, snippets: fitting }) => `${slot.names[0]} (${fitting.length} snippets fit)`);
    panel.say(
      [
        `Filled ${filled.length}: ${filled.map(({ slot }) => slot.names[0]).join(', ') || 'none'}`,
        ...(names.length > 0 ? [`Left for you to decide: ${names.join(', ')}`] : []),
        ...refused.map(({ error }) => words.error(error)),
      ].join('. '),
    );
    tellWhatIsLeft();
    keepForm(form);
  }),
);

element('sequence', HTMLButtonElement).addEventListener('click', () =>
  panel.attempt(async () => {
    for (const { field } of emptyFields()) {
      const { next } = await drawer.sequence();
      if (!next) break;
      setPlace(field);
      field.focus();
      await panel.do('pasteNext');
    }
    tellWhatIsLeft();
  }),
);

element('save', HTMLButtonElement).addEventListener('click', () => {
  const claim = JSON.stringify(Object.fromEntries(new FormData(form)), null, 2);
  const link = document.createElement('a');
  link.href = URL.createObjectURL(new Blob([claim], { type: 'application/json' }));
  link.download = 'claim.json';
  link.click();
  panel.say('Saved as claim.json');
});

form.addEventListener('input', () => {
  tellWhatIsLeft();
  keepForm(form);
});
restoreForm(form);
tellWhatIsLeft();

for (const name of demoFiles) {
  try {
    const answer = await fetch(`/${name}`);
    await open(new File([await answer.blob()], name));
  } catch (error) {
    const words = await panel.words.load();
    panel.say(DrawerError.is(error) ? words.error(error) : `${name} could not be opened`);
  }
}
