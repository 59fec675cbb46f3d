/** What kind of problem it is; stable, for programs to act on. */
export type ProblemCode =
  | 'not-found' // a file, place or snippet that does not exist
  | 'ambiguous' // a name that fits more than one place
  | 'unreadable' // a container that is damaged, protected or not what it says
  | 'unsupported' // right, but not a thing this format or version serves
  | 'too-large' // over a limit that guards against hostile files
  | 'invalid' // a value that breaks the rules of its kind
  | 'full' // the drawer takes no more
  | 'consent' // only done when it is said for certain
  | 'changed' // what was to be changed is no longer as it was read
  | 'refused' // what the drawer's rules or its lock do not allow
  | 'locked' // a passphrase is needed, or is not right
  | 'usage' // a call or command put wrongly
  | 'write-failed' // the target could not be written
  | 'damaged' // the drawer's file is damaged
  | 'newer' // the drawer was made by a newer version of this library
  | 'storage'; // the drawer's file could not be opened or changed

export interface ProblemDetails {
  readonly code: ProblemCode;
  /** What could not be done. Starts with a capital letter and has no full stop. */
  readonly what: string;
  /** Where: a file, place, or path into a value. */
  readonly where?: string;
  /** What to do next; a whole sentence without its full stop. */
  readonly next?: string;
}

/** The one error class: `code` for programs; the message says what is wrong, where, and what to do next. */
export class DrawerError extends Error {
  override readonly name = 'DrawerError';
  readonly code: ProblemCode;
  readonly details: ProblemDetails;

  /** Whether it is one, even from another copy of this module, which `instanceof` would not know. */
  static is(error: unknown): error is DrawerError {
    return error instanceof Error && error.name === 'DrawerError' && 'details' in error;
  }

  constructor(details: ProblemDetails, options?: { cause?: unknown }) {
    super(wording(details), options);
    this.code = details.code;
    this.details = details;
  }
}

const wording = ({ what, where, next }: ProblemDetails): string =>
  `${where === undefined ? '' : `${where}: `}${what}.${next === undefined ? '' : ` ${next}.`}`;

/** The same problem with its place said, for errors that pass through a caller who knows the file. */
export const locate = (error: unknown, where: string): unknown =>
  DrawerError.is(error) && error.details.where === undefined
    ? new DrawerError({ ...error.details, where }, { cause: error })
    : error;
