// Installs the system's Chromium for the tests when there is none and it can be done: on Debian and its kin, as root.
import { spawnSync } from 'node:child_process';
import { findChromium } from './chromium.mjs';

if (!findChromium()) {
  console.log('Chromium is missing; installing the system’s package …');
  const isRoot = process.getuid?.() === 0;
  const install = (...words) =>
    spawnSync(isRoot ? words[0] : 'sudo', isRoot ? words.slice(1) : ['-n', ...words], {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    }).status === 0;
  const done =
    install('apt-get', 'update') && install('apt-get', 'install', '-y', '--no-install-recommends', 'chromium');
  if (!done || !findChromium()) {
    console.error(
      'It could not be installed. Install your system’s package "chromium", or set CHROMIUM to a browser’s path, and run the tests again.',
    );
    process.exit(1);
  }
}
