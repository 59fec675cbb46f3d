import { DrawerError } from 'drawer';
import { hashOf } from '../../src/drawer/index.ts';
import type { CarriedFrame, CarriedLog, Carrier, Compartment, SealingTools } from '../../src/remote/index.ts';

/** What several devices put into one place, in memory; what is asked of it may fail at any moment. */
export class Place {
  lock: string | undefined;
  readonly logs = new Map<string, Uint8Array[]>();
  /** After so many more requests nothing is answered. */
  failsAfter = Number.POSITIVE_INFINITY;

  /** @throws DrawerError `sync-server-unreachable`, once it fails */
  asked(): void {
    if (--this.failsAfter < 0) throw new DrawerError('storage/sync-server-unreachable', {});
  }
}

export function carrierOf(place: Place): Carrier {
  const log = (device: string): CarriedLog => ({
    name: device,
    async *read(from): AsyncGenerator<CarriedFrame> {
      place.asked();
      for (const [index, bytes] of (place.logs.get(device) ?? []).slice(from).entries())
        yield { bytes, end: from + index + 1 };
    },
    has: async ({ length }, end) => place.logs.get(device)?.[end - 1]?.length === length,
    append: async (frame, _, at) => {
      place.asked();
      const frames = place.logs.get(device) ?? [];
      expect(frames.length).toBe(at);
      place.logs.set(device, [...frames, frame]);
      return at + 1;
    },
    remove: async () => {
      place.asked();
      place.logs.delete(device);
    },
  });
  const compartment: Compartment = {
    devices: async () => [...place.logs.keys()].sort(),
    log,
    findBlob: async () => undefined,
    hasBlob: async () => false,
    putBlob: async () => {},
    removeBlob: async () => {},
  };
  return {
    name: 'here',
    guarded: (work) => work(),
    findLock: async () => place.lock,
    putLock: async (lock) => {
      place.lock = lock;
    },
    compartment: () => compartment,
    removeCompartment: async () => {},
    watch: () => () => {},
    close: async () => {},
  };
}

let sealed = 0;
/** Seals nothing, but tells one place from another. */
export const openTools: SealingTools = {
  newLock: async () => '{}',
  openLock: async () => ({
    salt: 'salt',
    sealing: {
      seal: (bytes, place) => {
        const mark = new TextEncoder().encode(
          `${hashOf(new TextEncoder().encode(place)).slice(0, 12)}${String(++sealed).padStart(16)}`,
        );
        return Uint8Array.from([...mark, ...bytes]);
      },
      open: (bytes, place) => {
        const mark = new TextDecoder().decode(bytes.subarray(0, 12));
        if (mark !== hashOf(new TextEncoder().encode(place)).slice(0, 12)) throw new Error('moved');
        return bytes.subarray(28);
      },
      digest: (words) => words,
    },
  }),
  deflate: async (bytes) => bytes,
  inflate: async (bytes) => bytes,
};
