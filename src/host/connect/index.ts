/**
 * A drawer behind a connection: the same calls as of one in the page, over a WebSocket. Runs in a page, a worker and Node.
 * @packageDocumentation
 */
export {
  type Connected,
  type ConnectedClipboard,
  type ConnectOptions,
  connect,
  connectDrawer,
  type PassphraseFor,
} from './connect.ts';
export type { CopyTold, DeskClipboard, DeskFacts, DeskFile, DeskFiles, DeskFolder } from './protocol.ts';
