import type { DrawerChange, Message, Note } from 'drawer';
import { english, Words } from 'drawer/messages';

/** What is said in English. */
export const words = await new Words(english).load();

export const noteInWords = (note: Note): string => words.note(note);
export const inWords = (message: Message | undefined): string => words.part(message);
/** What an action did. */
export const did = (change: DrawerChange | undefined): string | undefined => change && words.action(change.action.name);
