// Builds the library (one module a source file) and the command (a small start, and parts that it loads when it needs them:
// CommonJS, which Node 20 starts sooner than modules).
import { execFileSync } from 'node:child_process';
import { chmodSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { build } from 'rolldown';

rmSync('dist', { recursive: true, force: true });
execFileSync(process.execPath, ['node_modules/typescript/bin/tsc', '-p', 'tsconfig.build.json'], { stdio: 'inherit' });

const { version } = JSON.parse(readFileSync('package.json', 'utf8'));
await build({
  // The command, and the program that holds a clipboard for it.
  input: { drawer: 'src/cli/main.ts', 'hold-clipboard': 'src/cli/hold-clipboard.ts' },
  platform: 'node',
  // Some packages' CommonJS hides what it needs from a bundler.
  resolve: { mainFields: ['module', 'main'] },
  // The parts of libsql in machine code lie beside it; ws does without the other two.
  external: ['libsql', 'bufferutil', 'utf-8-validate'],
  transform: { target: 'node20', define: { 'process.env.DRAWER_VERSION': JSON.stringify(version) } },
  output: {
    dir: 'dist/bin',
    format: 'cjs',
    entryFileNames: '[name].cjs',
    chunkFileNames: '[name].cjs',
    comments: false,
    // Names stay, so that a report of a fault can be read.
    minify: { compress: true, mangle: false, codegen: true },
  },
});
// The desk that the command serves.
execFileSync('npx', ['vite', 'build', '--mode', 'served', '--logLevel', 'warn'], {
  cwd: 'examples/desk',
  stdio: 'inherit',
  env: { ...process.env, NODE_ENV: 'production' },
});
writeFileSync('dist/bin/package.json', '{ "type": "commonjs" }\n'); // spares Node a look at the whole package's
chmodSync('dist/bin/drawer.cjs', 0o755);
