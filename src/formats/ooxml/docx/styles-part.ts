import type { Element } from 'xast';
import type { List } from '../../../content/index.ts';
import { x } from '../../xml/element.ts';
import { type CustomStyle, twips } from './write-state.ts';

const ink = '1F3A4D';

/** The styles part (ISO/IEC 29500-1, 17.7), by the names that programs know in every language (17.7.4.9). */
export const stylesPart = (
  namespaces: Record<string, string>,
  language: string,
  custom: readonly CustomStyle[],
): Element =>
  x('w:styles', namespaces, [
    x('w:docDefaults', {}, [
      x(
        'w:rPrDefault',
        {},
        x('w:rPr', {}, [
          fonts('Calibri'),
          ...size(11),
          x('w:lang', { 'w:val': language, 'w:eastAsia': 'ja-JP', 'w:bidi': 'ar-SA' }),
        ]),
      ),
      x('w:pPrDefault', {}, x('w:pPr', {}, spacing(0, 8, 1.1))),
    ]),
    paragraphStyle('Normal', 'Normal', { isDefault: true }),
    paragraphStyle('Title', 'Title', {
      next: 'Normal',
      paragraph: [x('w:keepNext'), spacing(0, 14)],
      run: [bold, coloured, ...size(24)],
    }),
    ...[18, 14, 12, 11, 11, 11].map((points, index) => headingStyle(index + 1, points)),
    ...listStyles('ListBullet', 'List Bullet'),
    ...listStyles('ListNumber', 'List Number'),
    ...listStyles('ListContinue', 'List Continue', true),
    paragraphStyle('Quote', 'Quote', {
      paragraph: [spacing(6, 8), x('w:ind', { 'w:left': twips(28), 'w:right': twips(28) })],
      run: [x('w:i'), x('w:color', { 'w:val': '44525C' })],
    }),
    paragraphStyle('HTMLPreformatted', 'HTML Preformatted', {
      paragraph: [spacing(0, 8, 1)],
      run: [fonts('Courier New'), ...size(10)],
    }),
    paragraphStyle('FootnoteText', 'footnote text', { paragraph: [spacing(0, 0, 1)], run: size(9) }),
    x('w:style', { 'w:type': 'character', 'w:default': '1', 'w:styleId': 'DefaultParagraphFont' }, [
      x('w:name', { 'w:val': 'Default Paragraph Font' }),
      x('w:uiPriority', { 'w:val': '1' }),
    ]),
    characterStyle('Hyperlink', 'Hyperlink', [x('w:color', { 'w:val': '0B5C8A' }), x('w:u', { 'w:val': 'single' })]),
    characterStyle('HTMLCode', 'HTML Code', [fonts('Courier New'), ...size(10)]),
    characterStyle('FootnoteReference', 'footnote reference', [x('w:vertAlign', { 'w:val': 'superscript' })]),
    tableNormal(),
    tableGrid(),
    ...custom.map(({ id, name, basedOn }) => paragraphStyle(id, name, { basedOn, isCustom: true })),
  ]);

const fonts = (name: string): Element =>
  x('w:rFonts', { 'w:ascii': name, 'w:hAnsi': name, 'w:eastAsia': name, 'w:cs': name });
const size = (points: number): Element[] => [
  x('w:sz', { 'w:val': String(points * 2) }),
  x('w:szCs', { 'w:val': String(points * 2) }),
];
const bold = x('w:b');
const coloured = x('w:color', { 'w:val': ink });

function spacing(before: number, after: number, lines?: number): Element {
  const line = lines === undefined ? {} : { 'w:line': String(Math.round(lines * 240)), 'w:lineRule': 'auto' };
  return x('w:spacing', { 'w:before': twips(before), 'w:after': twips(after), ...line });
}

interface StyleParts {
  readonly basedOn?: string;
  readonly next?: string;
  readonly paragraph?: readonly Element[];
  readonly run?: readonly Element[];
  readonly isDefault?: boolean;
  readonly isCustom?: boolean;
}

function paragraphStyle(
  id: string,
  name: string,
  { basedOn = 'Normal', next, paragraph, run, isDefault, isCustom }: StyleParts,
): Element {
  return x(
    'w:style',
    {
      'w:type': 'paragraph',
      'w:default': isDefault ? '1' : undefined,
      'w:customStyle': isCustom ? '1' : undefined,
      'w:styleId': id,
    },
    [
      x('w:name', { 'w:val': name }),
      ...(isDefault ? [] : [x('w:basedOn', { 'w:val': basedOn })]),
      ...(next === undefined ? [] : [x('w:next', { 'w:val': next })]),
      x('w:qFormat'),
      ...(paragraph ? [x('w:pPr', {}, [...paragraph])] : []),
      ...(run ? [x('w:rPr', {}, [...run])] : []),
    ],
  );
}

const characterStyle = (id: string, name: string, run: readonly Element[]): Element =>
  x('w:style', { 'w:type': 'character', 'w:styleId': id }, [
    x('w:name', { 'w:val': name }),
    x('w:basedOn', { 'w:val': 'DefaultParagraphFont' }),
    x('w:rPr', {}, [...run]),
  ]);

const headingStyle = (level: number, points: number): Element =>
  paragraphStyle(`Heading${level}`, `heading ${level}`, {
    next: 'Normal',
    paragraph: [
      x('w:keepNext'),
      x('w:keepLines'),
      spacing(level === 1 ? 18 : 12, 4),
      x('w:outlineLvl', { 'w:val': String(level - 1) }),
    ],
    run: [bold, ...(level > 4 ? [x('w:i')] : []), coloured, ...size(points)],
  });

/** One style for each of the first five levels, as the standard lists them. */
const listStyles = (id: string, name: string, isIndented = false): Element[] =>
  [1, 2, 3, 4, 5].map((level) => {
    const indent = isIndented ? [x('w:ind', { 'w:left': twips(18 * level) })] : [];
    const suffix = level === 1 ? '' : String(level);
    return paragraphStyle(`${id}${suffix}`, suffix === '' ? name : `${name} ${suffix}`, {
      paragraph: [spacing(0, 3), ...indent, x('w:contextualSpacing')],
    });
  });

const tableNormal = (): Element =>
  x('w:style', { 'w:type': 'table', 'w:default': '1', 'w:styleId': 'TableNormal' }, [
    x('w:name', { 'w:val': 'Normal Table' }),
    x('w:tblPr', {}, [
      x('w:tblInd', { 'w:w': '0', 'w:type': 'dxa' }),
      x('w:tblCellMar', {}, [
        ...['top', 'left', 'bottom', 'right'].map((side) =>
          x(`w:${side}`, { 'w:w': side === 'left' || side === 'right' ? '108' : '30', 'w:type': 'dxa' }),
        ),
      ]),
    ]),
  ]);

const line = (side: string, weight: string): Element =>
  x(`w:${side}`, { 'w:val': 'single', 'w:sz': weight, 'w:space': '0', 'w:color': '9AA7AF' });

const tableGrid = (): Element =>
  x('w:style', { 'w:type': 'table', 'w:styleId': 'TableGrid' }, [
    x('w:name', { 'w:val': 'Table Grid' }),
    x('w:basedOn', { 'w:val': 'TableNormal' }),
    x('w:pPr', {}, spacing(0, 0, 1)),
    x(
      'w:tblPr',
      {},
      x(
        'w:tblBorders',
        {},
        ['top', 'left', 'bottom', 'right', 'insideH', 'insideV'].map((side) => line(side, '4')),
      ),
    ),
    x('w:tblStylePr', { 'w:type': 'firstRow' }, [
      x('w:rPr', {}, [bold, coloured]),
      x('w:tcPr', {}, x('w:shd', { 'w:val': 'clear', 'w:color': 'auto', 'w:fill': 'E6ECEF' })),
    ]),
  ]);

const numberFormats = {
  'lower-alpha': 'lowerLetter',
  'upper-alpha': 'upperLetter',
  'lower-roman': 'lowerRoman',
  'upper-roman': 'upperRoman',
} as const;
const bulletSigns = { disc: '•', circle: '◦', square: '▪' } as const;

export type Kind = keyof typeof numberFormats | keyof typeof bulletSigns | 'decimal';

export const kindOf = ({ ordered, marker }: List): Kind => marker ?? (ordered ? 'decimal' : 'disc');

/** The numbering part (ISO/IEC 29500-1, 17.9): a definition for each kind of list, an instance for each list. */
export function numberingPart(namespaces: Record<string, string>, lists: readonly List[]): Element {
  const kinds = [...new Set(lists.map(kindOf))];
  return x('w:numbering', namespaces, [
    ...kinds.map((kind, index) => abstractNumbering(kind, index)),
    ...lists.map((list, index) => numberingInstance(list, index + 1, kinds.indexOf(kindOf(list)))),
  ]);
}

const levels = Array.from({ length: 9 }, (_, level) => level);

export const abstractNumbering = (kind: Kind, id: number): Element =>
  x('w:abstractNum', { 'w:abstractNumId': String(id) }, [
    x('w:multiLevelType', { 'w:val': 'hybridMultilevel' }),
    ...levels.map((level) => levelElement(kind, level)),
  ]);

function levelElement(kind: Kind, level: number): Element {
  const isBullet = kind in bulletSigns;
  const format = isBullet
    ? 'bullet'
    : kind === 'decimal'
      ? 'decimal'
      : numberFormats[kind as keyof typeof numberFormats];
  const sign = isBullet ? bulletSigns[kind as keyof typeof bulletSigns] : `%${level + 1}.`;
  return x('w:lvl', { 'w:ilvl': String(level) }, [
    x('w:start', { 'w:val': '1' }),
    x('w:numFmt', { 'w:val': format }),
    x('w:lvlText', { 'w:val': sign }),
    x('w:lvlJc', { 'w:val': 'left' }),
    x('w:pPr', {}, x('w:ind', { 'w:left': twips(18 * (level + 1)), 'w:hanging': twips(18) })),
  ]);
}

/** Each list counts for itself, from its own start, at whatever level it stands. */
export const numberingInstance = ({ ordered, start = 1 }: List, id: number, abstractId: number): Element =>
  x('w:num', { 'w:numId': String(id) }, [
    x('w:abstractNumId', { 'w:val': String(abstractId) }),
    ...(ordered
      ? levels.map((level) =>
          x('w:lvlOverride', { 'w:ilvl': String(level) }, x('w:startOverride', { 'w:val': String(start) })),
        )
      : []),
  ]);
