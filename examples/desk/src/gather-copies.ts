import type { DrawerPanel } from 'drawer/browser';
import type { ConnectedClipboard } from 'drawer/connect';
import { element } from './element.ts';
import type { Say } from './words/index.ts';

/** The switch by which what is copied in any program is gathered; it is shown where the desktop's clipboard can be reached. */
export async function offerGathering(clipboard: ConnectedClipboard, panel: DrawerPanel, say: Say): Promise<void> {
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
  } catch {
    // There is none here; the command `drawer copy clipboard:` says why.
  }
}
