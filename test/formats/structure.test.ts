import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Cell, type Content, DrawerError, type PasteStyle, parseFragment } from 'drawer';
import { type Format, formatNamed, type Insertion, type Side, sourceOf } from 'drawer/formats';
import * as fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import { SaxesParser } from 'saxes';
import { allMedia, blocks } from '../support/arbitrary.ts';
import { demoFiles } from '../support/cli.ts';

/** What is written holds the order, and the references between parts, that the standards ask for. */

const runs = Number(process.env.RUNS ?? 20);

interface Node {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: Node[];
}

function tree(source: string): Node {
  const root: Node = { name: '', attributes: {}, children: [] };
  const open = [root];
  const parser = new SaxesParser();
  parser.on('opentag', ({ name, attributes }) => {
    const node: Node = { name, attributes: attributes as Record<string, string>, children: [] };
    open.at(-1)?.children.push(node);
    open.push(node);
  });
  parser.on('closetag', () => open.pop());
  parser.write(source).close();
  return root;
}

function* all(node: Node): Generator<Node> {
  yield node;
  for (const child of node.children) yield* all(child);
}

/** ISO/IEC 29500-1, annex A: sequences of child elements, by the element they stand in. */
const sequences: Readonly<Record<string, readonly string[]>> = Object.fromEntries(
  Object.entries({
    'w:pPr':
      'pStyle keepNext keepLines pageBreakBefore framePr widowControl numPr suppressLineNumbers pBdr shd tabs suppressAutoHyphens kinsoku wordWrap overflowPunct topLinePunct autoSpaceDE autoSpaceDN bidi adjustRightInd snapToGrid spacing ind contextualSpacing mirrorIndents suppressOverlap jc textDirection textAlignment textboxTightWrap outlineLvl divId cnfStyle rPr sectPr pPrChange',
    'w:tblPr':
      'tblStyle tblpPr tblOverlap bidiVisual tblStyleRowBandSize tblStyleColBandSize tblW jc tblCellSpacing tblInd tblBorders shd tblLayout tblCellMar tblLook tblCaption tblDescription tblPrChange',
    'w:tcPr': 'cnfStyle tcW gridSpan hMerge vMerge tcBorders shd noWrap tcMar textDirection tcFitText vAlign hideMark',
    'w:tbl': 'tblPr tblGrid tr',
    'w:lvl': 'start numFmt lvlRestart pStyle isLgl suff lvlText lvlPicBulletId legacy lvlJc pPr rPr',
    'w:abstractNum': 'nsid multiLevelType tmpl name styleLink numStyleLink lvl',
    'w:numbering': 'numPicBullet abstractNum num numIdMacAtCleanup',
    'w:style':
      'name aliases basedOn next link autoRedefine hidden uiPriority semiHidden unhideWhenUsed qFormat locked personal personalCompose personalReply rsid pPr rPr tblPr trPr tcPr tblStylePr',
    'w:styles': 'docDefaults latentStyles style',
    'wp:inline': 'extent effectExtent docPr cNvGraphicFramePr graphic',
    'pic:pic': 'nvPicPr blipFill spPr style',
    worksheet:
      'sheetPr dimension sheetViews sheetFormatPr cols sheetData sheetCalcPr sheetProtection protectedRanges scenarios autoFilter sortState dataConsolidate customSheetViews mergeCells phoneticPr conditionalFormatting dataValidations hyperlinks printOptions pageMargins pageSetup headerFooter rowBreaks colBreaks customProperties cellWatches ignoredErrors smartTags drawing legacyDrawing legacyDrawingHF drawingHF picture oleObjects controls webPublishItems tableParts extLst',
    styleSheet: 'numFmts fonts fills borders cellStyleXfs cellXfs cellStyles dxfs tableStyles colors extLst',
    c: 'f v is extLst',
    xf: 'alignment protection extLst',
    workbook:
      'fileVersion fileSharing workbookPr workbookProtection bookViews sheets functionGroups externalReferences definedNames calcPr oleSize customWorkbookViews pivotCaches smartTagPr smartTagTypes webPublishing fileRecoveryPr webPublishObjects extLst',
    'xdr:oneCellAnchor': 'from ext pic clientData',
    'xdr:pic': 'nvPicPr blipFill spPr style',
  }).map(([name, order]) => [name, order.split(' ')]),
);

const local = (name: string): string => name.slice(name.indexOf(':') + 1);

/** Children that stand in another order than the standard's, or are not of it. */
const disorder = (root: Node): string[] =>
  [...all(root)].flatMap((node) => {
    const order = sequences[node.name];
    if (!order) return [];
    const places = node.children.map((child) => order.indexOf(local(child.name)));
    const isInOrder = places.every((at, index) => at >= 0 && (index === 0 || (places[index - 1] as number) <= at));
    return isInOrder ? [] : [`${node.name}: ${node.children.map(({ name }) => name).join(' ')}`];
  });

interface Package {
  readonly parts: ReadonlyMap<string, Node>;
  readonly names: ReadonlySet<string>;
}

function open(bytes: Uint8Array): Package {
  const files = Object.entries(unzipSync(bytes));
  return {
    names: new Set(files.map(([name]) => name)),
    parts: new Map(
      files.filter(([name]) => /\.(xml|rels)$/.test(name)).map(([name, part]) => [name, tree(strFromU8(part))]),
    ),
  };
}

const relationshipsPart = (part: string): string => part.replace(/([^/]*)$/, '_rels/$1.rels');

/** Relationships that lead nowhere, ids that name none, and parts of no type (ISO/IEC 29500-2). */
function looseEnds({ parts, names }: Package): string[] {
  const types = [...all(parts.get('[Content_Types].xml') as Node)];
  const typed = new Set(types.flatMap(({ attributes }) => attributes.PartName ?? []));
  const endings = new Set(types.flatMap(({ attributes }) => attributes.Extension?.toLowerCase() ?? []));
  const untyped = [...names].filter(
    (name) =>
      !name.endsWith('/') &&
      name !== '[Content_Types].xml' &&
      !typed.has(`/${name}`) &&
      !endings.has(name.slice(name.lastIndexOf('.') + 1).toLowerCase()),
  );
  const dangling = [...parts].flatMap(([name, root]) => {
    if (name.endsWith('.rels')) return [];
    const related = [...all(parts.get(relationshipsPart(name)) ?? { name: '', attributes: {}, children: [] })];
    const ids = new Map(related.map(({ attributes }) => [attributes.Id, attributes]));
    const lost = related.flatMap(({ attributes: { Target, TargetMode } }) => {
      if (Target === undefined || TargetMode === 'External') return [];
      const path = new URL(Target, `file:///${name}`).pathname.slice(1);
      return names.has(decodeURIComponent(path)) ? [] : [`${name} names ${path}`];
    });
    const unknown = [...all(root)].flatMap(({ attributes }) =>
      Object.entries(attributes).flatMap(([key, id]) =>
        /^r:(id|embed|link)$/.test(key) && id !== '' && !ids.has(id) ? [`${name} has no ${id}`] : [],
      ),
    );
    return [...lost, ...unknown];
  });
  return [...untyped.map((name) => `${name} has no type`), ...dangling];
}

const values = (nodes: Iterable<Node>, name: string, key: string): string[] =>
  [...nodes].filter((node) => node.name === name).map(({ attributes }) => attributes[key] ?? '');
const repeated = (each: readonly string[]): string[] => each.filter((one, index) => each.indexOf(one) !== index);

function faultsOfDocument(bytes: Uint8Array): string[] {
  const opened = open(bytes);
  const part = (name: string): Node[] => [
    ...all(opened.parts.get(`word/${name}.xml`) ?? { name: '', attributes: {}, children: [] }),
  ];
  const [body, styles, numbering] = [part('document'), part('styles'), part('numbering')];
  const styleIds = new Set(values(styles, 'w:style', 'w:styleId'));
  const numbers = new Set(['0', ...values(numbering, 'w:num', 'w:numId')]);
  const abstract = new Set(values(numbering, 'w:abstractNum', 'w:abstractNumId'));
  const stories = [...body, ...part('footnotes')];
  return [
    ...looseEnds(opened),
    ...[...opened.parts.values()].flatMap(disorder),
    ...stories.flatMap((node) => {
      if (node.name === 'w:tc' && node.children.at(-1)?.name !== 'w:p') return ['a cell ends without a paragraph'];
      const isStyled = /^w:(p|r|tbl)Style$/.test(node.name);
      return isStyled && !styleIds.has(node.attributes['w:val'] ?? '') ? [`no style ${node.attributes['w:val']}`] : [];
    }),
    ...values(stories, 'w:numId', 'w:val').filter((id) => !numbers.has(id)),
    ...values(
      numbering.filter(({ name }) => name === 'w:abstractNumId'),
      'w:abstractNumId',
      'w:val',
    ).filter((id) => !abstract.has(id)),
    ...repeated([...values(body, 'wp:docPr', 'id')]),
    ...repeated(values(body, 'w:bookmarkStart', 'w:id')),
    ...values(body, 'w:footnoteReference', 'w:id').filter(
      (id) => !values(part('footnotes'), 'w:footnote', 'w:id').includes(id),
    ),
  ];
}

function faultsOfWorkbook(bytes: Uint8Array): string[] {
  const opened = open(bytes);
  const styles = [...all(opened.parts.get('xl/styles.xml') as Node)];
  const list = (name: string): readonly Node[] => styles.find((node) => node.name === name)?.children ?? [];
  const counts = styles.flatMap(({ name, attributes: { count }, children }) =>
    count === undefined || Number(count) === children.length ? [] : [`${name} counts ${count}`],
  );
  const formats = list('cellXfs');
  const broken = formats.filter(
    ({ attributes: { fontId = '0', fillId = '0', borderId = '0' } }) =>
      Number(fontId) >= list('fonts').length ||
      Number(fillId) >= list('fills').length ||
      Number(borderId) >= list('borders').length,
  );
  const sheets = [...opened.parts].filter(([name]) => /^xl\/worksheets\/[^/]*\.xml$/.test(name));
  return [
    ...looseEnds(opened),
    ...[...opened.parts.values()].flatMap(disorder),
    ...counts,
    ...broken.map(() => 'a format names a font, fill or border that is not there'),
    ...sheets.flatMap(([name, root]) => {
      const cells = [...all(root)].filter((node) => node.name === 'c');
      const rows = values(all(root), 'row', 'r').map(Number);
      return [
        ...cells.flatMap(({ attributes: { s = '0', r = '' } }) =>
          Number(s) < formats.length ? [] : [`${r}: no ${s}`],
        ),
        ...repeated(cells.map(({ attributes: { r = '' } }) => r)),
        ...(rows.every((row, index) => index === 0 || (rows[index - 1] as number) < row) ? [] : [`${name}: rows`]),
      ];
    }),
  ];
}

type Able = Required<Pick<Format, 'insert' | 'write' | 'create'>>;
const load = async (name: 'docx' | 'xlsx'): Promise<Able> => (await formatNamed(name).load()) as Required<Format>;
const demo = (name: string): Uint8Array => new Uint8Array(readFileSync(join(demoFiles, name)));
const style = fc.constantFrom<PasteStyle>('original', 'local', 'plain');

describe('a document keeps the structure of ISO/IEC 29500', () => {
  it('new, whatever is in it', () =>
    fc.assert(
      fc.asyncProperty(blocks, async (content) => {
        const { write } = await load('docx');
        expect(faultsOfDocument(await write(content, { media: allMedia }))).toEqual([]);
      }),
      { numRuns: runs },
    ));

  it.each(['application.docx', 'survey.docx'])('%s, whatever lands in it', (name) => {
    const before = new Set(faultsOfDocument(demo(name)));
    return fc.assert(
      fc.asyncProperty(
        blocks,
        style,
        fc.constantFrom<[string, Side]>(
          ['', 'end'],
          ['paragraph=1', 'before'],
          ['table=1', 'after'],
          ['list=1', 'end'],
        ),
        fc.boolean(),
        async (content, landing, [place, side], isTracked) => {
          const insertion: Insertion & { side: Side } = {
            content,
            media: allMedia,
            style: landing,
            side,
            ...(isTracked && { author: 'Trust', date: '2026-05-03T09:00:00Z' }),
          };
          const { insert } = await load('docx');
          const { bytes } = await insert(sourceOf(demo(name), name), parseFragment(place), insertion);
          expect(faultsOfDocument(bytes).filter((fault) => !before.has(fault))).toEqual([]);
        },
      ),
      { numRuns: runs },
    );
  });
});

const cell: fc.Arbitrary<Cell> = fc.oneof(
  fc.constant<Cell>({ type: 'empty' }),
  fc.record({ value: fc.constantFrom('oak', 'a\nb', '=1', ' x '), bold: fc.boolean(), shaded: fc.boolean() }).map(
    ({ value, bold, shaded }): Cell => ({
      type: 'text',
      value,
      ...(bold && { marks: { bold: true, colour: '#1f3a4d', font: 'Georgia' } }),
      ...(shaded && { background: '#ffeedd' }),
    }),
  ),
  fc
    .constantFrom('0.00', '[$£-809]#,##0.00', '0 %')
    .map((format): Cell => ({ type: 'number', value: 12.5, text: '12.5', format })),
  fc.constant<Cell>({ type: 'date', value: '2026-05-03', text: '', format: 'd mmm yyyy' }),
  fc.constant<Cell>({ type: 'boolean', value: true, text: 'TRUE' }),
);
const grid = fc.tuple(fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 4 }), fc.infiniteStream(cell)).map(
  ([rows, columns, cells]): Content => ({
    shape: 'cells',
    rows: Array.from({ length: rows }, () => Array.from({ length: columns }, () => cells.next().value as Cell)),
  }),
);

/** A rule alone is nothing that cells can hold. */
function nothingForCells(error: unknown): undefined {
  if (!DrawerError.is(error) || error.code !== 'unsupported') throw error;
}

describe('a workbook keeps the structure of ISO/IEC 29500', () => {
  const content = fc.oneof(grid, blocks as fc.Arbitrary<Content>);

  it('new, whatever is in it', () =>
    fc.assert(
      fc.asyncProperty(content, style, async (each, landing) => {
        const { create } = await load('xlsx');
        const insertion = { content: each, media: allMedia, style: landing };
        const made = await create(parseFragment('Costs!B3'), insertion).catch(nothingForCells);
        if (made) expect(faultsOfWorkbook(made.bytes)).toEqual([]);
      }),
      { numRuns: runs },
    ));

  it.each(['budget.xlsx', 'costs.xlsx'])('%s, whatever lands in it', (name) => {
    const before = new Set(faultsOfWorkbook(demo(name)));
    return fc.assert(
      fc.asyncProperty(content, style, fc.constantFrom('', 'Lines!H3', 'Timber!J30'), async (each, landing, wanted) => {
        const place = wanted.startsWith(name === 'budget.xlsx' ? 'Timber' : 'Lines') ? '' : wanted;
        const { insert } = await load('xlsx');
        const insertion = { content: each, media: allMedia, style: landing, over: true };
        const made = await insert(sourceOf(demo(name), name), parseFragment(place), insertion).catch(nothingForCells);
        if (made) expect(faultsOfWorkbook(made.bytes).filter((fault) => !before.has(fault))).toEqual([]);
      }),
      { numRuns: runs },
    );
  });
});

/** Styles and pictures that are named and not there, names given twice, and parts that the list of parts leaves out. */
function faultsOfOpenDocument(bytes: Uint8Array): string[] {
  const { parts, names } = open(bytes);
  const nodes = ['content.xml', 'styles.xml'].flatMap((name) => [...all(parts.get(name) as Node)]);
  const styles = nodes.filter(({ attributes }) => attributes['style:name'] !== undefined);
  const known = new Set(styles.map(({ attributes }) => attributes['style:name']));
  const automatic = [...all(parts.get('content.xml') as Node)].find(({ name }) => name === 'office:automatic-styles');
  const listed = new Set(
    values(all(parts.get('META-INF/manifest.xml') as Node), 'manifest:file-entry', 'manifest:full-path'),
  );
  const named = nodes.flatMap(({ name, attributes }) =>
    Object.entries(attributes).flatMap(([key, value]) =>
      /:(style-name|data-style-name|parent-style-name|list-style-name)$/.test(key) && value !== '' && !known.has(value)
        ? [`${name} has the style ${value}`]
        : [],
    ),
  );
  const pictures = values(nodes, 'draw:image', 'xlink:href').filter((name) => !names.has(name.replace(/^\.\//, '')));
  const unlisted = [...names].filter((name) => !/^(mimetype|META-INF\/.*|.*\/)$/.test(name) && !listed.has(name));
  const twice = (automatic?.children ?? []).map(
    ({ attributes }) => `${attributes['style:family']} ${attributes['style:name']}`,
  );
  return [
    ...named,
    ...pictures,
    ...unlisted.map((name) => `${name} is not listed`),
    ...repeated(twice),
    ...repeated(values(nodes, 'table:table', 'table:name')),
    ...repeated(nodes.flatMap(({ attributes }) => attributes['xml:id'] ?? [])),
  ];
}

describe('an OpenDocument file keeps the structure of ISO/IEC 26300', () => {
  it.each(['odt', 'ods'] as const)('a new .%s, whatever is in it', (kind) =>
    fc.assert(
      fc.asyncProperty(blocks as fc.Arbitrary<Content>, async (content) => {
        const { create, write } = (await formatNamed(kind).load()) as Required<Format>;
        const insertion = { content, media: allMedia, style: 'original' as const };
        const bytes =
          kind === 'odt'
            ? await write(content, { media: allMedia })
            : (await create(parseFragment(''), insertion).catch(nothingForCells))?.bytes;
        if (bytes) expect(faultsOfOpenDocument(bytes)).toEqual([]);
      }),
      { numRuns: runs },
    ),
  );

  it.each(['history.odt', 'crew.ods'])('%s, whatever lands in it', (name) => {
    const before = new Set(faultsOfOpenDocument(demo(name)));
    return fc.assert(
      fc.asyncProperty(
        fc.oneof(blocks as fc.Arbitrary<Content>, grid),
        style,
        fc.boolean(),
        async (content, landing, isTracked) => {
          const { insert } = (await formatNamed(name.endsWith('t') ? 'odt' : 'ods').load()) as Required<Format>;
          const insertion = {
            content,
            media: allMedia,
            style: landing,
            ...(isTracked && { author: 'Trust', date: '2026-05-03T09:00:00Z' }),
          };
          const made = await insert(sourceOf(demo(name), name), parseFragment(''), insertion).catch(nothingForCells);
          if (made) expect(faultsOfOpenDocument(made.bytes).filter((fault) => !before.has(fault))).toEqual([]);
        },
      ),
      { numRuns: runs },
    );
  });
});
