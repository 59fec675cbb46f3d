import type { Params } from './message.ts';
import type { ProblemCode, ProblemName, Reason } from './reasons.ts';

export interface ProblemOptions {
  /** The file, place, or path into a value that it is about. */
  readonly where?: string | undefined;
  readonly cause?: unknown;
}

/**
 * The one error class: `code` and `reason` for programs; `reason`, `params` and `where` for the front that shows it and makes
 * the sentence in its reader's language. Its own `message` is for logs.
 */
export class DrawerError extends Error {
  override readonly name = 'DrawerError';
  /** Both in one: `not-found/section-unknown`. */
  readonly problem: ProblemName;
  readonly code: ProblemCode;
  readonly reason: Reason;
  /** What fills the blanks of its sentence. */
  readonly params: Params;
  readonly where: string | undefined;

  /** Whether it is one, even from another copy of this module, which `instanceof` would not know. */
  static is(error: unknown): error is DrawerError {
    return error instanceof Error && error.name === 'DrawerError' && 'reason' in error;
  }

  constructor(problem: ProblemName, params: Params = {}, { where, cause }: ProblemOptions = {}) {
    const told = Object.keys(params).length === 0 ? '' : ` ${JSON.stringify(params)}`;
    super(`${where === undefined ? '' : `${where}: `}${problem}${told}`, cause === undefined ? undefined : { cause });
    const [code, reason] = problem.split('/');
    this.problem = problem;
    this.code = code as ProblemCode;
    this.reason = reason as Reason;
    this.params = params;
    this.where = where;
  }

  /** The same problem at another place. */
  at(where: string): DrawerError {
    return new DrawerError(this.problem, this.params, { where, cause: this });
  }
}

/** The same problem with its place said, for errors that pass through a caller who knows the file. */
export const locate = (error: unknown, where: string): unknown =>
  DrawerError.is(error) && error.where === undefined ? error.at(where) : error;
