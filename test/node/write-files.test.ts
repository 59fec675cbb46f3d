import { existsSync } from 'node:fs';
import type { Drawer } from 'drawer';
import { openDrawer } from 'drawer/node';
import { type Workplace, workplace } from '../support/cli.ts';

let place: Workplace;
let drawer: Drawer;
beforeEach(async () => {
  place = workplace();
  drawer = await openDrawer(place.path('own.drawer'));
});
afterEach(async () => {
  await drawer.close();
  place.remove();
});

const after = new TextEncoder().encode('oak\n');

it('tells what was done to files in words of one’s own, and takes it back', async () => {
  await drawer.writeFiles({ name: 'Filed the quotes', files: [{ path: place.path('new.txt'), after }] });
  expect((await place.run('undo', '--list', '--drawer', 'own.drawer')).out).toContain('Filed the quotes, just now');
  await drawer.undo();
  expect(existsSync(place.path('new.txt'))).toBe(false);
});

it.each<[string, unknown]>([
  ['none', undefined],
  ['a number', 3],
  ['no kind', { params: {} }],
  ['a function to fill in', { kind: 'pasted', params: { count: () => 1 } }],
])('writes nothing under a name that is %s', async (_, name) => {
  const writing = drawer.writeFiles({ name: name as string, files: [{ path: place.path('new.txt'), after }] });
  await expect(writing).rejects.toMatchObject({ code: 'invalid', reason: 'value-invalid' });
  expect(existsSync(place.path('new.txt'))).toBe(false);
  expect(await drawer.history()).toEqual([]);
});
