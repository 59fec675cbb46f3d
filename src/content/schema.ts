import * as v from 'valibot';
import {
  alignments,
  type Block,
  type Cell,
  type Content,
  type HeadingLevel,
  type Inline,
  listMarkers,
  type Marks,
  pictureTypes,
} from './model.ts';

/** Schemes that cannot run anything, and names within the document. */
export const safeHref = /^(?:https?:\/\/|mailto:|tel:|ftp:\/\/|#)[^\u0000-\u0020]*$/i;

/** Whether an address may stand in a link: it can run nothing. */
export const isSafeHref = (address: string): boolean => address.length <= 8192 && safeHref.test(address);

/**
 * The one source of the validator and of the JSON Schema in `docs/`. The recursive schemas carry the types of
 * `model.ts`, so the two cannot drift apart unseen.
 */

const positive = v.pipe(v.number(), v.finite(), v.minValue(0.01), v.maxValue(1e6));
const span = v.pipe(v.number(), v.integer(), v.minValue(2), v.maxValue(1_048_576));
const colour = v.pipe(v.string(), v.regex(/^#[0-9a-f]{6}$/, 'must be a colour such as #1f3a5f'));
const language = v.pipe(
  v.string(),
  v.regex(/^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$/, 'must be a language tag such as en-GB'),
);
const sha256 = v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/, 'must be a SHA-256 in lower-case hexadecimal'));
const name = v.pipe(v.string(), v.minLength(1), v.maxLength(255));

const href = v.pipe(
  v.string(),
  v.maxLength(8192),
  v.regex(safeHref, 'must be an http, https, mailto, tel or ftp address, or #name'),
);

export const marksSchema: v.GenericSchema<Marks> = v.strictObject({
  bold: v.exactOptional(v.literal(true)),
  italic: v.exactOptional(v.literal(true)),
  underline: v.exactOptional(v.literal(true)),
  strike: v.exactOptional(v.literal(true)),
  code: v.exactOptional(v.literal(true)),
  position: v.exactOptional(v.picklist(['superscript', 'subscript'])),
  font: v.exactOptional(name),
  size: v.exactOptional(positive),
  colour: v.exactOptional(colour),
  background: v.exactOptional(colour),
  link: v.exactOptional(v.strictObject({ href, title: v.exactOptional(v.string()) })),
  language: v.exactOptional(language),
});

/** Delete and the controls of ISO/IEC 6429 behind it are no words: what an older program kept of them shows as lost signs. */
const shown = v.pipe(
  v.string(),
  v.transform((text) => text.replace(/[\u007f-\u009f]/g, '\ufffd')),
);

const picture = {
  media: sha256,
  mediaType: v.picklist(pictureTypes),
  width: v.exactOptional(positive),
  height: v.exactOptional(positive),
  alt: v.exactOptional(shown),
};

const paragraphProperties = {
  align: v.exactOptional(v.picklist(alignments)),
  indent: v.exactOptional(positive),
  direction: v.exactOptional(v.picklist(['ltr', 'rtl'])),
  style: v.exactOptional(name),
};

/** Text of a paragraph: no control character but the tab, since line ends are breaks. */
const words = v.pipe(
  shown,
  v.minLength(1),
  v.regex(/^[^\u0000-\u0008\u000a-\u001f]*$/, 'must hold no line end or control character'),
);

export const inlineSchema: v.GenericSchema<Inline> = v.lazy(() =>
  v.variant('type', [
    v.strictObject({ type: v.literal('text'), text: words, marks: v.exactOptional(marksSchema) }),
    v.strictObject({ type: v.literal('break') }),
    v.strictObject({ type: v.literal('picture'), ...picture }),
    v.strictObject({ type: v.literal('footnote'), blocks }),
  ]),
);

export const blockSchema: v.GenericSchema<Block> = v.lazy(() =>
  v.variant('type', [
    v.strictObject({ type: v.literal('paragraph'), inlines, ...paragraphProperties }),
    v.strictObject({
      type: v.literal('heading'),
      level: v.picklist([1, 2, 3, 4, 5, 6]) as v.GenericSchema<HeadingLevel>,
      inlines,
      ...paragraphProperties,
    }),
    v.strictObject({
      type: v.literal('list'),
      ordered: v.boolean(),
      start: v.exactOptional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(1e9))),
      marker: v.exactOptional(v.picklist(listMarkers)),
      items: v.array(v.strictObject({ blocks, checked: v.exactOptional(v.boolean()) })),
    }),
    v.strictObject({
      type: v.literal('table'),
      rows: v.array(v.strictObject({ cells: v.array(tableCell) })),
      headerRows: v.exactOptional(v.pipe(v.number(), v.integer(), v.minValue(1))),
      columnWidths: v.exactOptional(v.array(positive)),
    }),
    v.strictObject({ type: v.literal('picture'), ...picture }),
    v.strictObject({ type: v.literal('quote'), blocks }),
    v.strictObject({ type: v.literal('code'), text: shown, syntax: v.exactOptional(name) }),
    v.strictObject({ type: v.literal('rule') }),
  ]),
);

const inlines = v.array(inlineSchema);
const blocks = v.array(blockSchema);
const tableCell = v.strictObject({
  blocks,
  columnSpan: v.exactOptional(span),
  rowSpan: v.exactOptional(span),
  background: v.exactOptional(colour),
  value: v.exactOptional(v.lazy(() => v.variant('type', [numberCell, dateCell, booleanCell, errorCell]))),
});

const cellLook = {
  formula: v.exactOptional(v.string()),
  columnSpan: v.exactOptional(span),
  rowSpan: v.exactOptional(span),
  background: v.exactOptional(colour),
  align: v.exactOptional(v.picklist(alignments)),
  marks: v.exactOptional(marksSchema),
};
const displayed = { text: shown, format: v.exactOptional(v.string()), ...cellLook };
const isoMoment = /^(?:\d{4}-\d\d-\d\d(?:T\d\d:\d\d:\d\d(?:\.\d{1,3})?)?|\d\d:\d\d:\d\d(?:\.\d{1,3})?)$/;

const numberCell = v.strictObject({
  type: v.literal('number'),
  value: v.pipe(v.number(), v.finite()),
  ...displayed,
});
const dateCell = v.strictObject({
  type: v.literal('date'),
  value: v.pipe(v.string(), v.regex(isoMoment, 'must be an ISO 8601 date, time or both')),
  ...displayed,
});
const booleanCell = v.strictObject({ type: v.literal('boolean'), value: v.boolean(), ...displayed });
const errorCell = v.strictObject({ type: v.literal('error'), value: shown, ...cellLook });

export const cellSchema: v.GenericSchema<Cell> = v.variant('type', [
  v.strictObject({ type: v.literal('empty'), ...cellLook }),
  v.strictObject({ type: v.literal('text'), value: shown, ...cellLook }),
  numberCell,
  dateCell,
  booleanCell,
  errorCell,
]);

const gaps = v.pipe(
  v.array(
    v.strictObject({
      before: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1_048_576)),
      count: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(1_048_576)),
    }),
  ),
  v.minLength(1),
);

export const contentSchema: v.GenericSchema<Content> = v.variant('shape', [
  v.strictObject({ shape: v.literal('run'), inlines }),
  v.strictObject({ shape: v.literal('blocks'), blocks }),
  v.strictObject({
    shape: v.literal('cells'),
    rows: v.array(v.array(cellSchema)),
    gaps: v.exactOptional(v.strictObject({ rows: v.exactOptional(gaps), columns: v.exactOptional(gaps) })),
    columnWidths: v.exactOptional(v.array(positive)),
    untyped: v.exactOptional(v.literal(true)),
  }),
  v.strictObject({ shape: v.literal('picture'), picture: v.strictObject(picture) }),
]);
