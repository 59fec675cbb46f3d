/** The last moment that ISO 8601 writes with four figures for the year. */
const last = Date.UTC(9999, 11, 31, 23, 59, 59);

/** So many seconds later, as ISO 8601 in UTC; what is further away than dates go is the last of them. */
export const momentAfter = (now: Date, seconds: number): string =>
  new Date(Math.min(last, now.getTime() + seconds * 1000)).toISOString();
