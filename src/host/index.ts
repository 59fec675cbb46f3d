/**
 * Serving a drawer: to clients that `connectDrawer` makes, and, with its desk and files, to one person's browsers. On Node.
 * @packageDocumentation
 */
export * from './connect/index.ts';
export { deskClipboard, type HostClipboard } from './desk-clipboard.ts';
export { type DeskReach, deskFiles } from './desk-files.ts';
export { type DeskOptions, type ServedDesk, serveDesk } from './desk-server.ts';
export { DrawerHost, type HostOptions, type ServerSocket } from './serve.ts';
