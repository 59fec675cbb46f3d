import { fromBase64, toBase64 } from '@exodus/bytes/base64.js';

/** The bytes of a `data:` URI (RFC 2397); `undefined` for any other address, which is never fetched. */
export function decodeDataUri(address: string): Uint8Array | undefined {
  const [, parameters = '', data = ''] = /^data:([^,]*),(.*)$/is.exec(address.trim()) ?? [];
  if (data === '') return undefined;
  try {
    const plain = decodeURIComponent(data);
    const isBase64 = /;\s*base64\s*$/i.test(parameters);
    return isBase64 ? fromBase64(plain.replace(/\s/g, ''), { padding: 'both' }) : new TextEncoder().encode(plain);
  } catch {
    return undefined; // damaged
  }
}

export const encodeDataUri = (bytes: Uint8Array, mediaType: string): string =>
  `data:${mediaType};base64,${toBase64(bytes)}`;
