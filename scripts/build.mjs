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

/** Whatever is imported by `import()` becomes a file of its own beside the one that imports it. */
const waiting = [resolve('src/cli/main.ts')];
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

/** Text of a package with one passage put in another's place; the build fails when a new version words it otherwise. */
function replaced(path, passage, replacement) {
  const text = readFileSync(path, 'utf8');
  if (!passage.test(text)) throw new Error(`${path} no longer has ${passage}`);
  return { contents: text.replace(passage, replacement) };
}

/**
 * The database package's JavaScript is bundled; its native part is required from where the package lies. It tells one C
 * library from another by a report on the whole process, which takes longer than opening a drawer: `detect-libc`, which
 * it has loaded already, knows.
 */
const database = {
  name: 'database',
  setup({ onLoad }) {
    onLoad({ filter: /node_modules\/libsql\/index\.js$/ }, ({ path }) =>
      replaced(
        path,
        /return require\(`@libsql\/\$\{target\}`\);/,
        "const own = 'libsql';\n  return require(require.resolve(`@libsql/${target}`, { paths: [require.resolve(own)] }));",
      ),
    );
    onLoad({ filter: /node_modules\/@neon-rs\/load\/dist\/index\.js$/ }, ({ path }) =>
      replaced(
        path,
        /function isGlibc\(\) \{[\s\S]*?\n\}/,
        "function isGlibc() { return require('detect-libc').familySync() === 'glibc'; }",
      ),
    );
    // Files tell it nearly everywhere; what starts other programs is loaded only where they do not.
    onLoad({ filter: /detect-libc\/lib\/detect-libc\.js$/ }, ({ path }) =>
      replaced(
        path,
        /const childProcess = require\('child_process'\);/,
        "const childProcess = { execSync: (...all) => require('child_process').execSync(...all) };",
      ),
    );
  },
};

/** The package that reads arguments could start other programs, which ours never asks of it: what does that is not loaded. */
const programArguments = {
  name: 'program arguments',
  setup({ onLoad }) {
    onLoad({ filter: /node_modules\/commander\/lib\/command\.js$/ }, ({ path }) =>
      replaced(path, /const childProcess = require\('node:child_process'\);/, 'const childProcess = undefined;'),
    );
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
    plugins: [partsLoadedLater, database, programArguments],
  });
}
writeFileSync('dist/bin/package.json', '{ "type": "commonjs" }\n'); // spares Node a look at the whole package's
chmodSync('dist/bin/drawer.cjs', 0o755);
