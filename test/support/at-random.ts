/**
 * A script for one of several programs: keeps, removes, edits and moves snippets of its own for ever, says each time what it
 * will do, and when it is done. It sees `drawer`, `keep(text)` and `say(line)`.
 */
export const changesAtRandom = (name: string): string => `
  // On a machine that stands still for a while one may give up waiting for the other: then nothing was changed.
  const patiently = async (work) => {
    for (;;)
      try {
        return await work();
      } catch (error) {
        if (error.reason !== 'drawer-busy') throw error;
      }
  };
  const mine = [];
  for (let number = 0; ; number++) {
    const words = '${name}' + number;
    const at = Math.floor(Math.random() * mine.length);
    const chance = Math.random();
    if (mine.length < 3 || chance < 0.4) {
      await say('keep ' + words);
      const [{ summary }] = await patiently(() => keep(words));
      mine.push({ id: summary.id, words });
    } else if (chance < 0.6) {
      await say('remove ' + mine[at].words);
      await patiently(() => drawer.remove([mine[at].id]));
      mine.splice(at, 1);
    } else if (chance < 0.8) {
      await say('edit ' + mine[at].words + ' ' + words);
      const content = { shape: 'run', inlines: [{ type: 'text', text: words }] };
      await patiently(() => drawer.edit(mine[at].id, content));
      mine[at].words = words;
    } else {
      await say('top ' + mine[at].words);
      await patiently(() => drawer.move([mine[at].id], 1));
      mine.unshift(...mine.splice(at, 1));
    }
    await say('done');
  }`;

/** How many changes were acknowledged, and what the program's own snippets may be then: the next change may be done too. */
export function outcomeOf(lines: readonly string[]): { readonly acknowledged: number; readonly possible: string[] } {
  const tried = lines.filter((line) => line !== 'done');
  const acknowledged = lines.length - tried.length;
  return { acknowledged, possible: [acknowledged, acknowledged + 1].map((count) => replayed(tried.slice(0, count))) };
}

/** What such changes come to. */
function replayed(lines: readonly string[]): string {
  let all: string[] = [];
  for (const line of lines) {
    const [verb, one = '', other = ''] = line.split(' ');
    if (verb === 'keep') all.push(one);
    else if (verb === 'edit') all = all.map((words) => (words === one ? other : words));
    else all = [...(verb === 'top' ? [one] : []), ...all.filter((words) => words !== one)];
  }
  return all.join(' ');
}
