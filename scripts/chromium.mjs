// Where Chromium is, for tests and for drawing.
import { existsSync } from 'node:fs';

const candidates = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

/** The browser's path: the variable CHROMIUM, or the first that is installed; undefined when none is. */
export const findChromium = () => [process.env.CHROMIUM, ...candidates].find((path) => path && existsSync(path));

/** What keeps a headless browser quiet on a machine without a display or a network. */
export const browserArguments = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

export function chromiumPath() {
  const path = findChromium();
  if (!path)
    throw new Error('Chromium is not installed: install your system’s package "chromium", or set CHROMIUM to its path');
  return path;
}
