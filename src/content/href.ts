/** Schemes that cannot run anything, and names within the document. */
export const safeHref = /^(?:https?:\/\/|mailto:|tel:|ftp:\/\/|#)[^\u0000-\u0020]*$/i;

/** Whether an address may stand in a link: it can run nothing. */
export const isSafeHref = (address: string): boolean => address.length <= 8192 && safeHref.test(address);
