import { createDrawer, type Drawer, memoryStorage, type Snippet, type Storage } from 'drawer';
import { loadFacts } from '../../src/drawer/index.ts';
import { changedAfter, mergeRecords, parseRecord, recordOf, stampedStorage } from '../../src/sync/index.ts';

/** Devices in memory, and what they send one another. */

const facts = await loadFacts();

export const start = Date.UTC(2026, 4, 4, 9);

export class Device {
  readonly name: string;
  readonly storage: Storage;
  readonly drawer: Drawer;
  /** What it has sent, in order; the others read it from where they were. */
  readonly log: string[] = [];
  readonly #read = new Map<Device, number>();
  readonly #skew: number;
  #sent = '';
  #ids = 0;
  static time = start;

  constructor(name: string, skew: number) {
    this.name = name;
    this.#skew = skew;
    this.storage = memoryStorage();
    this.drawer = createDrawer({
      storage: stampedStorage(this.storage, () => this.now()),
      clock: () => new Date(this.now()),
      generateId: () => `${name}${++this.#ids}`,
    });
  }

  now(): number {
    return Device.time + this.#skew;
  }

  /** Sends what has changed. One that is killed before it has noted so sends it again. */
  async send(isKilled = false): Promise<void> {
    const sent = await this.storage.read(async (rows) => {
      const changes = await rows.notes(...changedAfter(this.#sent), 1_000);
      for (const { name } of changes) {
        const [, , , id = ''] = name.split('/');
        const record = await recordOf(rows, id, this.name, this.now());
        if (record) this.log.push(JSON.stringify(record));
      }
      return changes.at(-1)?.name.split('/')[2];
    });
    if (!isKilled && sent !== undefined) this.#sent = sent;
  }

  /** Reads some of what another device has sent. */
  async receive(other: Device, most = Number.POSITIVE_INFINITY, isKilled = false): Promise<void> {
    const from = this.#read.get(other) ?? 0;
    const records = other.log.slice(from, from + most);
    for (const record of records)
      await this.storage.write((rows) =>
        mergeRecords(rows, [parseRecord(JSON.parse(record))], {
          now: this.now(),
          labelBeside: (preview) => `${preview} (${this.name})`,
          factsOf: () => facts,
        }),
      );
    if (!isKilled) this.#read.set(other, from + records.length);
  }

  async snippets(): Promise<readonly Snippet[]> {
    const ids = (await this.drawer.list(1, 10_000)).map(({ summary }) => summary.id);
    return this.drawer.getMany(ids);
  }
}

export async function meetAll(devices: readonly Device[]): Promise<void> {
  // Twice: snippets beside others are made while reading.
  for (let round = 0; round < 3; round++) {
    for (const device of devices) await device.send();
    for (const device of devices) for (const other of devices) if (other !== device) await device.receive(other);
  }
}
