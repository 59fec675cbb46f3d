import { mediaHash } from 'drawer/formats';

/** The smallest PNG files (ISO/IEC 15948) of three colours, 1 × 1 pixel each. */
const encoded = [
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg==',
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR42mNg+M8AAAICAQB7CYF4AAAAAElFTkSuQmCC',
];

export const samplePictures = encoded.map((data) => {
  const bytes = Uint8Array.from(Buffer.from(data, 'base64'));
  return { bytes, hash: mediaHash(bytes) };
});
