// Makes what docs/ holds from the code: the table of formats and the JSON Schema. With --check it only compares.
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { toJsonSchema } from '@valibot/to-json-schema';
import { blockSchema, contentSchema, inlineSchema } from '../dist/content/index.js';
import { exportedSchema, snippetSchema } from '../dist/drawer/index.js';
import { bounds, capabilities, formats, lossyConversions } from '../dist/formats/index.js';
import { english } from '../dist/messages/index.js';

const made = new Map();

const row = (cells) => `| ${cells.join(' | ')} |`;
const table = (head, rows) => [row(head), row(head.map(() => '---')), ...rows.map(row)].join('\n');
const escaped = (text) => text.replaceAll('<', '&lt;').replaceAll('|', '\\|');

const abilities = await Promise.all(
  formats.map(async ({ name, title, extensions, load }) => {
    const format = await load();
    const can = (method) => (format[method] ? 'yes' : '–');
    return [
      name,
      title,
      extensions.join(' '),
      can('outline'),
      can('read'),
      can('remove'),
      can('insert'),
      can('fill'),
      format.write || format.create ? 'yes' : '–',
    ];
  }),
);
made.set(
  'docs/formats.md',
  `# Formats

Made from the code by \`npm run docs\`.

## What each can do

${table(['name', 'what', 'endings', 'outline', 'read', 'cut', 'paste into', 'fill', 'a new file'], abilities)}

## What can be read from each

Kinds of places as in the README; marks and blocks as in the content model. A bookmark of a page is an element with a name, of a workbook a name for cells.

${table(
  ['name', 'places', 'blocks', 'marks', 'typed cells'],
  Object.entries(capabilities).map(([name, { places, blocks, marks, cells }]) => [
    name,
    places.join(', '),
    blocks.length === 8 ? 'all' : blocks.join(', ') || '–',
    marks.length === 12 ? 'all' : marks.join(', ') || '–',
    cells ? 'yes' : '–',
  ]),
)}

## What a format does not hold as it is

A new file gives back what went into it, but for these. Both are tested: that the rest comes back whole, for any content
the builders make, and that each of these becomes what is said.

${table(
  ['format', 'what', 'becomes'],
  lossyConversions.flatMap(({ formats: names, what, becomes }) =>
    names.map((name) => [name, escaped(what), escaped(becomes)]),
  ),
)}

## What guards against hostile files

A small file can need more time and memory than any machine has. Drawer refuses a file over one of these bounds with one line,
or leaves the excess out where the table says so. A refusal keeps and changes nothing.

${table(
  ['at most', 'what', 'why'],
  Object.values(bounds).map(({ most, what, why }) => [most.toLocaleString('en-GB'), escaped(what), escaped(why)]),
)}
`,
);

const { problems } = await english.details();
const reasonCodes = new Map(
  [
    ...readFileSync('src/content/errors.ts', 'utf8').matchAll(/^ {2}'?([a-z-]+)'?:\n((?: {4}\| '[\w-]+';?\n)+)/gm),
  ].flatMap(([, code, names]) => [...names.matchAll(/'([\w-]+)'/g)].map(([, reason]) => [reason, code])),
);
const first = (phrases) => {
  const [phrase] = Array.isArray(phrases) ? phrases : [phrases];
  return phrase === undefined ? '' : escaped(phrase.other ?? phrase);
};
made.set(
  'docs/errors.md',
  `# Errors

Made from the code by \`npm run docs\`.

Every error is a \`DrawerError\`. Act on its \`code\`, or on its \`reason\` where the code is too coarse: both are stable. \`params\` fill the
blanks of the sentence, \`where\` names the file, place or value. \`Words\` of \`drawer/messages\` makes the sentence:

\`\`\`ts
import { catalogueFor, Words } from 'drawer/messages';

const words = await new Words(await catalogueFor('de')).load();
console.error(words.error(error));
\`\`\`

${table(
  ['code', 'reason', 'what it says', 'what to do next'],
  Object.entries(problems).map(([reason, { what, next }]) => [
    reasonCodes.get(reason),
    reason,
    first(what),
    first(next),
  ]),
)}
`,
);

// The recursive schemas are named; the others stand where they are used.
const schema = toJsonSchema(exportedSchema, {
  target: 'draft-2020-12',
  definitions: { content: contentSchema, block: blockSchema, inline: inlineSchema, snippet: snippetSchema },
  errorMode: 'ignore',
  typeMode: 'output',
});
made.set(
  'docs/snippets.schema.json',
  `${JSON.stringify({ $id: 'snippets.schema.json', title: 'Snippets as Drawer stores and exports them', ...schema }, null, 2)}\n`,
);

const checkOnly = process.argv.includes('--check');
const stale = [...made].filter(([path, text]) => !existsSync(path) || readFileSync(path, 'utf8') !== text);
if (!checkOnly) for (const [path, text] of stale) writeFileSync(path, text);
if (checkOnly && stale.length > 0) {
  console.error(`Not current: ${stale.map(([path]) => path).join(', ')}. Run: npm run docs`);
  process.exit(1);
}
console.log(`docs/: ${made.size} files made from code ${checkOnly ? 'are current' : `, ${stale.length} changed`}`);
