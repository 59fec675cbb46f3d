import { countOf } from '../content/index.ts';
import type { Listed, SnippetSummary } from '../drawer/index.ts';
import { fit, fitEnd, widest } from './columns.ts';
import type { Context } from './context.ts';

/** What a listing depends on. */
export interface ListingContext extends Pick<Context, 'width' | 'now' | 'words'> {
  /** Ids of snippets whose files were saved again since. */
  readonly changed?: ReadonlySet<string>;
  /** The devices of others that snippets were gathered on, by id. */
  readonly gatherers?: ReadonlyMap<string, string>;
}

/** Listed snippets as a table: number, what, how it begins, where from, when, and marks if there are any. */
export function listing(listed: readonly Listed[], context: ListingContext): string {
  const { width, now, words } = context;
  const rows = listed.map(({ position, summary }) => ({
    number: String(position),
    size: words.size(summary.facts),
    begins: summary.label ?? summary.facts.preview,
    from: words.origin(summary),
    when: words.age(summary.takenAt, now),
    marks: marksInWords(summary, context),
  }));
  const headings = {
    number: '',
    size: words.tell('column.what'),
    begins: words.tell('column.begins'),
    from: words.tell('column.from'),
    when: words.tell('column.when'),
    marks: words.tell('column.marks'),
  };
  const lines = [headings, ...rows];
  const column = (key: keyof typeof headings): string[] => lines.map((line) => line[key]);
  const hasMarks = rows.some(({ marks }) => marks !== '');
  const numberWidth = widest(column('number'), 2, 9);
  const whenWidth = widest(column('when'), 4, 16);
  const gaps = hasMarks ? 10 : 8;
  const wanted = [
    { width: widest(column('size'), 4, 24), least: 8 },
    { width: widest(column('begins'), 6, 200), least: 12 },
    { width: widest(column('from'), 4, 200), least: 8 },
    ...(hasMarks ? [{ width: widest(column('marks'), 5, 28), least: 5 }] : []),
  ];
  const [sizeWidth = 8, beginsWidth = 12, fromWidth = 8, marksWidth = 0] = fitted(
    wanted,
    width - numberWidth - whenWidth - gaps,
  );
  return lines
    .map(({ number, size, begins, from, when, marks }) =>
      [
        fitEnd(number, numberWidth),
        fit(size, sizeWidth),
        fit(begins, beginsWidth),
        fit(from, fromWidth),
        fit(when, whenWidth),
        ...(hasMarks ? [fit(marks, marksWidth)] : []),
      ]
        .join('  ')
        .trimEnd(),
    )
    .join('\n');
}

/** Widths made smaller, the widest first, until all fit or none can be. */
function fitted(columns: readonly { readonly width: number; readonly least: number }[], available: number): number[] {
  const widths = columns.map(({ width }) => width);
  for (let over = widths.reduce((sum, each) => sum + each, 0) - available; over > 0; over--) {
    const spare = widths.map((each, at) => (each > (columns[at]?.least ?? 0) ? each : 0));
    const most = Math.max(...spare);
    if (most === 0) break;
    widths[spare.indexOf(most)] = most - 1;
  }
  return widths;
}

/** Everything that is known of each, a few lines a snippet. */
export const longListing = (listed: readonly Listed[], context: ListingContext): string =>
  listed.map((each) => inFull(each, context)).join('\n\n');

function inFull({ position, summary }: Listed, context: ListingContext): string {
  const { width, now, words } = context;
  const { label, facts, takenAt, parts } = summary;
  const marks = marksInWords(summary, context);
  return [
    `${position}: ${words.size(facts)}${label === undefined ? '' : `, “${label}”`}`,
    `   ${fit(facts.preview, Math.max(20, width - 4)).trimEnd()}`,
    `   ${words.part(countOf('characters', facts.characters))}, ${words.part(countOf('bytes', facts.bytes))}${facts.traits ? `; ${facts.traits.join(', ')}` : ''}`,
    `   ${words.tell('from', { origin: words.origin(summary) || words.tell('fromUnknown') })}; ${words.age(takenAt, now)}, ${takenAt}`,
    ...(parts ? [`   ${words.tell('parts', { parts: parts.map(({ what }) => words.what(what)).join('; ') })}`] : []),
    ...(marks === '' ? [] : [`   ${marks}`]),
  ].join('\n');
}

/** `held, built-up, goes in 9 minutes` */
export function marksInWords(
  { id, held, secret, parts, expiresAt }: SnippetSummary,
  { now, words, changed, gatherers }: Pick<ListingContext, 'now' | 'words' | 'changed' | 'gatherers'>,
): string {
  return [
    ...(changed?.has(id) ? [words.tell('mark.sourceChanged')] : []),
    ...(held ? [words.tell('mark.held')] : []),
    ...(secret ? [words.tell(secret === 'once' ? 'mark.once' : 'mark.secret')] : []),
    ...(parts ? [words.tell('mark.builtUp')] : []),
    ...(expiresAt === undefined || (held && !secret)
      ? []
      : [words.tell('mark.goes', { when: words.timeLeft(expiresAt, now) })]),
    ...(gatherers?.has(id) ? [words.tell('mark.by', { name: gatherers.get(id) as string })] : []),
  ].join(', ');
}
