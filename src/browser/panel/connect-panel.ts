import { type Connected, connect } from '../../host/connect/index.ts';
import type { DrawerPanel } from './panel.ts';

/** Connects to a served drawer. The panel asks for its passphrase, and says when the connection is lost and when it is back. */
export function connectPanel(panel: DrawerPanel, url: string | URL): Promise<Connected> {
  let isLost = false;
  return connect(url, {
    passphraseFor: (problem) => panel.dialogs.passphrase(problem),
    onConnection: (isConnected) => {
      if (isLost || !isConnected) panel.say(panel.words.say(isConnected ? 'connectionBack' : 'connectionLost'));
      isLost = !isConnected;
      panel.toggleAttribute('disconnected', isLost);
    },
  });
}
