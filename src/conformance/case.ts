/**
 * One requirement of every storage, or of every format. Any test runner can run it. If it is not met, `run` rejects with an
 * `Error` that names the expected and the actual value.
 */
export interface ConformanceCase<Subject> {
  readonly name: string;
  run(subject: Subject): Promise<void>;
}

/** @throws Error where two values differ as JSON tells them */
export function expectSame(what: string, value: unknown, expected: unknown): void {
  const [is = 'nothing', should = 'nothing'] = [toJson(value), toJson(expected)];
  if (is === should) return;
  let same = 0;
  while (is[same] === should[same]) same++;
  const near = (json: string): string => json.slice(Math.max(0, same - 120), same + 240);
  throw new Error(`${what}: expected ${near(should)}, but got ${near(is)}`);
}

/** Members in the order of their names, bytes as numbers. */
const toJson = (value: unknown): string | undefined =>
  JSON.stringify(value, (_, each: unknown) => {
    if (each instanceof Uint8Array) return [...each];
    if (each === null || typeof each !== 'object' || Array.isArray(each)) return each;
    return Object.fromEntries(Object.entries(each).sort(([one], [other]) => (one < other ? -1 : 1)));
  });

/** @throws Error where a call does not reject, or with something else than is wanted */
export async function expectRejection(
  what: string,
  call: () => Promise<unknown>,
  isWanted: (error: unknown) => boolean,
): Promise<void> {
  const outcome = await call().then(
    (value) => ({ value }),
    (error: unknown) => ({ error }),
  );
  if (!('error' in outcome)) throw new Error(`${what}: expected an error, but got ${toJson(outcome.value)}`);
  if (!isWanted(outcome.error)) throw new Error(`${what}: rejected with ${String(outcome.error)}`);
}
