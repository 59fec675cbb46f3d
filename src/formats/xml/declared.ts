/** Declares prefixes of ours on elements that go into a part, where the part does not declare them the same. */
export class Declarations {
  readonly #missing: readonly { readonly prefix: string; readonly use: RegExp; readonly declaration: string }[];

  constructor(part: string, namespaces: Readonly<Record<string, string>>) {
    const root = /<(?![?!])[^<>]*>/.exec(part)?.[0] ?? '';
    this.#missing = Object.entries(namespaces)
      .filter(([name, uri]) => name.startsWith('xmlns:') && !root.includes(`${name}="${uri}"`))
      .map(([name, uri]) => ({
        prefix: name.slice('xmlns:'.length),
        use: new RegExp(`[<\\s/]${name.slice('xmlns:'.length)}:`),
        declaration: ` ${name}="${uri}"`,
      }));
  }

  /** The source of one element, with what it needs. */
  on(source: string): string {
    const missing = this.#missing
      .filter(({ prefix, use }) => source.includes(`${prefix}:`) && use.test(source))
      .map(({ declaration }) => declaration)
      .join('');
    return missing === '' ? source : source.replace(/^<[\w.:-]+/, `$&${missing}`);
  }
}
