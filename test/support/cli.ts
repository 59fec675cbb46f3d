import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';

export const demoFiles = resolve(import.meta.dirname, '../../examples/demo/files');
/** A demo file of each format, by the format's name. */
export const demoFileOf: Readonly<Record<string, string>> = {
  docx: 'survey.docx',
  odt: 'history.odt',
  xlsx: 'costs.xlsx',
  ods: 'crew.ods',
  html: 'letters.html',
  markdown: 'log.md',
  text: 'log.md',
  csv: 'sailings.csv',
  picture: 'ferry.png',
};
/** The built command. */
export const command = resolve(import.meta.dirname, '../../dist/bin/drawer.cjs');

export interface Ran {
  readonly code: number | null;
  readonly out: string;
  readonly err: string;
}

/** A folder of its own, with a drawer of its own, and the command run in it as a process. */
export interface Workplace {
  readonly folder: string;
  readonly drawer: string;
  /** The demo file of that name. */
  demo(name: string): string;
  path(name: string): string;
  run(...words: string[]): Promise<Ran>;
  remove(): void;
}

export function workplace(): Workplace {
  const folder = mkdtempSync(join(tmpdir(), 'drawer-test-'));
  const drawer = join(folder, 'own.drawer');
  return {
    folder,
    drawer,
    demo: (name) => join(demoFiles, name),
    path: (name) => join(folder, name),
    run: (...words) => runCommand(words, { cwd: folder, DRAWER: drawer }),
    remove: () => rmSync(folder, { recursive: true, force: true }),
  };
}

export function runCommand(words: readonly string[], { cwd, ...environment }: Record<string, string>): Promise<Ran> {
  return new Promise((resolveRun, reject) => {
    const child = spawn(process.execPath, [command, ...words], {
      cwd,
      env: { ...process.env, COLUMNS: '100', ...environment },
    });
    const ran = { out: '', err: '' };
    child.stdout.on('data', (chunk: Buffer) => {
      ran.out += chunk;
    });
    child.stderr.on('data', (chunk: Buffer) => {
      ran.err += chunk;
    });
    child.on('error', reject);
    child.on('close', (code) => resolveRun({ code, ...ran }));
  });
}
