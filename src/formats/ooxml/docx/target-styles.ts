import { isInlineCode, isLinkStyle } from '../../flow/style-meaning.ts';
import type { ListedStyle, Styles } from './styles.ts';

/** The ids that a document has for what our own styles are for; one that it does not have is told directly. */
export interface TargetStyles {
  find(ourId: string): string | undefined;
  /** A style of that name, for what the content calls its own. */
  findNamed(name: string): string | undefined;
}

/** Finds styles by what they mean, whatever they are called: `tableStyle` is the one that the document's tables mostly have. */
export function targetStyles(styles: Styles, tableStyle: string | undefined): TargetStyles {
  const found = new Map<string, string | undefined>();
  return {
    find(ourId) {
      if (!found.has(ourId))
        found.set(
          ourId,
          ourId === 'TableGrid' ? (tableStyle ?? named(styles, 'table', 'table grid')) : findStyle(styles, ourId),
        );
      return found.get(ourId);
    },
    findNamed: (name) => named(styles, 'paragraph', name.toLowerCase()),
  };
}

function findStyle(styles: Styles, ourId: string): string | undefined {
  const [, name = '', number] = /^([A-Za-z]+?)(\d?)$/.exec(ourId) ?? [];
  switch (name) {
    case 'Heading':
      return (
        named(styles, 'paragraph', `heading ${number}`) ??
        byMeaning(styles, (meaning) => meaning.kind === 'heading' && meaning.level === Number(number))
      );
    case 'Title':
      return named(styles, 'paragraph', 'title') ?? findStyle(styles, 'Heading1');
    case 'Quote':
      return byMeaning(styles, ({ kind }) => kind === 'quote');
    case 'HTMLPreformatted':
      return byMeaning(styles, ({ kind }) => kind === 'code');
    case 'ListBullet':
    case 'ListNumber':
    case 'ListContinue': {
      const words = `list ${name.slice(4).toLowerCase()}${number ? ` ${number}` : ''}`;
      return named(styles, 'paragraph', words) ?? named(styles, 'paragraph', 'list paragraph');
    }
    case 'FootnoteText':
      return named(styles, 'paragraph', 'footnote text');
    case 'FootnoteReference':
      return named(styles, 'character', 'footnote reference');
    case 'Hyperlink':
      return styles.listed.find(({ type, name: each }) => type === 'character' && isLinkStyle(each))?.id;
    case 'HTMLCode':
      return styles.listed.find(({ type, name: each }) => type === 'character' && isInlineCode(each))?.id;
    case 'Caption':
      return named(styles, 'paragraph', 'caption');
    default:
      return undefined;
  }
}

const named = (styles: Styles, type: ListedStyle['type'], name: string): string | undefined =>
  styles.listed.find((style) => style.type === type && style.name.toLowerCase() === name)?.id;

const byMeaning = (styles: Styles, isIt: (meaning: ReturnType<Styles['meaning']>) => boolean): string | undefined =>
  styles.listed.find(({ type, id }) => {
    const style = type === 'paragraph' ? styles.find(id) : undefined;
    return style !== undefined && isIt(styles.meaning(style, undefined));
  })?.id;
