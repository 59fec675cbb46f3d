// Installs the system's Chromium, X server and NATS server for the tests where they are missing and it can be done: on Debian
// and its kin, as root.
import { spawnSync } from 'node:child_process';
import { findChromium } from './chromium.mjs';

const starts = (program, ...words) => spawnSync(program, words, { stdio: 'ignore' }).error === undefined;
const findMissing = () => [
  ...(findChromium() ? [] : ['chromium']),
  ...(starts('Xvfb', '-help') ? [] : ['xvfb']),
  ...(starts('nats-server', '--version') ? [] : ['nats-server']),
];
const missing = findMissing();
if (missing.length > 0) {
  console.log(`Missing: ${missing.join(', ')}; installing the system’s packages …`);
  const isRoot = process.getuid?.() === 0;
  const install = (...words) =>
    spawnSync(isRoot ? words[0] : 'sudo', isRoot ? words.slice(1) : ['-n', ...words], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    }).status === 0;
  const done =
    install('apt-get', 'update') && install('apt-get', 'install', '-y', '--no-install-recommends', ...missing);
  if (!done || findMissing().length > 0) {
    console.error(
      'It could not be installed. Install your system’s packages "chromium" (or set CHROMIUM to a browser’s path), "xvfb" and "nats-server", and run the tests again.',
    );
    process.exit(1);
  }
}
