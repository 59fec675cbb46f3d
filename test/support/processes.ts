import { spawn } from 'node:child_process';
import { resolve } from 'node:path';

const library = resolve(import.meta.dirname, '../../dist');

/** A process that runs `script` after a line of the shell; it sees `drawer` (open), `keep(text)` and `say(line)`. */
export function inProcess(path: string, script: string, before = ':') {
  const prelude = `
    import { openDrawer } from ${JSON.stringify(`${library}/node/index.js`)};
    const say = (line) => process.stdout.write(line + '\\n');
    const drawer = await openDrawer(${JSON.stringify(path)});
    const keep = (text) => drawer.keep([{ content: { shape: 'run', inlines: [{ type: 'text', text }] }, origin: { file: 'a' } }]);`;
  const child = spawn(
    'sh',
    ['-c', `${before}; exec "$0" --input-type=module -e "$1"`, process.execPath, `${prelude}\n${script}`],
    { env: process.env },
  );
  const lines: string[] = [];
  let errors = '';
  let rest = '';
  child.stdout.on('data', (chunk: Buffer) => {
    const parts = (rest + chunk).split('\n');
    rest = parts.pop() ?? '';
    lines.push(...parts);
  });
  child.stderr.on('data', (chunk: Buffer) => {
    errors += chunk;
  });
  const ended = new Promise<number | null>((done) => child.on('close', done));
  return { child, lines, ended, errors: () => errors };
}
