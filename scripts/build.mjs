// Builds the library (one module a source file) and the command (a small start, and a file for each part that it loads
// when it is needed: CommonJS, which Node 20 starts sooner than modules).
import { execFileSync } from 'node:child_process';
import { chmodSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, relative, resolve } from 'node:path';
import { build } from 'esbuild';

rmSync('dist', { recursive: true, force: true });
execFileSync(process.execPath, ['node_modules/typescript/bin/tsc', '-p', 'tsconfig.build.json'], { stdio: 'inherit' });

const { version } = JSON.parse(readFileSync('package.json', 'utf8'));
const nameOf = (source) => relative('src', source).replace(/\.ts$/, '').replaceAll('/', '-');

/** The command, the program that holds a clipboard for it; whatever is imported by `import()` becomes a file beside the one that imports it. */
const waiting = [resolve('src/cli/main.ts'), resolve('src/cli/hold-clipboard.ts')];
const partsLoadedLater = {
  name: 'parts loaded later',
  setup({ onResolve }) {
    onResolve({ filter: /^\.{1,2}\// }, ({ kind, path, resolveDir }) => {
      if (kind !== 'dynamic-import') return undefined;
      const source = resolve(resolveDir, path);
      if (!waiting.includes(source)) waiting.push(source);
      return { path: `./${nameOf(source)}.cjs`, external: true };
    });
  },
};

for (let next = 0; next < waiting.length; next++) {
  const source = waiting[next];
  await build({
    entryPoints: [source],
    outfile: `dist/bin/${next === 0 ? 'drawer' : nameOf(source)}.cjs`,
    absWorkingDir: dirname(resolve('package.json')),
    bundle: true,
    format: 'cjs',
    platform: 'node',
    target: 'node20',
    mainFields: ['module', 'main'], // some packages' CommonJS hides what it needs from a bundler
    supported: { 'dynamic-import': false }, // so that it becomes `require`
    define: { 'process.env.DRAWER_VERSION': JSON.stringify(version) },
    legalComments: 'none',
    minifySyntax: true,
    minifyWhitespace: true,
    external: ['libsql', 'bufferutil', 'utf-8-validate'], // native parts lie beside them; ws does without the last two
    plugins: [partsLoadedLater],
  });
}
// The desk that the command serves.
execFileSync('npx', ['vite', 'build', '--mode', 'served', '--logLevel', 'warn'], {
  cwd: 'examples/desk',
  stdio: 'inherit',
  env: { ...process.env, NODE_ENV: 'production' },
});
writeFileSync('dist/bin/package.json', '{ "type": "commonjs" }\n'); // spares Node a look at the whole package's
chmodSync('dist/bin/drawer.cjs', 0o755);
