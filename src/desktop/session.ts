import { DrawerError } from '../content/index.ts';
import type { DesktopClipboard } from './clipboard.ts';

/**
 * The clipboard of the session that the program runs in.
 * @param environment - the variables of the session: `DISPLAY` names an X server, also within Wayland
 * @throws DrawerError `storage` where there is none, or it cannot be reached
 */
export async function openClipboard(
  environment: Readonly<Record<string, string | undefined>>,
): Promise<DesktopClipboard> {
  const display = environment.DISPLAY;
  if (display === undefined || display === '') throw new DrawerError('storage/clipboard-none');
  const { X11Clipboard } = await import('./x11/x11-clipboard.ts');
  return X11Clipboard.open(display);
}
