import { statSync } from 'node:fs';
import { DrawerError } from '../../content/index.ts';

/** Says which file it is that has a name now; `undefined` where none can be seen. */
export function identityOf(path: string): string | undefined {
  try {
    const { dev, ino } = statSync(path);
    return `${dev}:${ino}`;
  } catch {
    return undefined;
  }
}

/** What is written to a file that is no longer there would be lost. */
export const replacedMeanwhile = (path: string): DrawerError =>
  new DrawerError('storage/drawer-replaced', {}, { where: path });
