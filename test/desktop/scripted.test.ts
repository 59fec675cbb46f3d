import { mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Content, noMedia } from 'drawer';
import { followCopies, offeringOf, readCopied } from 'drawer/desktop';
import fc from 'fast-check';
import { macos } from '../../src/desktop/scripted/macos.ts';
import { ScriptedClipboard, type ScriptedSystem } from '../../src/desktop/scripted/scripted-clipboard.ts';
import { fromClipboardHtml, toClipboardHtml, windows } from '../../src/desktop/scripted/windows.ts';

/** Answers as the scripts do, of a clipboard that a file holds: how often it has changed, and its forms in Base64. */
const host = `
const { readFileSync, writeFileSync, renameSync } = require('node:fs');
const file = process.argv[1];
const state = () => JSON.parse(readFileSync(file, 'utf8'));
function answer({ ask, form, forms }) {
  const { count, forms: held } = state();
  if (ask === 'count') return { count };
  if (ask === 'forms') return { forms: Object.keys(held), program: { name: 'Notes', title: '' } };
  if (ask === 'read') return form in held ? { bytes: held[form] } : {};
  if ('text/broken' in held) return { problem: 'access is denied' };
  writeFileSync(file + '.new', JSON.stringify({ count: count + 1, forms }));
  renameSync(file + '.new', file);
  return { count: count + 1 };
}
require('node:readline').createInterface({ input: process.stdin }).on('line', (line) =>
  process.stdout.write(JSON.stringify(answer(JSON.parse(line))) + '\\n'));`;

let folder: string;
let file: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'drawer-scripted-'));
  file = join(folder, 'clipboard.json');
  writeFileSync(file, JSON.stringify({ count: 0, forms: {} }));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

/** Some program copies. */
function copy(forms: Readonly<Record<string, string | Uint8Array>>): void {
  const held = Object.entries(forms).map(([name, bytes]) => [name, Buffer.from(bytes).toString('base64')]);
  writeFileSync(`${file}.own`, JSON.stringify({ count: state().count + 1, forms: Object.fromEntries(held) }));
  renameSync(`${file}.own`, file);
}
const state = (): { readonly count: number; readonly forms: Readonly<Record<string, string>> } =>
  JSON.parse(readFileSync(file, 'utf8'));
const open = (system: ScriptedSystem) =>
  ScriptedClipboard.open({ ...system, command: [process.execPath, '-e', host, file] });

const list: Content = {
  shape: 'blocks',
  blocks: [
    {
      type: 'list',
      ordered: false,
      items: [{ blocks: [{ type: 'paragraph', inlines: [{ type: 'text', text: 'Fähre' }] }] }],
    },
  ],
};

describe.each([macos, windows])('the clipboard of $name', (system) => {
  it('takes what is put there, and gives it back as it was', async () => {
    const clipboard = await open(system);
    expect(await clipboard.copied()).toBeUndefined();
    const offer = await clipboard.offer(await offeringOf(list, noMedia, { isSecret: true }));
    expect(offer.isKept).toBe(true);
    const words = Buffer.from(state().forms[system.forms.get('UTF8_STRING')?.name ?? ''] ?? '', 'base64').toString();
    expect(words).toMatch(/Fähre/);
    await expect(readCopied((await clipboard.copied()) as never)).rejects.toMatchObject({ reason: 'clipboard-secret' });
    await clipboard.offer(await offeringOf(list, noMedia));
    await offer.gone;
    const copied = await clipboard.copied();
    expect(copied?.program).toEqual({ name: 'Notes', title: '' });
    expect((await readCopied(copied as NonNullable<typeof copied>)).content).toEqual(list);
    const page = new TextDecoder().decode(await copied?.read('text/html'));
    expect(page).toMatch(/^(?:<html><body>\s*<!--StartFragment-->)?<meta [\s\S]*Fähre/);
    await clipboard.close();
  });

  it('tells of what others copy, not of its own, and when they take its place', async () => {
    copy({ [system.forms.get('UTF8_STRING')?.name ?? '']: 'before' });
    const clipboard = await open(system);
    const kept: string[] = [];
    let hear: () => void = () => {};
    const heard = new Promise<void>((told) => {
      hear = told;
    });
    const followed = await followCopies(clipboard, {
      keep: async ({ content }) => {
        kept.push(JSON.stringify(content));
        hear();
      },
      passedOver: (problem) => {
        throw problem;
      },
    });
    const offer = await clipboard.offer(await offeringOf(list, noMedia));
    copy({ [system.forms.get('UTF8_STRING')?.name ?? '']: 'rope' });
    await heard;
    await offer.gone;
    await followed.stop();
    expect(kept).toEqual([expect.stringContaining('"rope"')]);
    await clipboard.close();
  });

  it('says what went wrong', async () => {
    copy({ 'text/broken': 'x' });
    const clipboard = await open(system);
    await expect(clipboard.offer(await offeringOf(list, noMedia))).rejects.toMatchObject({
      reason: 'clipboard-not-given',
      params: { system: system.name },
    });
    await clipboard.close();
    await expect(clipboard.copied()).rejects.toMatchObject({ reason: 'clipboard-program' });
    const missing = ScriptedClipboard.open({ ...system, command: [join(folder, 'no-such-program')] });
    await expect(missing).rejects.toMatchObject({ reason: 'clipboard-program' });
  });
});

it('has a script that is one, for macOS', () => {
  const script = macos.command.at(-1) ?? '';
  expect(() => new Function(script)).not.toThrow();
});

it('carries any page through the form that Windows has for it', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), (html) => {
      const bytes = Buffer.from(html);
      const held = toClipboardHtml(bytes);
      const text = Buffer.from(held).toString();
      const at = (name: string) => Number(new RegExp(`${name}:(\\d{10})\r\n`).exec(text)?.[1]);
      expect(Buffer.from(held.subarray(at('StartFragment'), at('EndFragment'))).equals(bytes)).toBe(true);
      const page = Buffer.from(fromClipboardHtml(held)).toString();
      expect(page).toBe(`<html><body>\r\n<!--StartFragment-->${html}<!--EndFragment-->\r\n</body></html>`);
    }),
  );
  // Without a page around it, with a zero at its end, and what is none of that form.
  const bare = 'Version:1.0\r\nStartHTML:-1\r\nEndHTML:-1\r\nStartFragment:00079\r\nEndFragment:00087\r\n';
  expect(Buffer.from(fromClipboardHtml(Buffer.from(`${bare}<b>x</b>\0`))).toString()).toBe('<b>x</b>');
  expect(Buffer.from(fromClipboardHtml(Buffer.from('<b>x</b>'))).toString()).toBe('<b>x</b>');
});
