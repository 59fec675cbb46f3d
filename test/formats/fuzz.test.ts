import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { bullets, DrawerError, doc, noMedia, paragraph, parseContent, parseFragment } from 'drawer';
import { type Format, formatOf, type Source, sourceOf } from 'drawer/formats';
import { nodeTools } from 'drawer/node';
import * as fc from 'fast-check';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { bold } from '../../src/content/index.ts';
import { demoFiles } from '../support/cli.ts';

/** How many mutants of each file; more by hand. */
const runs = Number(process.env.RUNS ?? 20);

/** The codes that a damaged file may be refused with. */
const problemCodes = [
  'not-found',
  'ambiguous',
  'unreadable',
  'unsupported',
  'too-large',
  'invalid',
  'consent',
  'usage',
];

/** What the reader makes of bytes: valid content, or one clear error. */
async function read(bytes: Uint8Array, name: string): Promise<'content' | 'error'> {
  const source = sourceOf(bytes, name);
  try {
    const format: Format = await (await formatOf(source)).load();
    await format.outline?.(source, nodeTools);
    const taken = await format.read?.(source, parseFragment(''), nodeTools);
    parseContent(JSON.parse(JSON.stringify(taken?.content)));
    await cut(format, source);
    await paste(format, source);
    return 'content';
  } catch (error) {
    if (!DrawerError.is(error)) throw error;
    expect(problemCodes).toContain(error.code);
    return 'error';
  }
}

/** Whatever can be cut out of it, what is left can be read. */
async function cut(format: Format, source: Source): Promise<void> {
  const fragment = parseFragment(/^(xlsx|ods|csv)$/.test(format.name) ? 'A1:B2' : 'paragraph=2');
  const removed = await format.remove?.(source, [fragment], nodeTools);
  if (removed) await format.read?.(sourceOf(removed.bytes, source.name), parseFragment(''), nodeTools);
}

/** Whatever can be put into it, what comes of it can be read, and holds it. */
async function paste(format: Format, source: Source): Promise<void> {
  const tools = nodeTools;
  const isSheet = /^(xlsx|ods|csv)$/.test(format.name);
  const insertion = {
    content: doc(paragraph('Pasted ', bold('words')), bullets('x')),
    media: noMedia,
    style: 'local',
  } as const;
  for (const place of ['', ...(isSheet ? [] : ['paragraph=2'])]) {
    const inserted = await format.insert?.(source, parseFragment(place), insertion, tools);
    if (!inserted) return;
    const back = await format.read?.(sourceOf(inserted.bytes, source.name), parseFragment(''), {
      ...tools,
      hidden: true,
    });
    expect(JSON.stringify(back?.content)).toContain('Pasted');
  }
  const slots = (await format.slots?.(source, tools)) ?? [];
  const filled = await format.fill?.(
    source,
    new Map(slots.filter(({ kind }) => kind === 'text').map(({ key }) => [key, 'x'])),
    tools,
  );
  if (filled) await format.read?.(sourceOf(filled.bytes, source.name), parseFragment(''), tools);
}

const byteMutation = fc.array(
  fc.record({ at: fc.nat(), value: fc.integer({ min: 0, max: 255 }), kind: fc.constantFrom('set', 'drop', 'double') }),
  { minLength: 1, maxLength: 6 },
);

function mutateBytes(bytes: Uint8Array, mutations: readonly { at: number; value: number; kind: string }[]): Uint8Array {
  let mutant = [...bytes];
  for (const { at, value, kind } of mutations) {
    const place = at % mutant.length;
    if (kind === 'set') mutant[place] = value;
    else if (kind === 'drop') mutant = mutant.toSpliced(place, 1 + (value % 40));
    else mutant = mutant.toSpliced(place, 0, ...mutant.slice(place, place + 40));
  }
  return Uint8Array.from(mutant);
}

/** Names that every object has, which a file may use as well. */
const inheritedNames = ['__proto__', 'constructor', 'toString'] as const;

/** Tags taken out, doubled, swapped, put in or given another value: still XML, mostly, but not what the format means. */
const tagMutation = fc.array(
  fc.record({
    at: fc.nat(),
    with: fc.nat(),
    kind: fc.constantFrom('remove', 'double', 'swap', 'number', 'element', 'value'),
  }),
  { minLength: 1, maxLength: 5 },
);

function mutateTags(xml: string, mutations: readonly { at: number; with: number; kind: string }[]): string {
  let tokens = xml.split(/(?=<)/);
  for (const mutation of mutations) {
    const at = 2 + (mutation.at % Math.max(1, tokens.length - 2));
    const other = 2 + (mutation.with % Math.max(1, tokens.length - 2));
    const token = tokens[at] ?? '';
    const name = inheritedNames[mutation.with % inheritedNames.length] as string;
    if (mutation.kind === 'remove' && /^<[^>]*\/>/.test(token)) tokens = tokens.toSpliced(at, 1);
    else if (mutation.kind === 'double' && /^<[^>]*\/>/.test(token)) tokens = tokens.toSpliced(at, 0, token);
    else if (mutation.kind === 'swap' && /^<[^>]*\/>/.test(token) && /^<[^>]*\/>/.test(tokens[other] ?? ''))
      tokens = tokens.with(at, tokens[other] ?? '').with(other, token);
    else if (mutation.kind === 'element') tokens = tokens.toSpliced(at, 0, `<${name}/>`);
    else if (mutation.kind === 'value') tokens = tokens.with(at, token.replace(/="[^"<]*"/, `="${name}"`));
    else tokens = tokens.with(at, token.replace(/="-?\d+"/, `="${mutation.with % 3 === 0 ? '-1' : mutation.with}"`));
  }
  return tokens.join('');
}

const files = [
  'survey.docx',
  'claim.docx',
  'history.odt',
  'costs.xlsx',
  'budget.xlsx',
  'crew.ods',
  'letters.html',
  'log.md',
  'sailings.csv',
  'hull-plan.svg',
  'ferry.png',
];

describe.each(files)('%s, damaged', (name) => {
  const whole = new Uint8Array(readFileSync(join(demoFiles, name)));

  it('in its bytes, is content or one clear error', async () => {
    expect(await read(whole, name)).toBe('content');
    let differing = 0;
    await fc.assert(
      fc.asyncProperty(byteMutation, async (mutations) => {
        const mutant = mutateBytes(whole, mutations);
        if (Buffer.compare(mutant, whole) !== 0) differing++;
        await read(mutant, name);
      }),
      { numRuns: runs },
    );
    expect(differing).toBeGreaterThan(runs / 2);
  });
});

describe.each(files.filter((name) => /\.(docx|xlsx|odt|ods)$/.test(name)))('%s, damaged', (name) => {
  it('in its meaning, is content or one clear error', async () => {
    const whole = new Uint8Array(readFileSync(join(demoFiles, name)));
    const parts = unzipSync(whole);
    const names = Object.keys(parts).filter((part) => /\.(xml|rels)$/.test(part));
    const seen = { content: 0, error: 0 };
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...names), tagMutation, async (part, mutations) => {
        const mutant = strToU8(mutateTags(strFromU8(parts[part] as Uint8Array), mutations));
        seen[await read(zipSync({ ...parts, [part]: mutant }, { level: 1 }), name)]++;
      }),
      { numRuns: runs },
    );
    expect(seen.content).toBeGreaterThan(runs / 4);
  });
});
