// Builds the guides and the reference of the library from its docstrings, as pages in reference/; with --check it only looks
// that every exported name has a docstring.
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { basename, join, resolve } from 'node:path';
import { Extractor, ExtractorConfig } from '@microsoft/api-extractor';
import { micromark } from 'micromark';
import { gfm, gfmHtml } from 'micromark-extension-gfm';

const checkOnly = process.argv.includes('--check');
const { exports: entries } = JSON.parse(readFileSync('package.json', 'utf8'));
const scratch = mkdtempSync(join(tmpdir(), 'drawer-reference-'));
const models = join(scratch, 'models');
mkdirSync(models);

const silent = { default: { logLevel: 'none' } };
const compilerOptions = {
  target: 'es2022',
  lib: ['es2023', 'esnext.disposable', 'dom', 'dom.iterable'],
  module: 'nodenext',
  moduleResolution: 'nodenext',
  types: ['node'],
  skipLibCheck: true,
};

/** Those that render a model allow no slash in its name. */
const modelName = (entry) => ['drawer', ...entry.split('/').slice(1)].join('-');

/** Describes what an entry exports, as a model of its own: those that render it know one entry in a package. */
function describe(entry, types) {
  const name = modelName(entry);
  const file = join(models, `${name}.api.json`);
  const config = ExtractorConfig.prepare({
    configObject: {
      projectFolder: resolve('.'),
      mainEntryPointFilePath: resolve(types),
      compiler: { overrideTsconfig: { compilerOptions, include: [resolve('dist/**/*.d.ts')] } },
      apiReport: { enabled: false, reportFileName: 'none.md' },
      docModel: { enabled: true, apiJsonFilePath: file, includeForgottenExports: entry === '.' }, // there with what its exports are made of
      dtsRollup: { enabled: false },
      tsdocMetadata: { enabled: false },
      messages: {
        extractorMessageReporting: silent,
        tsdocMessageReporting: silent,
        compilerMessageReporting: { default: { logLevel: 'error' } },
      },
    },
    configObjectFullPath: undefined,
    packageJsonFullPath: resolve('package.json'),
  });
  const messageCallback = (message) => {
    if (message.logLevel !== 'error') message.handled = true;
  };
  if (!Extractor.invoke(config, { localBuild: true, messageCallback }).succeeded) process.exit(1);
  const model = readFileSync(file, 'utf8').replaceAll('"drawer!', `"${name}!`);
  writeFileSync(file, model.replace('"name": "drawer"', `"name": "${name}"`));
  const { members } = JSON.parse(model);
  return members
    .flatMap((point) => point.members)
    .filter(({ docComment, canonicalReference }) => !docComment && !canonicalReference.includes('!~')) // exported itself
    .map((member) => `${entry}: ${member.name}`);
}

const shell = (title, body) => `<!doctype html>
<html lang="en-GB">
<head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${title}</title>
<style>
  body { max-width: 60rem; margin: 2rem auto; padding: 0 1rem; font: 1rem/1.5 system-ui, sans-serif; color: #1c2a31; background: #fff; }
  table { border-collapse: collapse; width: 100%; } th, td { border-bottom: 1px solid #ccd5da; padding: .4rem .6rem; text-align: start; vertical-align: top; }
  :is(th, td) p { margin: 0; }
  pre { background: #f2f5f6; padding: .8rem; overflow: auto; font-size: .85rem; } a { color: #0b5c7a; }
</style></head>
<body>
${body}
</body></html>
`;

/** Entries by the names that they are imported by: `drawer/formats/html-fragment`. */
const importedNames = new Map(Object.keys(entries).map((entry) => [modelName(entry), entry.replace('.', 'drawer')]));
const asImported = (words) => words.replaceAll(/\bdrawer(?:-[a-z]+)+\b/g, (name) => importedNames.get(name) ?? name);

/** A page from Markdown, whose links lead to pages too. */
function page(markdown) {
  const body = micromark(markdown, {
    extensions: [gfm()],
    htmlExtensions: [gfmHtml()],
    allowDangerousHtml: true, // the tables, and comments by whoever made them
  });
  const title = /^##? (.*)$/m.exec(markdown)?.[1].replaceAll('\\', '') ?? 'Drawer';
  const linked = body.replaceAll(/(href="(?!\w+:)[^"#]+)\.md(?=["#])/g, '$1.html');
  return shell(asImported(title), linked.replaceAll(/>[^<]+</g, asImported));
}

/** All pages of documentation; those to begin with stand first. */
const guides = [
  ...new Set(['concepts.md', 'embedding.md', 'recipes.md', 'editors.md', 'storage.md', ...readdirSync('docs')]),
].filter((name) => name.endsWith('.md'));
const guideList = () =>
  `# Drawer\n\n## Guides\n\n${guides
    .map((name) => `- [${/^# (.*)$/m.exec(readFileSync(join('docs', name), 'utf8'))?.[1]}](./${name})`)
    .join('\n')}\n\n`;

try {
  const gaps = Object.entries(entries).flatMap(([entry, { types, default: code }]) =>
    code === undefined ? [] : describe(entry, types),
  );
  for (const gap of gaps) console.error(`no docstring: ${gap}`);
  if (gaps.length > 0) process.exitCode = 1;
  else if (checkOnly) console.log('Reference: every exported name has a docstring');
  else {
    const markdown = join(scratch, 'markdown');
    execFileSync('npx', ['api-documenter', 'markdown', '-i', models, '-o', markdown], { stdio: 'ignore' });
    rmSync('reference', { recursive: true, force: true });
    mkdirSync('reference');
    const written = (name, words) => writeFileSync(join('reference', `${basename(name, '.md')}.html`), page(words));
    const pages = readdirSync(markdown);
    for (const name of pages)
      written(name, (name === 'index.md' ? guideList() : '') + readFileSync(join(markdown, name), 'utf8'));
    for (const name of guides) written(name, readFileSync(join('docs', name), 'utf8'));
    console.log(`reference/index.html and ${pages.length + guides.length - 1} other pages`);
  }
} finally {
  rmSync(scratch, { recursive: true, force: true });
}
