// Checks what the compiler does not: room borders, circles of imports, lengths of functions, that nothing reads our own sentences again, and that the
// tables in docs/ made from code are current.
import { execFileSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { parseSync } from '@swc/core';
import { circlesOf, functionLengths } from './source.mjs';

const library = ['content', 'drawer', 'compose', 'places', 'formats', 'storage', 'sync'];
/** What each room may import; a room may always import itself. Files right under src/ are the public entry points. */
const rooms = {
  content: [],
  places: ['content'],
  drawer: ['content'],
  compose: ['content', 'places', 'drawer'],
  formats: ['content', 'places'],
  messages: ['content', 'drawer'],
  storage: ['content', 'drawer'],
  sync: ['content', 'drawer'],
  remote: ['content', 'drawer', 'sync'],
  clipboard: ['content', 'formats'],
  conformance: ['content', 'places', 'drawer', 'formats', 'storage'],
  node: [...library, 'remote'],
  browser: [...library, 'remote', 'clipboard', 'messages', 'host'],
  host: ['content', 'drawer', 'formats', 'node', 'desktop'],
  desktop: ['content', 'places', 'formats', 'clipboard'],
  cli: [...library, 'clipboard', 'messages', 'node', 'host', 'desktop'],
};
/** The pure rooms: no `node:` import, and none of a document, a network, a clock or chance. */
const pure = ['content', 'places', 'drawer', 'compose', 'formats', 'sync'];
const impureNames =
  /\b(?:window|fetch|XMLHttpRequest|localStorage|indexedDB|process|Buffer)\.|\bdocument\.(?:create|query|get|body)|\bDate\.now\(|\bnew Date\(\)|\bMath\.random\(/;

/** Packages that a page never needs, so that a project for one can do without: only what runs on Node imports them. */
const forNode = Object.keys(JSON.parse(readFileSync('package.json', 'utf8')).optionalDependencies);
const runsOnNode = /^(?:cli|desktop|node|storage\/sqlite|host\/(?!connect\/))/;

const src = resolve('src');
const files = readdirSync(src, { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.ts'))
  .map((name) => join(src, name));
const roomOf = (file) => (relative(src, file).includes('/') ? relative(src, file).split('/')[0] : undefined);
const problems = [];
const trees = new Map();
/** The syntax tree of a file, parsed once. */
function parsed(file) {
  const known = trees.get(file);
  if (known) return known;
  const { body } = parseSync(readFileSync(file, 'utf8'), { syntax: 'typescript', target: 'es2022' });
  trees.set(file, body);
  return body;
}

/** The modules a file names, and whether each is needed when the program runs, or loaded only once it is used. */
function importsOf(file) {
  const found = [];
  for (const item of parsed(file)) {
    const isTypeOnly =
      item.typeOnly === true ||
      (item.specifiers?.length > 0 && item.specifiers.every((each) => each.isTypeOnly === true));
    if (item.source) found.push({ name: item.source.value, isTypeOnly });
  }
  for (const [, name] of readFileSync(file, 'utf8').matchAll(/\bimport\(\s*'([^']+)'\s*\)/g))
    found.push({ name, isTypeOnly: true, isLazy: true });
  return found;
}

/** The package of a module's name; names of some begin with a scope. */
const packageOf = (name) => /^(?:@[^/]+\/)?[^/]+/.exec(name)?.[0];

/** A room's face is its index, or the index of a part that is loaded alone. */
const isFace = (file) => /^[a-z]+(\/[a-z]+)?\/index\.ts$/.test(relative(src, file));

/** The files that each file imports, and those of them that it needs when the program runs; what is loaded later is in neither. */
const graph = new Map();
const needed = new Map();
for (const file of files) {
  const room = roomOf(file);
  const [all, runtime] = [[], []];
  for (const { name, isTypeOnly, isLazy } of importsOf(file)) {
    if (!name.startsWith('.')) {
      if (pure.includes(room) && name.startsWith('node:'))
        problems.push(`${relative('.', file)}: the room ${room} is pure, but imports ${name}`);
      if (forNode.includes(packageOf(name)) && !runsOnNode.test(relative(src, file)))
        problems.push(`${relative('.', file)}: reaches pages, but imports ${name}, which is optional`);
      continue;
    }
    const target = resolve(dirname(file), name);
    const other = roomOf(target);
    if (!isLazy) all.push(target);
    if (!isTypeOnly) runtime.push(target);
    if (room === undefined || room === other) continue;
    if (!rooms[room]?.includes(other))
      problems.push(`${relative('.', file)}: the room ${room} may not import from ${other ?? 'the entry points'}`);
    else if (!isFace(target)) problems.push(`${relative('.', file)}: reaches past the face of ${other} to ${name}`);
  }
  graph.set(file, all);
  needed.set(file, runtime);
  if (pure.includes(room)) {
    const code = readFileSync(file, 'utf8').replace(/\/\*[\s\S]*?\*\/|\/\/.*$/gm, '');
    const [impure] = impureNames.exec(code) ?? [];
    if (impure) problems.push(`${relative('.', file)}: the room ${room} is pure, but uses ${impure}`);
  }
}

const named = (circle) => circle.map((file) => relative(src, file)).join(', ');
for (const circle of circlesOf(needed)) problems.push(`these need one another when the program runs: ${named(circle)}`);
for (const circle of circlesOf(graph))
  if (circle.length > 2) problems.push(`these import one another, if only for their types: ${named(circle)}`);

/** No function is longer, in lines that are not blank. */
const mostLines = 60;
for (const file of files)
  for (const length of functionLengths(readFileSync(file, 'utf8')))
    if (length > mostLines)
      problems.push(`${relative('.', file)}: a function of ${length} lines, more than ${mostLines}`);

/** Walks the nodes of a syntax tree. */
function* nodesOf(node) {
  if (Array.isArray(node)) for (const each of node) yield* nodesOf(each);
  else if (node !== null && typeof node === 'object') {
    if (typeof node.type === 'string') yield node;
    for (const [key, value] of Object.entries(node)) if (key !== 'span') yield* nodesOf(value);
  }
}

/** What we say is never read again: not by a regular expression, a comparison or a search. Older drawers alone need it. */
const phrases = ['phrases', 'details', 'command']
  .flatMap((name) => [...nodesOf(parsed(join(src, 'messages/en', `${name}.ts`)))])
  .filter(({ type }) => type === 'StringLiteral')
  .map(({ value }) => value)
  .join('\n');
const searches = ['includes', 'startsWith', 'endsWith', 'indexOf', 'match', 'matchAll', 'search', 'split', 'replace'];
/** The texts that a node looks for in others. */
function sought(node) {
  if (node.type === 'RegExpLiteral') return [node.pattern];
  if (node.type === 'BinaryExpression' && /^[!=]==$/.test(node.operator)) return literals([node.left, node.right]);
  if (node.type === 'SwitchCase') return literals([node.test]);
  const isSearch = node.type === 'CallExpression' && searches.includes(node.callee.property?.value);
  return isSearch ? literals(node.arguments.map(({ expression }) => expression)) : [];
}
const literals = (nodes) => nodes.filter((node) => node?.type === 'StringLiteral').map(({ value }) => value);
for (const file of files.filter((name) => roomOf(name) !== 'messages' && !name.endsWith('/older-words.ts')))
  for (const node of nodesOf(parsed(file)))
    for (const text of sought(node))
      for (const [words] of text.matchAll(/\p{L}{2,}(?: \p{L}{2,})+/gu))
        if (phrases.includes(words))
          problems.push(`${relative('.', file)}: looks for “${words}”, which is our own English`);

/** What `drawer` itself gives: few names, each with a docstring where it is declared. */
const publicNames = [
  ...readFileSync(join(src, 'index.ts'), 'utf8').matchAll(/export \{([^}]*)\} from '([^']+)'/g),
].flatMap(([, names, face]) =>
  names
    .split(',')
    .map((name) => name.trim().replace(/^type /, ''))
    .filter((name) => name !== '')
    .map((name) => ({ name, room: face.split('/')[1] })),
);
const mostNames = 70;
if (publicNames.length > mostNames) problems.push(`drawer exports ${publicNames.length} names, more than ${mostNames}`);
for (const { name, room } of publicNames) {
  const declared = new RegExp(
    `\\*/\\nexport (?:declare )?(?:abstract )?(?:const|function\\*?|async function|class|interface|type) ${name}\\b`,
  );
  if (!files.some((file) => roomOf(file) === room && declared.test(readFileSync(file, 'utf8'))))
    problems.push(`${name}, which drawer exports, has no docstring`);
}

if (files.length < 50) problems.push(`only ${files.length} files were found under src/`);
for (const problem of problems) console.error(problem);
if (problems.length > 0) process.exit(1);
console.log(`Room borders and cycles: ${files.length} files, nothing wrong`);
execFileSync(process.execPath, ['scripts/docs.mjs', '--check'], { stdio: 'inherit' });
execFileSync(process.execPath, ['scripts/sizes.mjs'], { stdio: 'inherit' });
execFileSync(process.execPath, ['scripts/reference.mjs', '--check'], { stdio: 'inherit' });
