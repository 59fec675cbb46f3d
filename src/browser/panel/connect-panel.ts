import { type Connected, connect } from '../../host/connect/index.ts';
import type { DrawerPanel } from './panel.ts';
import { SourceMarks } from './sources.ts';
import { adoptStyle, renewStyle } from './style/later.ts';

/**
 * Connects to a served drawer and shows it. The panel asks for its passphrase, and says when the connection is lost and when it is
 * back. Snippets can be renewed from the files beside it, if there are some.
 */
export async function connectPanel(panel: DrawerPanel, url: string | URL): Promise<Connected> {
  let isLost = false;
  const connected = await connect(url, {
    passphraseFor: (problem) => panel.dialogs.passphrase(problem),
    onConnection: (isConnected) => {
      if (isLost || !isConnected) panel.say(panel.words.say(isConnected ? 'connectionBack' : 'connectionLost'));
      isLost = !isConnected;
      panel.toggleAttribute('disconnected', isLost);
    },
  });
  const { drawer, files } = connected;
  panel.drawer = drawer;
  const offer = (): void => {
    if (panel.drawer !== drawer) return;
    panel.sources = new SourceMarks(panel, files);
    adoptStyle(panel.renderRoot, renewStyle);
    panel.requestUpdate();
  };
  void files.facts().then(offer, () => {}); // a host may serve no files
  return connected;
}
