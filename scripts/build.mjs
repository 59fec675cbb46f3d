// Builds the library (one module a source file) and the command (bundled, one chunk a command).
import { execFileSync } from 'node:child_process';
import { chmodSync, existsSync, rmSync } from 'node:fs';
import { build } from 'esbuild';

rmSync('dist', { recursive: true, force: true });
execFileSync(process.execPath, ['node_modules/typescript/bin/tsc', '-p', 'tsconfig.build.json'], { stdio: 'inherit' });

if (existsSync('src/cli/main.ts')) {
  await build({
    entryPoints: { drawer: 'src/cli/main.ts' },
    outdir: 'dist/bin',
    outExtension: { '.js': '.mjs' },
    chunkNames: 'chunks/[name]-[hash]',
    bundle: true,
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    legalComments: 'none',
    external: ['libsql'], // has a native part, which cannot be bundled
    banner: {
      js: "import { createRequire as __createRequire } from 'node:module';\nconst require = __createRequire(import.meta.url);\nconst __filename = import.meta.filename;",
    },
  });
  chmodSync('dist/bin/drawer.mjs', 0o755);
}
