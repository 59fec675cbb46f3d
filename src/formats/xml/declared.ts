/** Prefixes of ours that the part does not declare the same are declared on the element. */
export function declared(source: string, part: string, namespaces: Record<string, string>): string {
  const root = /<(?![?!])[^<>]*>/.exec(part)?.[0] ?? '';
  const missing = Object.entries(namespaces)
    .filter(
      ([name, uri]) =>
        name.startsWith('xmlns:') && usesPrefix(source, name.slice(6)) && !root.includes(`${name}="${uri}"`),
    )
    .map(([name, uri]) => ` ${name}="${uri}"`)
    .join('');
  return missing === '' ? source : source.replace(/^<[\w.:-]+/, `$&${missing}`);
}

const usesPrefix = (source: string, prefix: string): boolean => new RegExp(`[<\\s/]${prefix}:`).test(source);
