export type ActionColumn = 'name' | 'changes' | 'files';

/** Where each sealed value belongs: its table, column and row. */
export const places = {
  head: (id: string): string => `snippet.head:${id}`,
  content: (id: string): string => `snippet.content:${id}`,
  action: (column: ActionColumn, number: number): string => `action.${column}:${number}`,
  media: (hash: string): string => `media.bytes:${hash}`,
  settings: (name: string): string => `settings.value:${name}`,
} as const;
