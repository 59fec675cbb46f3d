import { DrawerError } from '../../content/index.ts';
import type { Sealing } from './lock.ts';
import type { Prepare } from './snippet-row.ts';

/**
 * All rows with the columns they are found by. Of what is sealed the start is enough: nonce and tag, which no other value has
 * (NIST SP 800-38D, section 5.2.1.2).
 */
const everyRow = [
  'SELECT row, id, "order", alike, expires, bytes, substr(head, 1, 40) AS head, substr(content, 1, 40) AS content FROM snippet ORDER BY row',
  `SELECT number, state, at, reshapes, substr(name, 1, 40) AS name, substr(changes, 1, 40) AS changes, substr(files, 1, 40) AS files
   FROM action ORDER BY number`,
  'SELECT hash, hex(substr(bytes, 1, 28)) AS bytes FROM media ORDER BY hash',
  "SELECT name, substr(value, 1, 40) AS value FROM settings WHERE name NOT IN ('lock', 'whole') ORDER BY name",
];

/**
 * The mark of a locked drawer as a whole: rows that are valid each by itself could else be put back to what they were, be taken
 * out, or be filed as expired by whoever writes to the file, without anybody noticing.
 */
export class Whole {
  readonly #prepare: Prepare;
  readonly #sealing: Sealing;

  constructor(prepare: Prepare, sealing: Sealing) {
    this.#prepare = prepare;
    this.#sealing = sealing;
  }

  #now(): string {
    const rows = everyRow.map((sql) => JSON.stringify(this.#prepare(sql).raw(true).all()));
    return this.#sealing.digest(rows.join('\n'));
  }

  write(): void {
    this.#prepare("INSERT OR REPLACE INTO settings (name, value) VALUES ('whole', ?)").run(this.#now());
  }

  /** @throws DrawerError `damaged` where something else than Drawer has changed the file since it was written */
  check(): void {
    const marked = this.#prepare("SELECT value FROM settings WHERE name = 'whole'").get() as
      | { value: string }
      | undefined;
    if (marked?.value === this.#now()) return;
    throw new DrawerError('damaged/drawer-changed-outside');
  }

  /** How many rows this connection has changed. */
  changes(): number {
    return (this.#prepare('SELECT total_changes() AS count').get() as { count: number }).count;
  }
}
