import { type KeepResult, plainText, run, type Snippet } from 'drawer';
import { mostAhead, parseRecord, takePart } from '../../src/sync/index.ts';
import { Device, meetAll, start } from '../support/devices.ts';

/** Merging the changes that two devices have made independently. */

let here: Device;
let there: Device;
beforeEach(async () => {
  Device.time = start;
  here = new Device('a', 0);
  there = new Device('b', 0);
  for (const device of [here, there]) await takePart(device.storage, device.name);
});

const kept = async (words: string): Promise<string> => {
  const [result] = await here.drawer.keep({ content: run(words), origin: {} });
  await meet();
  return result && 'summary' in result ? result.summary.id : '';
};
const meet = (): Promise<void> => meetAll([here, there]);
const wordsOn = async (device: Device): Promise<string[]> =>
  (await device.snippets()).map(({ content }) => plainText(content));
const later = (): void => {
  Device.time += 1_000;
};
const both = async (): Promise<readonly [readonly Snippet[], readonly Snippet[]]> => [
  await here.snippets(),
  await there.snippets(),
];

it('a move beside an edit: both stay', async () => {
  const [oak, elm] = [await kept('oak'), await kept('elm')];
  await here.drawer.move(elm, { before: oak });
  await there.drawer.edit(elm, run('wych elm'));
  await meet();
  expect(await wordsOn(here)).toEqual(['wych elm', 'oak']);
  expect(await wordsOn(there)).toEqual(['wych elm', 'oak']);
});

it('two edits: the later one is shown, and the other stays beside it, named so', async () => {
  const oak = await kept('oak');
  await kept('elm');
  await there.drawer.edit(oak, run('holm oak'));
  later();
  await here.drawer.edit(oak, run('cork oak'));
  await meet();
  expect(await wordsOn(here)).toEqual(['cork oak', 'holm oak', 'elm']);
  const [mine, theirs] = await both();
  expect(theirs).toEqual(mine);
  expect(mine[1]?.label).toMatch(/^holm oak \(/);
});

it('edits one after another leave nothing beside them', async () => {
  const oak = await kept('oak');
  for (const [device, words] of [
    [here, 'holm oak'],
    [there, 'cork oak'],
    [here, 'red oak'],
  ] as const) {
    later();
    await device.drawer.edit(oak, run(words));
    await meet();
  }
  expect([await wordsOn(here), await wordsOn(there)]).toEqual([['red oak'], ['red oak']]);
});

it('a deletion does not beat an edit that it had not seen', async () => {
  const oak = await kept('oak');
  await here.drawer.edit(oak, run('holm oak'));
  later();
  await there.drawer.remove(oak);
  await meet();
  expect([await wordsOn(here), await wordsOn(there)]).toEqual([['holm oak'], ['holm oak']]);
});

it('a deletion beats a move, and undoing it brings the snippet back everywhere', async () => {
  const [oak, elm] = [await kept('oak'), await kept('elm')];
  await here.drawer.remove(oak);
  later();
  await there.drawer.move(elm, { before: oak });
  await meet();
  expect([await wordsOn(here), await wordsOn(there)]).toEqual([['elm'], ['elm']]);
  await here.drawer.undo();
  await meet();
  expect((await wordsOn(there)).sort()).toEqual(['elm', 'oak']);
  expect((await both())[0]).toEqual((await both())[1]);
});

it('what both append stays, each in its order', async () => {
  await here.drawer.keep(['h1', 'h2'].map((words) => ({ content: run(words), origin: {} })));
  await there.drawer.keep(['t1', 't2'].map((words) => ({ content: run(words), origin: {} })));
  await meet();
  const words = await wordsOn(here);
  expect(await wordsOn(there)).toEqual(words);
  expect(words.filter((each) => each.startsWith('h'))).toEqual(['h1', 'h2']);
  expect(words.filter((each) => each.startsWith('t'))).toEqual(['t1', 't2']);
});

it('what several append to one snippet stays in it, in the order of the clock, and so does what they append to that', async () => {
  const oak = await kept('oak');
  const append = (device: Device, words: string): Promise<unknown> =>
    device.drawer.append({ content: run(words), origin: { file: `${words}.md` } }, { onto: oak });
  const third = new Device('c', 0);
  await takePart(third.storage, third.name);
  const all = [here, there, third];
  await meetAll(all);
  for (const [device, words] of [
    [here, 'keel'],
    [there, 'stem'],
    [here, 'frame'],
    [third, 'rudder'],
  ] as const) {
    later();
    await append(device, words);
  }
  await meetAll(all);
  for (const device of all) expect(await wordsOn(device)).toEqual(['oak\n\nkeel\n\nstem\n\nframe\n\nrudder']);
  // Two that have met, and one that has not heard of it yet.
  await append(there, 'mast');
  await there.send();
  await here.receive(there);
  later();
  await append(here, 'boom');
  later();
  await append(third, 'sail');
  await meetAll(all);
  const [snippet, ...others] = await Promise.all(all.map(async (device) => (await device.snippets())[0]));
  expect(plainText((snippet as Snippet).content)).toBe(
    ['oak', 'keel', 'stem', 'frame', 'rudder', 'mast', 'boom', 'sail'].join('\n\n'),
  );
  for (const other of others) expect(other).toEqual(snippet);
  expect(snippet?.facts.words).toBe(8);
  expect(snippet?.parts?.map(({ origin }) => origin.file)).toEqual(
    [undefined, 'keel', 'stem', 'frame', 'rudder', 'mast', 'boom', 'sail'].map((words) => words && `${words}.md`),
  );
  // An edit of what is shown replaces all of it, and one that has not seen an addition stays beside.
  await here.drawer.edit(oak, run('ash'));
  later();
  await append(there, 'flag');
  await meetAll(all);
  expect((await wordsOn(here)).map((words) => words.split('\n').at(-1))).toEqual(['flag', 'ash']);
  for (const device of all) expect(await device.snippets()).toEqual(await here.snippets());
  for (const { drawer } of all) expect((await drawer.check()).faults).toEqual([]);
});

describe('undo leaves what another device has changed since', () => {
  const appended = (device: Device, id: string, words: string): Promise<unknown> =>
    device.drawer.append({ content: run(words), origin: {} }, { onto: id });

  it.each<[string, (id: string) => Promise<unknown>, string[]]>([
    ['an edit', (id) => here.drawer.edit(id, run('holm oak')), ['holm oak\n\nkeel']],
    ['an addition', (id) => appended(here, id, 'stem'), ['oak\n\nstem\n\nkeel']],
  ])('behind %s', async (_, change, left) => {
    const oak = await kept('oak');
    await change(oak);
    await meet();
    later();
    await appended(there, oak, 'keel');
    await meet();
    const refused = expect.objectContaining({ reason: 'action-snippets-gone' });
    await expect(here.drawer.undo()).rejects.toEqual(refused);
    await expect(here.drawer.undo()).rejects.toEqual(refused);
    await meet();
    expect([await wordsOn(here), await wordsOn(there)]).toEqual([left, left]);
    // What is done to it afterwards is undone as ever, and so is what the other device has done.
    later();
    await here.drawer.edit(oak, run('ash'));
    await here.drawer.undo();
    expect(await wordsOn(here)).toEqual(left);
    await meet();
    await there.drawer.undo();
    await meet();
    expect(await wordsOn(here)).toEqual([left[0]?.replace('\n\nkeel', '')]);
  });

  it('in a snippet that it would take out, putting back what that was made of', async () => {
    const [oak, elm] = [await kept('oak'), await kept('elm')];
    const merged = (await here.drawer.merge({
      of: [oak, elm],
      content: run('oak, elm'),
      takeOut: true,
    })) as KeepResult & { summary: Snippet };
    await meet();
    later();
    await appended(there, merged.summary.id, 'ash');
    await meet();
    const change = await here.drawer.undo();
    expect(change?.gone).toHaveLength(1);
    await meet();
    expect((await wordsOn(there)).sort()).toEqual(['elm', 'oak', 'oak, elm\n\nash']);
    expect(await wordsOn(here)).toEqual(await wordsOn(there));
  });

  it('of its marks, and of nothing else', async () => {
    const [oak, elm] = [await kept('oak'), await kept('elm')];
    await here.drawer.mark(oak, { label: 'draft' });
    await here.drawer.edit(elm, run('wych elm'));
    await meet();
    later();
    await there.drawer.mark(oak, { label: 'final' });
    await there.drawer.mark(elm, { held: true });
    await meet();
    await here.drawer.undo();
    await expect(here.drawer.undo()).rejects.toMatchObject({ reason: 'action-snippets-gone' });
    expect(await wordsOn(here)).toEqual(['oak', 'elm']);
    expect((await here.snippets()).map(({ label, held }) => label ?? held)).toEqual(['final', true]);
  });
});

describe('a secret', () => {
  it('is never told of', async () => {
    await here.drawer.keep({ content: run('pass word'), origin: {}, secret: true });
    await meet();
    expect(await wordsOn(there)).toEqual([]);
    expect(here.log.join()).not.toContain('pass');
  });

  it('leaves the others and their history when it becomes one, with what they have made of it since', async () => {
    const oak = await kept('oak');
    await there.drawer.split(oak, [run('oa'), run('k')]);
    await there.drawer.undo();
    await there.drawer.edit(oak, run('holm oak'));
    later();
    await here.drawer.mark(oak, { secret: true });
    await meet();
    expect([await wordsOn(here), await wordsOn(there)]).toEqual([['oak'], []]);
    const history = JSON.stringify(await there.drawer.history());
    expect(history).not.toContain('oak');
    const notes = await there.storage.read((rows) => rows.notes('', '\uffff', 1_000));
    expect(JSON.stringify(notes)).not.toContain('oak');
  });

  it('does not come back from a history that had removed it', async () => {
    const oak = await kept('oak');
    await there.drawer.remove(oak);
    await here.drawer.mark(oak, { secret: true });
    await meet();
    await expect(there.drawer.undo()).resolves.toBeUndefined();
    await meet();
    expect(await wordsOn(there)).toEqual([]);
  });

  it('is told of again once it is opened', async () => {
    const oak = await kept('oak');
    await here.drawer.mark(oak, { secret: true });
    await meet();
    await here.drawer.mark(oak, { secret: false });
    await meet();
    expect(await wordsOn(there)).toEqual(['oak']);
  });

  it('of two devices is each one’s own, also when one of them opens it', async () => {
    const oak = await kept('oak');
    await here.drawer.mark(oak, { secret: true });
    await there.drawer.edit(oak, run('holm oak'));
    await there.drawer.mark(oak, { secret: true });
    await meet();
    await here.drawer.mark(oak, { secret: false });
    await meet();
    expect([await wordsOn(here), await wordsOn(there)]).toEqual([['oak'], ['holm oak']]);
    expect((await there.snippets())[0]?.secret).toBe(true);
    await there.drawer.mark(oak, { secret: false });
    await meet();
    expect([await wordsOn(here), await wordsOn(there)]).toEqual([['holm oak'], ['holm oak']]);
  });
});

it('a clock far ahead is refused, and one put back does no harm', async () => {
  const ahead = new Device('c', mostAhead + 60_000);
  await takePart(ahead.storage, ahead.name);
  await ahead.drawer.keep({ content: run('of tomorrow'), origin: {} });
  await ahead.send();
  await expect(here.receive(ahead)).rejects.toMatchObject({ reason: 'sync-clock-ahead', params: { minutes: 11 } });
  expect(await wordsOn(here)).toEqual([]);
  Device.time += 120_000;
  await here.receive(ahead);
  expect(await wordsOn(here)).toEqual(['of tomorrow']);
  const oak = await kept('oak');
  Device.time = start - 3_600_000;
  await here.drawer.edit(oak, run('holm oak'));
  Device.time = start + 120_000;
  await meet();
  expect((await wordsOn(there)).at(-1)).toBe('holm oak');
});

it('drawers that were one before they took part are put together without doubles', async () => {
  Device.time = start;
  const [one, two] = [new Device('d', 0), new Device('e', 0)];
  await one.drawer.keep(['oak', 'elm'].map((words) => ({ content: run(words), origin: {} })));
  const snippets = await one.snippets();
  await two.storage.write(async (rows) => {
    for (const snippet of snippets) await rows.insert(snippet);
  });
  for (const device of [one, two]) await takePart(device.storage, device.name);
  await one.drawer.edit(snippets[0]?.id as string, run('holm oak'));
  await two.drawer.mark(snippets[1]?.id as string, { label: 'wood' });
  await meetAll([one, two]);
  expect(await one.snippets()).toEqual(await two.snippets());
  expect(await wordsOn(one)).toEqual(['holm oak', 'elm']);
});

it('what was edited in a copy before it took part stays beside what was edited in the other since', async () => {
  Device.time = start;
  const [one, two] = [new Device('d', 0), new Device('e', 0)];
  await one.drawer.keep({ content: run('oak'), origin: {} });
  const [oak] = (await one.snippets()) as [Snippet];
  await two.storage.write((rows) => rows.insert(oak));
  await two.drawer.edit(oak.id, run('cork oak'));
  for (const device of [one, two]) await takePart(device.storage, device.name);
  later();
  await one.drawer.edit(oak.id, run('holm oak'));
  await two.drawer.mark(oak.id, { label: 'wood' });
  await meetAll([one, two]);
  expect(await one.snippets()).toEqual(await two.snippets());
  expect(await wordsOn(one)).toEqual(['holm oak', 'cork oak']);
});

it('a full drawer refuses more, where it would let its oldest go if it were not shared', async () => {
  await here.drawer.changeSettings({ capacity: 2, full: 'let-go' });
  await here.drawer.keep(['oak', 'elm'].map((words) => ({ content: run(words), origin: {} })));
  await expect(here.drawer.keep({ content: run('ash'), origin: {} })).rejects.toMatchObject({ code: 'full' });
  await meet();
  expect(await wordsOn(there)).toEqual(['oak', 'elm']);
});

it('refuses what is no record', () => {
  const version = { at: '0a', seen: {}, order: 'a1', value: { content: 'no content' } };
  const state = { place: { at: '', order: 'a1' }, marks: { at: '' }, versions: [version] };
  for (const record of [null, 7, 'x', [], {}, { id: 'x' }, { id: 'x', state: {} }, { id: 'x', state }])
    expect(() => parseRecord(record)).toThrow(expect.objectContaining({ code: 'invalid' }));
});

it('reads what says that it was appended, but is not what it says, as an edit: it is shown whole', async () => {
  const oak = await kept('oak');
  await here.drawer.append({ content: run('keel'), origin: {} }, { onto: oak });
  await there.drawer.append({ content: run('stem'), origin: {} }, { onto: oak });
  await here.send();
  here.log.push((here.log.pop() as string).replaceAll('"blocks":1,"parts":1', '"blocks":9,"parts":9'));
  await there.receive(here);
  expect((await wordsOn(there)).sort()).toEqual(['oak\n\nkeel', 'oak\n\nstem']);
});
