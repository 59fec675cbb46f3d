import { DrawerError } from './errors.ts';

/**
 * Does something with values that callers handed over. Where these are not what they should be, the failure becomes one clear
 * error; looking at them first would cost every other call.
 * @param check throws the error that says what is wrong, if it finds it.
 * @throws DrawerError `invalid`
 */
export function checkedCall<T>(work: () => T, check: () => void = () => {}): T {
  try {
    const result = work();
    return result instanceof Promise
      ? (result.catch((error: unknown) => Promise.reject(problemOf(error, check))) as T)
      : result;
  } catch (error) {
    throw problemOf(error, check);
  }
}

function problemOf(error: unknown, check: () => void): unknown {
  if (!(error instanceof TypeError || error instanceof RangeError)) return error;
  try {
    check();
  } catch (problem) {
    if (DrawerError.is(problem)) return problem;
  }
  return new DrawerError('invalid/call-invalid', { detail: error.message }, { cause: error });
}
