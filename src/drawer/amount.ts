/** A number as people write it, its thousands parted or not; the source of a regular expression. */
export const amount = '[+\\-−]?(?:\\d{1,3}(?:[ ,.\\u00a0\\u202f]\\d{3})+|\\d{1,15})(?:[.,]\\d{1,10})?';
export const isNumber = new RegExp(`^${amount}$`);
