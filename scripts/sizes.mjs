// Measures what a page loads before anybody opens a file, minified and gzipped, and fails where it is over its limit: each
// part with what it needs beyond the parts above it, and without what is loaded later by itself.
import { gzipSync } from 'node:zlib';
import { build } from 'vite';

const parts = [
  { name: 'core with drawer', limit: 19, from: 'index.ts', names: ['createDrawer'] },
  { name: 'compose', limit: 13, from: 'index.ts', names: ['compose'] },
  {
    name: 'capture and deliver',
    limit: 12,
    from: 'browser/index.ts',
    names: ['capture', 'deliver', 'followCaret', 'toClipboard'],
  },
  { name: 'panel', limit: 34, from: 'browser/index.ts', names: ['definePanel'] },
];
const page = 'virtual:page';

/** The size of all parts up to one, in bytes, built as somebody's page is: what is reached without `import()`. */
async function sizeOf(chosen) {
  const code = chosen
    .map(({ from, names }) => `export { ${names.join(', ')} } from '${process.cwd()}/src/${from}';`)
    .join('\n');
  const { output } = await build({
    configFile: false,
    logLevel: 'error',
    plugins: [
      {
        name: 'page',
        resolveId: (id) => (id === page ? id : undefined),
        load: (id) => (id === page ? code : undefined),
      },
    ],
    build: {
      write: false,
      target: 'es2023',
      minify: true,
      modulePreload: false,
      rollupOptions: { input: page, preserveEntrySignatures: 'strict', output: { format: 'es' } },
    },
  });
  const chunks = new Map(output.filter(({ type }) => type === 'chunk').map((chunk) => [chunk.fileName, chunk]));
  const reached = new Set();
  const reach = (name) => {
    const chunk = chunks.get(name);
    if (!chunk || reached.has(chunk)) return;
    reached.add(chunk);
    chunk.imports.forEach(reach);
  };
  reach([...chunks.values()].find(({ isEntry }) => isEntry).fileName);
  if (process.argv.includes('--what')) {
    const sizes = [...reached].flatMap(({ modules }) =>
      Object.entries(modules).map(([id, { renderedLength }]) => [id.replace(`${process.cwd()}/`, ''), renderedLength]),
    );
    console.log(
      sizes
        .sort((one, other) => other[1] - one[1])
        .slice(0, 60)
        .map(([id, length]) => `${length} ${id}`)
        .join('\n'),
    );
  }
  return gzipSync([...reached].map((chunk) => chunk.code).join('\n'), { level: 9 }).length;
}

let before = 0;
for (const [index, part] of parts.entries()) {
  const size = await sizeOf(parts.slice(0, index + 1));
  const own = (size - before) / 1000;
  before = size;
  const isOver = own > part.limit;
  if (isOver) process.exitCode = 1;
  console.log(`${part.name}: ${own.toFixed(1)} kB of ${part.limit} kB${isOver ? ': too large' : ''}`);
}
