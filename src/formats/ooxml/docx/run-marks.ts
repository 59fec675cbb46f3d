import type { Marks } from '../../../content/index.ts';
import { marksOf, type RunLook } from '../../flow/look.ts';
import { isInlineCode, isLinkStyle, type ParagraphMeaning } from '../../flow/style-meaning.ts';
import { type DocxRunLook, layered } from './look.ts';
import { type Style, type Styles, withTheme } from './styles.ts';
import type { CellLook } from './table-styles.ts';

/** Where a run stands, as far as its look depends on it. */
export interface RunPlace {
  readonly kind: ParagraphMeaning['kind'];
  readonly style: Style | undefined;
  /** What the style of the table around it makes of its cell. */
  readonly cell: CellLook | undefined;
  readonly inLink: boolean;
}

/** Stands for the marks of hidden text, which is not read. */
export const hiddenMarks: Marks = {};

/** Works out runs' marks from styles and their own properties (ISO/IEC 29500-1, 17.7.2); most runs look like another. */
export class RunMarks {
  readonly #styles: Styles;
  readonly #known = new Map<CellLook | undefined, Map<string, Marks>>();

  constructor(styles: Styles) {
    this.#styles = styles;
  }

  of(look: DocxRunLook, place: RunPlace): Marks {
    let inCell = this.#known.get(place.cell);
    if (!inCell) {
      inCell = new Map();
      this.#known.set(place.cell, inCell);
    }
    const key = `${place.kind}|${place.style?.name ?? ''}|${place.inLink}|${JSON.stringify(look)}`;
    const known = inCell.get(key);
    if (known) return known;
    const marks = workOut(this.#styles, look, place);
    inCell.set(key, marks);
    return marks;
  }
}

/** Styles flip toggles between themselves; what is set on the run itself stands (17.7.3). */
function workOut(
  styles: Styles,
  { style: styleId, ...own }: DocxRunLook,
  { kind, style, cell, inLink }: RunPlace,
): Marks {
  const character = styles.find(styleId);
  const isLink = inLink && character !== undefined && isLinkStyle(character.name);
  const isCode = character !== undefined && isInlineCode(character.name);
  // What a heading, quote or list looks like follows from what it is; only a style of the source's own says more.
  const around = cell && kind !== 'heading' ? styles.leftToTables(cell.run) : {};
  const below = layered(around, kind === 'named' ? (style?.run ?? {}) : {});
  const layers = { ...layered(below, isLink || isCode ? {} : (character?.run ?? {})), ...own };
  const look = inScript(withTheme(layers, styles.theme));
  if (look.hidden) return hiddenMarks;
  const marks = marksOf(look, baseFor(styles, kind));
  return isCode ? { ...marks, code: true } : marks;
}

/** Plain text is compared with the document's own look; a heading only with its language. */
function baseFor({ plain }: Styles, kind: RunPlace['kind']): RunLook {
  const { language } = plain.run;
  if (kind === 'plain' || kind === 'named') return plain.run;
  return language === undefined ? {} : { language };
}

/** Text of a complex script has a weight, slant, size and font of its own (17.3.2.26, 17.3.2.39). */
const inScript = (look: DocxRunLook): DocxRunLook =>
  look.complex
    ? {
        ...look,
        bold: look.complexBold ?? false,
        italic: look.complexItalic ?? false,
        ...(look.complexSize !== undefined && { size: look.complexSize }),
        ...(look.complexFont !== undefined && { font: look.complexFont }),
      }
    : look;
