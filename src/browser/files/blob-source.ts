import type { Source } from '../../formats/index.ts';

/** A file that somebody chose or dropped, as a source; read only where it is asked. */
export const blobSource = (blob: Blob, name: string): Source => ({
  name,
  size: blob.size,
  read: async (start, end) => new Uint8Array(await blob.slice(start, end).arrayBuffer()),
});
