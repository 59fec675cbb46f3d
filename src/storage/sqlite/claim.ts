import { chmodSync, closeSync, openSync, rmSync } from 'node:fs';
import Database from 'libsql';
import { identityOf } from './file-identity.ts';
import { codeOf, isBusy } from './problems.ts';

/** What this program has claimed: a second lock of the same program would not be kept out by the first. */
const mine = new Set<string>();

/**
 * Claims a name for one piece of work alone, by a lock that ends with the program, however that ends. The file of that name is
 * there only meanwhile.
 * @param mode - the rights of that file: whoever may not write it cannot claim the name either
 * @returns what ends the claim; `undefined` while somebody else has it
 */
export function tryClaim(name: string, mode = 0o600): (() => void) | undefined {
  if (mine.has(name)) return undefined;
  const before = identityOf(name) ?? made(name, mode);
  const claimed = new Database(name, { timeout: 0 });
  try {
    claimed.exec('PRAGMA journal_mode = MEMORY; BEGIN EXCLUSIVE'); // no journal of its own beside it
    // Whoever had it takes its file away at the end: what was opened may have lost its name to another.
    if (identityOf(name) === before) {
      mine.add(name);
      return () => {
        rmSync(name, { force: true });
        claimed.close();
        mine.delete(name);
      };
    }
  } catch (error) {
    if (!isBusy(error) && !/^SQLITE_IOERR/.test(codeOf(error))) throw error;
  }
  claimed.close();
  return undefined;
}

function made(name: string, mode: number): string | undefined {
  closeSync(openSync(name, 'a', mode));
  chmodSync(name, mode); // whatever rights new files get otherwise
  return identityOf(name);
}
