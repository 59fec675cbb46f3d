import { DrawerError } from '../../content/index.ts';
import type { Drawer, Listed } from '../../drawer/index.ts';

/** What the references name; nothing at all is an error. */
export async function chosen(drawer: Drawer, references: readonly string[]): Promise<readonly Listed[]> {
  const listed = await drawer.select(references);
  if (listed.length > 0) return listed;
  throw new DrawerError('not-found/drawer-empty');
}

/** What exactly one reference names. */
export async function chosenOne(drawer: Drawer, reference: string): Promise<Listed> {
  const [only, ...others] = await chosen(drawer, [reference]);
  if (only && others.length === 0) return only;
  throw new DrawerError('usage/reference-fits-several', { reference, count: others.length + 1 });
}

/** Each snippet once, where references name it several times. */
export const eachOnce = (listed: readonly Listed[]): Listed[] => [
  ...new Map(listed.map((each) => [each.summary.id, each])).values(),
];

export const idsOf = (listed: readonly Listed[]): string[] => eachOnce(listed).map(({ summary }) => summary.id);
