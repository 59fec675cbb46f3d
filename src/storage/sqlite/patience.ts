/** How long to wait for another process that is writing, in milliseconds. */
export const patience = 15_000;

/** Keeps the whole program waiting, for so many milliseconds. */
export const waitSync = (milliseconds: number): void =>
  void Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, milliseconds);
