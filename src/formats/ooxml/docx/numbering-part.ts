import type { Element } from 'xast';
import type { List } from '../../../content/index.ts';
import { x } from '../../xml/element.ts';
import { twips } from './write-state.ts';

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
