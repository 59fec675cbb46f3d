import { type Content, contentSchema, parseWith } from '../content/index.ts';
import {
  type DesktopClipboard,
  type FollowedCopies,
  followCopies,
  offeringOf,
  openClipboard,
  secretStays,
} from '../desktop/index.ts';
import type { Drawer } from '../drawer/index.ts';
import { gatheredFrom, nodeTools } from '../node/index.ts';
import type { CopyTold, DeskClipboard } from './connect/protocol.ts';

/** The clipboard of the desktop for a desk, until it is closed. */
export interface HostClipboard extends DeskClipboard {
  close(): Promise<void>;
}

/**
 * Gathers what is copied in any program while a desk wants it.
 * @param environment - the variables of the session that the desk runs in
 * @param isOwn - whether a page is the desk: what is copied there is kept by it
 * @param tell - hears what comes of it, for all windows
 */
export function deskClipboard(
  environment: Readonly<Record<string, string | undefined>>,
  isOwn: (url: string) => boolean,
  drawer: Drawer,
  tell: (told: CopyTold) => void,
): HostClipboard {
  let clipboard: Promise<DesktopClipboard> | undefined;
  let followed: FollowedCopies | undefined;
  const opened = (): Promise<DesktopClipboard> => {
    if (clipboard) return clipboard;
    clipboard = openClipboard(environment);
    const forget = async (): Promise<void> => {
      clipboard = undefined;
      await turn(false);
    };
    // The desktop may end before the desk does.
    clipboard.then(({ ended }) => ended.then(forget), forget);
    return clipboard;
  };
  const stop = async (): Promise<void> => {
    const ending = followed;
    followed = undefined;
    await ending?.stop();
  };
  const turn = async (isOn: boolean): Promise<void> => {
    if (isOn === (followed !== undefined)) return;
    if (isOn) {
      followed = await followCopies(
        await opened(),
        {
          keep: async (taken) => {
            if (taken.url !== undefined && isOwn(taken.url)) return;
            tell({ kind: 'kept', results: await drawer.keep(gatheredFrom(taken.file ?? '', taken)) });
          },
          passedOver: (problem) => tell({ kind: 'passedOver', problem }),
        },
        nodeTools,
      );
      followed.failed.catch(() => turn(false));
    } else await stop();
    tell({ kind: 'gathering', isOn });
  };
  let turning = Promise.resolve();
  return {
    gathers: async () => {
      await opened();
      return followed !== undefined;
    },
    gather: (isOn) => {
      turning = turning.catch(() => {}).then(() => turn(isOn === true));
      return turning;
    },
    offer: async (content, media, isSecret) => {
      const desktop = await opened();
      // Elsewhere the browser has more forms there, or the keyboard would go from it.
      if (desktop.system !== 'X11') return false;
      const checked: Content = parseWith(contentSchema, content, 'content');
      const offer = await desktop.offer(await offeringOf(checked, media, { isSecret }));
      if (isSecret) setTimeout(() => offer.end(), secretStays).unref();
      return true;
    },
    close: async () => {
      await turning.catch(() => {});
      await stop();
      await (await clipboard?.catch(() => undefined))?.close();
    },
  };
}
