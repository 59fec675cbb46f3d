// Measures every row beside its floor, in turn and in child processes, and writes docs/performance.md.
import { spawnSync } from 'node:child_process';
import { existsSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import {
  bigDrawer,
  documentFile,
  heavyDrawer,
  longDocument,
  manyLanguages,
  openDocumentFile,
  smallDrawer,
  spreadsheet,
  workbook,
} from './generate.mjs';
import { processes, rows } from './tasks.mjs';

const rounds = Number(process.argv[2] ?? 15);
// Only rows that have these words in their name; the table is written for all of them only.
const only = process.argv[3] ?? '';
const root = join(import.meta.dirname, '..');
const median = (numbers) => numbers.toSorted((one, other) => one - other)[numbers.length >> 1];

/** A library that makes every fsync slower, where there is a compiler to make it. */
function slowFsync() {
  const library = join(import.meta.dirname, 'out/slow-fsync.so');
  const words = ['-shared', '-fPIC', '-o', library, join(import.meta.dirname, 'slow-fsync.c'), '-ldl'];
  return process.platform === 'linux' && spawnSync('cc', words).status === 0 ? library : undefined;
}

function runTask(name, preload) {
  const { status, stdout, stderr } = spawnSync(process.execPath, [join(import.meta.dirname, 'child.mjs'), name], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, ...(preload && { LD_PRELOAD: preload }) },
  });
  if (status !== 0) throw new Error(stderr);
  return JSON.parse(stdout);
}

async function runProcess(name) {
  const words = await processes[name]();
  const start = process.hrtime.bigint();
  const { status, stderr } = spawnSync(process.execPath, words, { cwd: root, encoding: 'utf8' });
  const milliseconds = Number(process.hrtime.bigint() - start) / 1e6;
  if (status !== 0) throw new Error(stderr);
  return { milliseconds };
}

console.log('Making what is measured …');
workbook();
documentFile();
longDocument();
spreadsheet('xlsx');
spreadsheet('ods');
openDocumentFile();
await bigDrawer();
await manyLanguages();
await smallDrawer();
await heavyDrawer();

const figures = [];
for (const row of rows.filter(({ what }) => new RegExp(only).test(what))) {
  if (row.needs && !existsSync(join(root, 'node_modules', row.needs))) {
    console.log(`${row.what}, beside ${row.needs}: not installed (npm i --no-save ${row.needs})`);
    continue;
  }
  const preload = row.slowFsync ? slowFsync() : undefined;
  if (row.slowFsync && !preload) {
    console.log(`${row.what}: no C compiler, or not Linux`);
    continue;
  }
  const run = () => (row.task ? runTask(row.task, preload) : runProcess(row.process));
  const runFloor = () => (row.task ? runTask(row.floor, preload) : runProcess(row.floor));
  if (row.mostRounds !== 1) await run();
  const ours = [];
  const floors = [];
  for (let round = 0; round < Math.min(rounds, row.mostRounds ?? rounds); round++) {
    floors.push(await runFloor());
    ours.push(await run());
  }
  const ratio = median(ours.map(({ milliseconds }, index) => milliseconds / floors[index].milliseconds));
  const memory =
    ours[0].megabytes === undefined ? '–' : `${Math.round(median(ours.map(({ megabytes }) => megabytes)))} MB`;
  const figure = {
    ...row,
    ours: median(ours.map(({ milliseconds }) => milliseconds)),
    floor: median(floors.map(({ milliseconds }) => milliseconds)),
    ratio,
    memory,
  };
  figures.push(figure);
  console.log(
    `${row.what}: ${figure.ours.toFixed(1)} ms, ×${ratio.toFixed(2)} of ${figure.floor.toFixed(0)} ms${row.goal ? ` (at most ×${row.goal})` : ''}`,
  );
}

const inMilliseconds = (time) => (time < 20 ? time.toFixed(1) : time.toFixed(0));
const table = figures.map(
  ({ what, ours, floor, floorSays, ratio, goal, mostMilliseconds, memory }) =>
    `| ${what} | ${inMilliseconds(ours)} ms | ${inMilliseconds(floor)} ms: ${floorSays} | **×${ratio.toFixed(2)}** | ${[...(goal ? [`×${goal}`] : []), ...(mostMilliseconds ? [`${mostMilliseconds} ms`] : [])].join(', ') || '–'} | ${memory} |`,
);
if (only === '')
  writeFileSync(
    join(root, 'docs/performance.md'),
    `# Performance

Made by \`npm run bench\`: each thing beside the least that must be done for it, in turn, ${rounds} rounds, every run in a fresh
process with loading not counted (but for whole processes, where it is). Figures are medians, the ratio the median of the
ratios within a round; the memory is the process's peak. Node ${process.version}, ${process.platform}, ${cpus().length} cores, a shared and noisy machine: look at
ratios, not at milliseconds.

| what | ours | floor | ratio | at most | peak memory |
| --- | ---: | ---: | ---: | ---: | ---: |
${table.join('\n')}
`,
  );
const missed = figures.filter(
  ({ ratio, goal, ours, mostMilliseconds }) => (goal && ratio > goal) || (mostMilliseconds && ours > mostMilliseconds),
);
for (const { what, ours, ratio } of missed)
  console.error(`Missed: ${what} is ×${ratio.toFixed(2)}, ${ours.toFixed(1)} ms`);
process.exitCode = missed.length > 0 ? 1 : 0;
