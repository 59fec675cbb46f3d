/** How long to wait for another process that is writing, in milliseconds. */
export const patience = 5_000;
