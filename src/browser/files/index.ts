/**
 * Chosen and dropped files in a browser. Nothing here touches a document, so a worker can import it.
 * @packageDocumentation
 */
export * from './gather-file.ts';
