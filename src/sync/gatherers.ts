import type { Drawer } from '../drawer/index.ts';
import { type Known, names } from './notes.ts';

/**
 * The names of the other devices that snippets were gathered on, by the snippets' ids; those of this device are left out.
 * @param ids - of the snippets
 */
export async function gatherersOf(
  drawer: Pick<Drawer, 'findNotes'>,
  ids: readonly string[],
): Promise<ReadonlyMap<string, string>> {
  const [own] = await drawer.findNotes(names.device);
  if (own === undefined) return new Map();
  const notes = await drawer.findNotes(ids.map(names.record));
  const devices = notes.map((note) => (note === undefined ? undefined : (JSON.parse(note) as Known).state.by));
  const others = [...new Set(devices)].filter((device) => device !== undefined && device !== own) as string[];
  const told = await drawer.findNotes(others.map(names.nameOf));
  const nameOf = new Map(others.map((device, index) => [device, told[index] ?? device]));
  return new Map(
    ids.flatMap((id, index) => {
      const name = nameOf.get(devices[index] ?? '');
      return name === undefined ? [] : [[id, name] as const];
    }),
  );
}
