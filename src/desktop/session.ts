import { DrawerError } from '../content/index.ts';
import type { DesktopClipboard } from './clipboard.ts';

/**
 * The clipboard of the session that the program runs in.
 * @param environment - the variables of the session: `WAYLAND_DISPLAY` names a Wayland compositor, `DISPLAY` an X server, which
 *   may be one within Wayland; GNOME's sees all of its clipboard, and its compositor lets nobody else watch
 * @param platform - the system, as Node names it
 * @throws DrawerError `storage` where there is none, it cannot be reached, or a program for it is missing
 */
export async function openClipboard(
  environment: Readonly<Record<string, string | undefined>>,
  platform: string = process.platform,
): Promise<DesktopClipboard> {
  if (platform === 'darwin' || platform === 'win32') {
    const { ScriptedClipboard } = await import('./scripted/scripted-clipboard.ts');
    return ScriptedClipboard.open(
      platform === 'darwin'
        ? (await import('./scripted/macos.ts')).macos
        : (await import('./scripted/windows.ts')).windows,
    );
  }
  const { DISPLAY: display, WAYLAND_DISPLAY: compositor, XDG_CURRENT_DESKTOP: desktop = '' } = environment;
  if (compositor && !(display && /gnome/i.test(desktop))) {
    const { WaylandClipboard } = await import('./wayland/wayland-clipboard.ts');
    const clipboard = await WaylandClipboard.open(environment);
    if (clipboard) return clipboard;
  }
  if (!display) throw new DrawerError('storage/clipboard-none');
  const { X11Clipboard } = await import('./x11/x11-clipboard.ts');
  return X11Clipboard.open(display);
}
