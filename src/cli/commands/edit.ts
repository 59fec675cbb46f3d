import { spawn } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DrawerError, keepUnshown } from '../../content/index.ts';
import { editForm } from '../../formats/index.ts';
import type { Context } from '../context.ts';
import { withDrawer } from '../with-drawer.ts';
import { chosenOne } from './chosen.ts';

/** `drawer edit REF`: the snippet as Markdown in the user's own editor; what Markdown does not show stays as it was. */
export async function edit(reference: string, { quiet }: { quiet?: boolean }, context: Context): Promise<void> {
  await withDrawer(context, async (drawer) => {
    const { head, position } = await chosenOne(drawer, reference);
    if (head.secret)
      throw new DrawerError({
        code: 'refused',
        what: `Snippet ${position} is secret, and an editor would keep its words in files`,
        next: `Open it first: drawer mark ${position} --open`,
      });
    if (drawer.isLocked())
      throw new DrawerError({
        code: 'refused',
        what: 'The drawer is locked, and an editor would keep its words in files that are not',
        next: 'Take the lock off first: drawer rules --unlock',
      });
    const { content } = await drawer.get(head.id);
    const form = await editForm(content, await drawer.mediaOf(content));
    const text = await inEditor(form.text, editorCommand(context));
    if (text === form.text) return context.print('Nothing was changed.');
    const [shown, edited] = [await form.read(form.text), await form.read(text)];
    await drawer.edit(head.id, keepUnshown(content, shown.content, edited.content), edited.media);
    if (!quiet) context.print(`Edited ${position}. drawer undo brings back what it was.`);
  });
}

function editorCommand({ environment }: Context): string {
  const command = environment.VISUAL || environment.EDITOR;
  if (command) return command;
  throw new DrawerError({
    code: 'usage',
    what: 'There is no editor to edit in',
    next: 'Say which in the variable EDITOR, such as EDITOR=nano drawer edit 3',
  });
}

/** What the editor leaves of a text; the file is the user's alone, and goes at once. */
async function inEditor(text: string, command: string): Promise<string> {
  const folder = await mkdtemp(join(tmpdir(), 'drawer-edit-'));
  const file = join(folder, 'snippet.md');
  try {
    await writeFile(file, text, { mode: 0o600 });
    const code = await new Promise<number | null>((resolve, reject) => {
      spawn(command, [`"${file}"`], { stdio: 'inherit', shell: true })
        .on('error', reject)
        .on('close', resolve);
    });
    if (code !== 0)
      throw new DrawerError({ code: 'refused', what: `The editor ended with ${code}`, next: 'Nothing was changed' });
    return await readFile(file, 'utf8');
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
