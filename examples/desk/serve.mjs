// `npm run desk`: the command's own desk on a copy of the demo files, its page rebuilt when a source changes. Further words go
// to `drawer desk`, such as --no-open.
import { spawn } from 'node:child_process';
import { cpSync, mkdirSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';

const here = import.meta.dirname;
const work = join(here, 'work');
const command = resolve(here, '../../dist/bin/drawer.cjs');
const vite = resolve(here, '../../node_modules/vite/bin/vite.js');

rmSync(work, { recursive: true, force: true });
mkdirSync(work);
cpSync(resolve(here, '../demo/files'), work, { recursive: true });

const building = spawn(process.execPath, [vite, 'build', '--mode', 'served', '--watch', '--logLevel', 'warn'], {
  cwd: here,
  stdio: ['ignore', 'pipe', 'inherit'],
  env: { ...process.env, NODE_ENV: 'production' },
});
const words = ['desk', '--stay', 'survey.docx', 'costs.xlsx', 'letters.html', ...process.argv.slice(2)];
const desk = spawn(process.execPath, [command, ...words], {
  cwd: work,
  stdio: 'inherit',
  env: { ...process.env, DRAWER: join(work, 'demo.drawer') },
});
desk.on('close', (code) => {
  building.kill();
  process.exitCode = code ?? 0;
});
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => desk.kill(signal));
