// Runs one task once and tells how long it took and how much memory the process came to.
import { existsSync, readFileSync } from 'node:fs';
import { tasks } from './tasks.mjs';

const { prepare, expected } = tasks[process.argv[2]];
const work = await prepare();
const start = performance.now();
const answer = await work();
const whole = performance.now() - start;
// Works that are many small ones tell their own figure.
const { result, milliseconds } = typeof answer === 'object' ? answer : { result: answer, milliseconds: whole };
if (result !== expected) throw new Error(`${process.argv[2]} gave ${result}, not ${expected}`);
console.log(JSON.stringify({ milliseconds, megabytes: peak() / 1024 }));
process.exit(); // whatever is open still

/** Of this process alone, in KB: Linux counts that of the one that started it into `maxRSS`. */
function peak() {
  const status = existsSync('/proc/self/status') ? readFileSync('/proc/self/status', 'utf8') : '';
  return Number(/^VmHWM:\s*(\d+) kB/m.exec(status)?.[1] ?? process.resourceUsage().maxRSS);
}
