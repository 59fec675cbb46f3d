// Measures the clipboard of an X server and writes docs/performance-clipboard.md: from a copy until it is kept, beside what
// reading it takes alone; what waiting costs; the largest transfer. Node starts it: npm run bench:clipboard. Needs Xvfb.

import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { cpus, tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { setTimeout as pass } from 'node:timers/promises';
import { openClipboard } from '../dist/desktop/index.js';

const root = resolve(import.meta.dirname, '..');
const copies = 100;
const waits = 20_000;
const scratch = mkdtempSync(join(tmpdir(), 'drawer-clipboard-'));
const share = (values, part) => values.toSorted((one, other) => one - other)[Math.ceil(values.length * part) - 1] ?? 0;
const ms = (value) => `${value.toFixed(1)} ms`;

const xvfb = spawn('Xvfb', ['-displayfd', '3', '-noreset', '-screen', '0', '800x600x24', '-nolisten', 'tcp'], {
  stdio: ['ignore', 'ignore', 'ignore', 'pipe'],
});
const display = await new Promise((told) => xvfb.stdio[3].on('data', (number) => told(`:${String(number).trim()}`)));
const environment = { ...process.env, DISPLAY: display, WAYLAND_DISPLAY: '' };
const program = await openClipboard(environment);
const reader = await openClipboard(environment);

/** A paragraph as an office program copies it: a page and words. */
const paragraph = (number) =>
  new Map([
    [
      'text/html',
      Buffer.from(`<p>Crossing ${number}: <b>two hours</b> at the slip. ${'The ferry waits. '.repeat(40)}</p>`),
    ],
    ['UTF8_STRING', Buffer.from(`Crossing ${number}`)],
  ]);

/** Of a process: seconds of processor so far, and MB of memory (proc(5)). */
function costs({ pid }) {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8')
    .replace(/^.*\) /, '')
    .split(' ');
  const memory = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1];
  return { seconds: (Number(fields[11]) + Number(fields[12])) / 100, memory: Number(memory) / 1024 };
}
const mb = ({ memory }) => `${memory.toFixed(0)} MB`;

try {
  const floor = [];
  for (let copy = 0; copy < copies; copy++) {
    await program.offer({ forms: paragraph(copy) });
    const from = performance.now();
    await (await reader.copied()).read('text/html');
    floor.push(performance.now() - from);
  }

  const follower = spawn(
    process.execPath,
    [join(root, 'dist/bin/drawer.cjs'), 'copy', 'clipboard:', '--follow', '--drawer', join(scratch, 'bench.drawer')],
    { env: environment },
  );
  let told = '';
  let hear = () => {};
  for (const stream of [follower.stdout, follower.stderr])
    stream.on('data', (words) => {
      told += words;
      hear();
    });
  const until = async (words) => {
    while (!told.includes(words))
      await new Promise((next) => {
        hear = next;
      });
  };
  await until('Gathering');
  const idle = spawn(process.execPath, ['-e', 'setInterval(() => {}, 1e9)']);
  await pass(2_000);
  const before = costs(follower);
  await pass(waits);
  const after = costs(follower);
  const kept = [];
  for (let copy = 1; copy <= copies; copy++) {
    const from = performance.now();
    await program.offer({ forms: paragraph(copy) });
    await until(`Kept as ${copy}:`);
    kept.push(performance.now() - from);
  }
  const afterCopies = costs(follower);
  follower.kill('SIGINT');

  const largest = 60 * 2 ** 20;
  await program.offer({ forms: new Map([['image/png', Buffer.alloc(largest, 'ferry ')]]) });
  const from = performance.now();
  const read = await (await reader.copied()).read('image/png');
  const took = performance.now() - from;
  if (read.length !== largest) throw new Error('the largest transfer is not whole');

  const rows = [
    ['reading a copied paragraph, nothing else: median', ms(share(floor, 0.5)), '–'],
    [
      'from the copy until it is kept, and said: median',
      ms(share(kept, 0.5)),
      `${(share(kept, 0.5) / share(floor, 0.5)).toFixed(0)} times reading it`,
    ],
    ['the same, 95th percentile', ms(share(kept, 0.95)), '–'],
    [
      'waiting: share of a core',
      `${(((after.seconds - before.seconds) / waits) * 100_000).toFixed(2)} %`,
      'at most 1 %',
    ],
    ['waiting: memory', mb(after), `Node that does nothing: ${mb(costs(idle))}`],
    [`memory after ${copies} copies`, mb(afterCopies), '–'],
    [
      'the largest transfer read',
      `${largest / 2 ** 20} MB in ${(took / 1000).toFixed(1)} s`,
      'more than 64 MB is not read',
    ],
  ];
  idle.kill();
  for (const row of rows) console.log(row.join(' | '));
  writeFileSync(
    join(root, 'docs/performance-clipboard.md'),
    `# The clipboard of the desktop: how fast

Made by \`npm run bench:clipboard\` on an X server without a screen, ${cpus().length} cores, a shared and noisy machine. ${copies} copies of a paragraph, one
after another; each is kept by \`drawer copy clipboard: --follow\`, in a drawer on the disk.

| what | figure | beside |
| --- | ---: | --- |
${rows.map((row) => `| ${row.join(' | ')} |`).join('\n')}
`,
  );
} finally {
  await program.close();
  await reader.close();
  xvfb.kill();
  rmSync(scratch, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 });
}
