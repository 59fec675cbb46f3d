import type { Media } from '../../content/index.ts';
import { exportSnippets, type Snippet } from '../../drawer/index.ts';

/** Snippets as a file of our own form (`docs/snippets.schema.json`). */
export const exportFile = (snippets: readonly Snippet[], media: Media): Blob =>
  new Blob([JSON.stringify(exportSnippets(snippets, media), null, 2)], { type: 'application/json' });
