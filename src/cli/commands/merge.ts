import { compose } from '../../compose/index.ts';
import { DrawerError } from '../../content/index.ts';
import { keptInWords, notesInWords } from '../../drawer/index.ts';
import { type ComposingOptions, composingOf } from '../composing.ts';
import type { Context } from '../context.ts';
import { heldInWords } from '../take-out.ts';
import { withDrawer } from '../with-drawer.ts';
import { chosen } from './chosen.ts';

export interface MergeOptions extends ComposingOptions {
  readonly label?: string;
  readonly takeOut?: boolean;
  readonly quiet?: boolean;
  readonly json?: boolean;
}

/** `drawer merge REF…`: one new snippet of several. */
export async function merge(references: readonly string[], options: MergeOptions, context: Context): Promise<void> {
  const composing = await composingOf(options);
  await withDrawer(context, async (drawer) => {
    const listed = await chosen(drawer, references);
    if (listed.length < 2)
      throw new DrawerError({
        code: 'usage',
        what: 'One snippet alone cannot be merged',
        next: 'Name several, or a range such as 2-5',
      });
    const snippets = await Promise.all(listed.map(({ head }) => drawer.get(head.id)));
    const { content, notes } = compose(snippets, composing);
    const { label, takeOut } = options;
    const result = await drawer.merge({ of: snippets.map(({ id }) => id), content, label, takeOut });
    if (options.json) return context.print(JSON.stringify({ ...result, notes }, null, 2));
    if (options.quiet) return;
    context.print(`${keptInWords(result)}${label === undefined ? '' : `; label: ${label}`}`);
    if (takeOut) {
      context.print('What it was made of is taken out. drawer undo brings it back.');
      const held = new Set(listed.flatMap(({ head }) => (head.held ? [head.id] : []))).size;
      if (held > 0) context.remark(heldInWords(held));
    }
    const said = notesInWords(notes, 'Note');
    if (said) context.remark(said);
  });
}
