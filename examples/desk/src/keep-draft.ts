import { openDB } from 'idb';

/** The draft outlives the tab: it is kept in the browser beside the drawer. */
const database = openDB('writing-desk-draft', 1, { upgrade: (db) => void db.createObjectStore('draft') });

export const loadDraft = async (): Promise<string> =>
  ((await (await database).get('draft', 'html')) as string | undefined) ?? '';

export const saveDraft = async (html: string): Promise<void> =>
  void (await (await database).put('draft', html, 'html'));
