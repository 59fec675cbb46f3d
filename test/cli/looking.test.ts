import { writeFileSync } from 'node:fs';
import { createDrawer, run } from 'drawer';
import { openDrawer } from 'drawer/node';
import { type Workplace, workplace } from '../support/cli.ts';
import { countingTools } from '../support/storages.ts';

let place: Workplace;
beforeEach(() => {
  place = workplace();
});
afterEach(() => place.remove());

const keepTexts = async (count: number): Promise<void> => {
  const drawer = await openDrawer(place.drawer);
  await drawer.keep(
    Array.from({ length: count }, (_, index) => ({ content: run(`snippet ${index + 1}`), origin: {} })),
  );
  await drawer.close();
};

it('lists the newest page of many, and says how to see those before', async () => {
  await keepTexts(1234);
  const { out } = await place.run('list');
  expect(out.trim().split('\n')).toHaveLength(1 + 50 + 2);
  expect(out).toMatch(/\nThe newest 50 of 1,234; those before: drawer list 1135-1184\n$/);
  const before = await place.run('list', '1135-1184');
  expect(before.out.split('\n')[1]).toMatch(/^1135 {2}2 words +snippet 1135/);
  expect((await place.run('list', 'last', 'first')).out).toMatch(/1234 .*\n *1 /);
});

it('shows content as it is built, in any script, within the width', async () => {
  writeFileSync(
    place.path('page.html'),
    `<h1>Ferry</h1><ul><li>keel<ol start="3"><li>port<li><input type="checkbox" checked>starboard</ol><li>鉄の釘</ul>
     <blockquote><p>${'She sails. '.repeat(15)}</blockquote><pre>a\n  b</pre><p>See <a href="https://ferry.example/x">the yard</a>.
     <table><thead><tr><th>品目<th>Price</thead><tr><td>木<td style="text-align:right">£1.00<tr><td>鉄の釘<td style="text-align:right">£12.50</table>`,
  );
  await place.run('copy', 'page.html');
  const { out } = await place.run('show', '1');
  const body = out.slice(out.indexOf('\n\n') + 2);
  expect(body).toBe(
    [
      'Ferry\n=====\n',
      '- keel\n  3. port\n  4. [x] starboard\n- 鉄の釘\n',
      `| ${'She sails. '.repeat(8)}She sails.\n| ${'She sails. '.repeat(5)}She sails.\n`,
      '    a\n      b\n',
      'See the yard <https://ferry.example/x>.\n',
      '品目    Price\n------  ------\n木       £1.00\n鉄の釘  £12.50\n',
    ].join('\n'),
  );
});

it('remembers as many actions as it says, and no more', async () => {
  const drawer = createDrawer(countingTools());
  for (let index = 0; index < 230; index++) await drawer.keep([{ content: run(`${index}`), origin: {} }]);
  let undone = 0;
  while ((await drawer.undo()) !== undefined) undone++;
  expect([undone, await drawer.count()]).toEqual([200, 30]);
});
