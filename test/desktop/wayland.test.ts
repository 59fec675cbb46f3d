import {
  appendFileSync,
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pass } from 'node:timers/promises';
import { openClipboard } from '../../src/desktop/index.ts';
import { WaylandClipboard } from '../../src/desktop/wayland/wayland-clipboard.ts';
import { startXServer } from '../support/x-server.ts';

/** As wl-paste does it, of a folder with a file for each form; it lists them, and tells a line at each change. */
const wlPaste = `#!/bin/sh
name() { printf %s "$1" | tr / _; }
case "$1" in
--list-types) ls "$FORMS" | tr _ / ; [ -n "$(ls "$FORMS")" ] ;;
--watch) [ -e "$FORMS/../unwatched" ] && exit 1; [ -n "$(ls "$FORMS")" ] && echo; exec tail -n 0 -f "$FORMS/../changes" ;;
--no-newline) [ "$3" = mute ] && exec sleep 60; cat "$FORMS/$(name "$3")" ;;
esac`;
/** As wl-copy does it, for as long as it is not told to end. */
const wlCopy = `#!/bin/sh
cat > "$FORMS/../copied"; printf %s "$3" > "$FORMS/../copied-as"; exec sleep 60`;

let folder: string;
let environment: Record<string, string>;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'drawer-wayland-'));
  for (const name of ['bin', 'forms']) mkdirSync(join(folder, name));
  writeFileSync(join(folder, 'changes'), '');
  for (const [name, script] of [
    ['wl-paste', wlPaste],
    ['wl-copy', wlCopy],
  ] as const) {
    writeFileSync(join(folder, 'bin', name), script);
    chmodSync(join(folder, 'bin', name), 0o755);
  }
  environment = {
    PATH: `${join(folder, 'bin')}:${process.env.PATH}`,
    FORMS: join(folder, 'forms'),
    WAYLAND_DISPLAY: 'wayland-1',
  };
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

function copy(forms: Readonly<Record<string, string>>): void {
  rmSync(join(folder, 'forms'), { recursive: true });
  mkdirSync(join(folder, 'forms'));
  for (const [form, words] of Object.entries(forms))
    writeFileSync(join(folder, 'forms', form.replace('/', '_')), words);
  appendFileSync(join(folder, 'changes'), '\n');
}

it('reads what is there, and tells of what comes, not of what was there before', async () => {
  copy({ 'text/plain': 'before', 'text/html': '<p>before</p>' });
  const clipboard = await openClipboard(environment);
  expect(clipboard.system).toBe('Wayland');
  expect(new Set((await clipboard.copied())?.forms)).toEqual(new Set(['text/plain', 'text/html']));
  const told: string[] = [];
  let hear: () => void = () => {};
  const end = await clipboard.watch(() => {
    told.push('a copy');
    hear();
  });
  for (const words of ['rope', 'lamp']) {
    const heard = new Promise<void>((once) => {
      hear = once;
    });
    copy({ 'text/plain': words });
    await heard;
    expect(new TextDecoder().decode(await (await clipboard.copied())?.read('text/plain'))).toBe(words);
  }
  expect(told).toHaveLength(2);
  expect(await (await clipboard.copied())?.read('image/png')).toBeUndefined();
  copy({});
  expect(await clipboard.copied()).toBeUndefined();
  end();
  await clipboard.close();
  await clipboard.ended;
});

it('waits for no program that does not answer, and reads no more than it may', async () => {
  const clipboard = await openClipboard(environment);
  copy({ mute: 'x', large: 'x'.repeat(64 * 2 ** 20 + 1) });
  const copied = await clipboard.copied();
  await expect(copied?.read('mute')).rejects.toMatchObject({ reason: 'clipboard-mute' });
  await expect(copied?.read('large')).rejects.toMatchObject({ code: 'too-large', reason: 'clipboard-large' });
  await clipboard.close();
});

it('puts words there where no X server is at hand for more, and says so', async () => {
  const clipboard = await openClipboard(environment);
  const forms = new Map([
    ['text/html', Buffer.from('<p>rope</p>')],
    ['UTF8_STRING', Buffer.from('rope')],
  ]);
  const offer = await clipboard.offer({ forms });
  expect(offer.isWordsAlone).toBe(true);
  while (!existsSync(join(folder, 'copied-as'))) await pass(10);
  expect(readFileSync(join(folder, 'copied'), 'utf8')).toBe('rope');
  expect(readFileSync(join(folder, 'copied-as'), 'utf8')).toBe('text/plain;charset=utf-8');
  offer.end();
  await offer.gone;
  await clipboard.close();
});

it('says which program is missing, and looks for another way where the compositor lets nobody watch', async () => {
  const missing = openClipboard({ WAYLAND_DISPLAY: 'wayland-1', PATH: join(folder, 'forms') });
  await expect(missing).rejects.toMatchObject({ reason: 'clipboard-program', params: { program: 'wl-paste' } });
  writeFileSync(join(folder, 'unwatched'), '');
  await expect(openClipboard(environment)).rejects.toMatchObject({ reason: 'clipboard-none' });
  expect(await WaylandClipboard.open(environment)).toBeUndefined();
  const server = await startXServer();
  for (const desktop of ['sway', 'ubuntu:GNOME']) {
    const clipboard = await openClipboard({ ...environment, DISPLAY: server.display, XDG_CURRENT_DESKTOP: desktop });
    expect(clipboard.system).toBe('X11');
    await clipboard.close();
  }
  await server.stop();
});
