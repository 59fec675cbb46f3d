import { writeFileSync } from 'node:fs';
import { type Ran, type Workplace, workplace } from '../support/cli.ts';

let place: Workplace;
beforeAll(() => {
  place = workplace();
});
afterAll(() => place.remove());

/** What puts something on a clipboard (OSC 52), moves the cursor (C0 and C1) and turns the direction of what follows. */
const attack = '\u001b]52;c;aGk=\u0007\u009b2J\u0090q\u009c\u202egnp.exe\u2066';
const steers = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/;
const turns = /[\u202a-\u202e\u2066-\u2069]/;
const name = `sh\u001b]0;x\u0007ip\u202e.csv`;

it.each<[string, (...words: string[]) => string[]]>([
  ['gathering', () => ['copy', name]],
  ['an outline', () => ['outline', name]],
  ['a list', () => ['list']],
  ['a list in JSON', () => ['list', '--json']],
  ['what is shown', () => ['show', '1']],
  ['a label', () => ['mark', '1', '--label', `oak${attack}`]],
  ['a labelled list', () => ['list']],
  ['a paste into a file', () => ['paste', '1', '--into', `pasted${attack}.md`]],
  ['a paste to read', () => ['paste', '1']],
  ['a paste as a table', () => ['paste', '1', '--as', 'markdown']],
  ['what can be undone', () => ['undo', '--list']],
  ['undo', () => ['undo']],
  ['a search', () => ['find', `ship${attack}`]],
  ['an error about a file', () => ['copy', `none${attack}.docx`]],
  ['an error about an option', () => ['copy', '--join', attack, name]],
  ['an unknown option', () => ['list', `--${attack}`]],
  ['an unknown command', () => [`li${attack}`]],
])('hands a terminal nothing that steers it: %s', async (_, words) => {
  writeFileSync(place.path(name), `Part,Note\nKeel${attack},sound${attack}\n`);
  const { out, err }: Ran = await place.run(...words());
  expect(out + err).not.toBe('');
  expect(out).not.toMatch(steers);
  expect(err).not.toMatch(steers);
  expect(err).not.toMatch(turns);
});

it('leaves in a result what a document needs, since it may go on into another program', async () => {
  const hebrew = 'גוף \u2067Hull\u2069';
  await place.run('copy', '--text', hebrew);
  expect((await place.run('paste', 'last')).out).toContain(hebrew);
});

it('keeps no word that holds delete or a control of the upper half', async () => {
  await place.run('copy', '--text', 'oak\u007f and\u009b larch');
  expect((await place.run('paste', 'last')).out).toBe('oak and larch\n');
});
