import { exportSnippets, type Listed } from '../../drawer/index.ts';
import { type PanelHost, Refusal } from './host.ts';

/** Saves snippets as a file of our own form (`docs/snippets.schema.json`), and says how many; secret ones are left out. */
export async function exportListed(host: PanelHost, listed: readonly Listed[]): Promise<void> {
  const { model, words } = host;
  const open = listed.filter(({ summary }) => !summary.secret);
  if (open.length === 0) throw new Refusal('problem.needOne');
  const snippets = await model.whole(open.map(({ summary }) => summary.id));
  const media = new Map<string, Uint8Array>();
  for (const { content } of snippets) for (const [hash, bytes] of await model.mediaOf(content)) media.set(hash, bytes);
  const file = 'drawer.json';
  const type = 'application/json';
  save(new Blob([JSON.stringify(exportSnippets(snippets, media), null, 2)], { type }), file);
  const secrets = listed.length - open.length;
  host.say(
    [
      words.say('exported', { count: open.length, file }),
      ...(secrets > 0 ? [words.say('exportLeft', { count: secrets })] : []),
    ].join('. '),
  );
}

function save(blob: Blob, name: string): void {
  const address = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 60_000);
}
