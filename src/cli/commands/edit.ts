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
    const { summary, position } = await chosenOne(drawer, reference);
    if (summary.secret) throw new DrawerError('refused/command-edit-secret', { position: String(position) });
    if (await drawer.isLocked()) throw new DrawerError('refused/command-edit-locked');
    const { content } = await drawer.get(summary.id);
    const form = await editForm(content, await drawer.mediaOf(content));
    const isEdited = await inEditor(form.text, context, async (text) => {
      const [shown, edited] = [await form.read(form.text), await form.read(text)];
      const whole = keepUnshown(content, shown.content, edited.content);
      await drawer.edit(summary.id, whole, { media: edited.media, was: content });
    });
    if (!isEdited) return context.print(context.words.tell('editedNothing'));
    if (!quiet) context.print(context.words.tell('editedSnippet', { position }));
  });
}

function editorCommand({ environment }: Context): string {
  const command = environment.VISUAL || environment.EDITOR;
  if (command) return command;
  throw new DrawerError('usage/command-editor-missing');
}

/**
 * Takes what the editor leaves of a text, where that is another; the file is the user's alone, and goes at once. Only when it
 * cannot be taken does it stay, so that nothing is lost of what was written; the error says where.
 */
async function inEditor(text: string, context: Context, use: (text: string) => Promise<void>): Promise<boolean> {
  const command = editorCommand(context);
  const folder = await mkdtemp(join(tmpdir(), 'drawer-edit-'));
  const file = join(folder, 'snippet.md');
  let isTaken = true;
  try {
    await writeFile(file, text, { mode: 0o600 });
    await runEditor(command, file);
    const written = await readFile(file, 'utf8');
    if (written === text) return false;
    isTaken = false;
    await use(written);
    isTaken = true;
    return true;
  } catch (error) {
    if (isTaken || !DrawerError.is(error)) throw error;
    context.remark(context.words.tell('editedIn', { file }));
    throw error;
  } finally {
    if (isTaken) await rm(folder, { recursive: true, force: true });
  }
}

async function runEditor(command: string, file: string): Promise<void> {
  const code = await new Promise<number | null>((resolve, reject) => {
    spawn(command, [`"${file}"`], { stdio: 'inherit', shell: true })
      .on('error', reject)
      .on('close', resolve);
  });
  if (code !== 0) throw new DrawerError('refused/command-editor-failed', { status: String(code) });
}
