import { closeSync, existsSync, mkdirSync, openSync } from 'node:fs';
import { dirname } from 'node:path';
import { finishRescue } from './replace-damaged.ts';

/** SQLite would make the file readable by all; its journals take the file's own rights. */
export function createFile(path: string): void {
  if (existsSync(path) || finishRescue(path)) return;
  mkdirSync(dirname(path), { recursive: true, mode: 0o700 });
  closeSync(openSync(path, 'a', 0o600));
}
