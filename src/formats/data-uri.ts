/** The bytes of a `data:` URI (RFC 2397); `undefined` for any other address, which is never fetched. */
export function decodeDataUri(address: string): Uint8Array | undefined {
  const [, parameters = '', data = ''] = /^data:([^,]*),(.*)$/is.exec(address.trim()) ?? [];
  if (data === '') return undefined;
  try {
    const plain = decodeURIComponent(data);
    if (!/;\s*base64\s*$/i.test(parameters)) return new TextEncoder().encode(plain);
    return Uint8Array.from(atob(plain.replace(/\s/g, '')), (character) => character.charCodeAt(0));
  } catch {
    return undefined; // damaged
  }
}

export function encodeDataUri(bytes: Uint8Array, mediaType: string): string {
  const step = 0x8000; // as many arguments as every engine takes
  let binary = '';
  for (let at = 0; at < bytes.length; at += step) binary += String.fromCharCode(...bytes.subarray(at, at + step));
  return `data:${mediaType};base64,${btoa(binary)}`;
}
