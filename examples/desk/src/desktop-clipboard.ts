import { type DrawerPanel, toClipboard } from 'drawer/browser';
import type { ConnectedClipboard } from 'drawer/connect';
import { element } from './element.ts';
import type { Say } from './words/index.ts';

/**
 * Where the desktop's clipboard can be reached: the switch by which what is copied in any program is gathered; and what is copied
 * here goes there in every form.
 */
export async function useDesktopClipboard(clipboard: ConnectedClipboard, panel: DrawerPanel, say: Say): Promise<void> {
  const button = element('gather', HTMLButtonElement);
  const show = (isOn: boolean): void => button.setAttribute('aria-checked', String(isOn));
  clipboard.watch((told) => {
    if (told.kind === 'gathering') {
      show(told.isOn);
      panel.say(say(told.isOn ? 'gathering' : 'gatheringNot'));
    } else if (told.kind === 'kept') panel.say(told.results.map((each) => panel.words.kept(each)).join('\n'));
    else void panel.attempt(() => Promise.reject(told.problem));
  });
  button.addEventListener('click', () =>
    panel.attempt(() => clipboard.gather(button.getAttribute('aria-checked') !== 'true')),
  );
  try {
    show(await clipboard.gathers());
    button.hidden = false;
    panel.copyHandler = async (content, media, isSecret) => {
      if (!(await clipboard.offer(content, media, isSecret))) await toClipboard(content, media);
    };
  } catch {
    // There is none here; the command `drawer copy clipboard:` says why.
  }
}
