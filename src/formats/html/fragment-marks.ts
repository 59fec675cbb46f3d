/** Where the part of a page that was copied begins and ends: what stands around it is only there to parse. */
export class FragmentMarks {
  #isInside: boolean;

  constructor(elementsHaveMarks: boolean) {
    this.#isInside = !elementsHaveMarks;
  }

  get isInside(): boolean {
    return this.#isInside;
  }

  hear(comment: string): void {
    if (comment.trim() === 'StartFragment') this.#isInside = true;
    if (comment.trim() === 'EndFragment') this.#isInside = false;
  }
}
