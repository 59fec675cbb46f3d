import { grouped } from '../../content/index.ts';
import { type Listed, originInWords, sizeInWords } from '../../drawer/index.ts';
import { fit, fitEnd, widest } from '../columns.ts';
import type { Context } from '../context.ts';
import { withDrawer } from '../with-drawer.ts';
import { ageInWords } from '../wording.ts';

const pageLength = 50;

/** `drawer list [REF…]`: the first page, or the snippets named. */
export const list = (references: readonly string[], { json }: { json?: boolean }, context: Context): Promise<void> =>
  withDrawer(context, async (drawer) => {
    const count = await drawer.count();
    const listed = references.length > 0 ? await drawer.select(references) : await drawer.list(1, pageLength);
    if (json)
      return context.print(
        JSON.stringify({ count, snippets: listed.map(({ position, head }) => ({ position, ...head })) }, null, 2),
      );
    if (listed.length === 0) return context.print('The drawer is empty. Gather something with: drawer copy FILE');
    context.print(table(listed, context));
    if (references.length === 0 && count > listed.length) {
      const next = `${listed.length + 1}-${Math.min(count, 2 * listed.length)}`;
      context.print(`\n1 to ${listed.length} of ${grouped(count)}; the next are: drawer list ${next}`);
    }
  });

function table(listed: readonly Listed[], { width, now }: Context): string {
  const rows = listed.map(({ position, head }) => ({
    number: String(position),
    size: sizeInWords(head.facts),
    begins: head.label ?? head.facts.preview,
    from: originInWords(head.origin),
    when: ageInWords(head.takenAt, now),
  }));
  const column = (key: keyof (typeof rows)[number]): string[] => rows.map((row) => row[key]);
  const numberWidth = widest(column('number'), 2, 9);
  const sizeWidth = widest(column('size'), 4, 24);
  const whenWidth = widest(column('when'), 4, 16);
  const left = Math.max(40, width - numberWidth - sizeWidth - whenWidth - 8);
  const fromWidth = widest(column('from'), 4, Math.floor(left / 2));
  const beginsWidth = left - fromWidth;
  const line = (number: string, size: string, begins: string, from: string, when: string): string =>
    `${fitEnd(number, numberWidth)}  ${fit(size, sizeWidth)}  ${fit(begins, beginsWidth)}  ${fit(from, fromWidth)}  ${when}`.trimEnd();
  return [
    line('', 'What', 'Begins', 'From', 'When'),
    ...rows.map((row) => line(row.number, row.size, row.begins, row.from, row.when)),
  ].join('\n');
}
