import { type DecodeOptions, decode, type EncodeOptions, encode, objectToTokens, Tagged } from 'cborg';
import { mapDecoder, mapEncoder, negativeZeroEncoder, TAG_MAP, TAG_OBJECT_CLASS } from 'cborg/taglib';
import { DrawerError, type Params, type ProblemName } from '../../content/index.ts';

/** A `DrawerError` as tag 27 carries it: the name of its class, and what it is made from. */
type ErrorParts = readonly ['DrawerError', ProblemName, Params, string | undefined];

const asParts = (error: unknown): ErrorParts =>
  DrawerError.is(error)
    ? ['DrawerError', error.problem, error.params, error.where]
    : ['DrawerError', 'storage/connection-failed', { detail: String(error) }, undefined];

const encoding: EncodeOptions = {
  mapSorter: () => 0, // the keys of an object keep their order
  typeEncoders: {
    Map: mapEncoder,
    number: negativeZeroEncoder,
    Error: (error: unknown, _, options) => objectToTokens(new Tagged(TAG_OBJECT_CLASS, asParts(error)), options),
  },
};

const decoding: DecodeOptions = {
  tags: {
    [TAG_MAP]: mapDecoder,
    [TAG_OBJECT_CLASS]: (read) => {
      const [, problem, params, where] = read() as ErrorParts;
      return new DrawerError(problem, params, { where });
    },
  },
};

/**
 * A message as CBOR (RFC 8949): bytes travel as bytes, and maps (tag 259), `undefined` and errors (tag 27) arrive as they were.
 */
export const encodeMessage = (message: unknown): Uint8Array => encode(message, encoding);

/** @throws Error for bytes that are no message */
export const decodeMessage = (bytes: Uint8Array): unknown => decode(bytes, decoding);
