/** Waits until somebody stops the command, by Ctrl-C or a request to end. */
export const untilStopped = (): Promise<void> =>
  new Promise((stop) => {
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => stop());
  });
