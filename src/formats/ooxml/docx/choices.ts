import type { Attributes } from '../../xml/read-xml.ts';

/** Extensions of the format that are read; for others, what stands in for them is. */
const understood = /^(?:wp[sgc]|w1[0-9]\w*|a14|wp14|v|o)$/;

const isUnderstood = (requires: string | undefined): boolean =>
  (requires ?? '').split(/\s+/).every((prefix) => understood.test(prefix));

/** Of several contents that stand for one another (ISO/IEC 29500-3, 10.2), the first that is understood is read. */
export class Choices {
  /** Of each choice that is open: whether one that is understood was met. */
  readonly #open: boolean[] = [];

  /** Whether the element is a choice that is not the one to read. */
  isOther(name: string, { Requires }: Attributes): boolean {
    if (name === 'mc:AlternateContent') this.#open.push(false);
    const last = this.#open.length - 1;
    if (name === 'mc:Fallback') return this.#open[last] === true;
    if (name !== 'mc:Choice') return false;
    if (this.#open[last] || !isUnderstood(Requires)) return true;
    this.#open[last] = true;
    return false;
  }

  close(name: string): void {
    if (name === 'mc:AlternateContent') this.#open.pop();
  }
}
