/** The language tag (BCP 47) as it is, or `undefined` when it is none that a program could work by. */
export function findLanguage(tag: string | undefined): string | undefined {
  if (tag === undefined || !/^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$/.test(tag)) return undefined;
  try {
    new Intl.Locale(tag);
    return tag;
  } catch {
    return undefined; // well put, but not a tag: such as `en-a`
  }
}
