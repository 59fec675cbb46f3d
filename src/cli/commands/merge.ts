import { compose } from '../../compose/index.ts';
import { DrawerError } from '../../content/index.ts';
import { type ComposingOptions, composingOf } from '../composing.ts';
import type { Context } from '../context.ts';
import { remarkNotes } from '../notes.ts';
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
    if (listed.length < 2) throw new DrawerError('usage/command-merge-one');
    const snippets = await drawer.getMany(listed.map(({ summary }) => summary.id));
    const { content, notes } = compose(snippets, composing);
    const { label, takeOut } = options;
    const result = await drawer.merge({ of: snippets.map(({ id }) => id), content, label, takeOut });
    if (options.json) return context.print(JSON.stringify({ ...result, notes }, null, 2));
    if (options.quiet) return;
    context.print(
      `${context.words.kept(result)}${label === undefined ? '' : context.words.tell('mergedLabel', { label })}`,
    );
    if (takeOut) {
      context.print(context.words.tell('mergedOut'));
      const held = new Set(listed.flatMap(({ summary }) => (summary.held ? [summary.id] : []))).size;
      if (held > 0) context.remark(context.words.tell('heldStay', { count: held }));
    }
    await remarkNotes(notes, 'noted', context);
  });
}
