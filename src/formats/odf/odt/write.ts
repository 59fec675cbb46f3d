import { asBlocks, blocksIn, type Content } from '../../../content/index.ts';
import { insertedSource } from '../../edit-prose.ts';
import { type Insertion, sourceOf } from '../../format.ts';
import type { ProseWriting } from '../../prose-format.ts';
import { escapeAttribute, xmlText } from '../../xml/write-xml.ts';
import { blankPackage } from '../package.ts';
import { editOdt } from './edit.ts';
import { styleNameOf } from './target-styles.ts';

/** A new document, with styles that its reader can change. */
export async function writeOdt(
  content: Content,
  { media, title, language = 'en-GB' }: ProseWriting,
): Promise<Uint8Array> {
  const blank = blankPackage({ kind: 'text', body: '', styles: styles(language, ownStyles(content)), title, language });
  const document = await editOdt(sourceOf(blank, 'new.odt'), {});
  const insertion: Insertion = { content, media, style: 'original' };
  return document.save((await insertedSource(document, { kind: 'whole' }, insertion)).edited);
}

const ink = '#1f3a4d';

interface StyleParts {
  readonly display?: string;
  readonly parent?: string;
  readonly paragraph?: string;
  readonly text?: string;
  readonly more?: string;
}

const style = (
  name: string,
  { display, parent = 'Standard', paragraph = '', text = '', more = '' }: StyleParts,
): string =>
  `<style:style style:name="${name}" style:family="paragraph"${display ? ` style:display-name="${display}"` : ''}${name === 'Standard' ? '' : ` style:parent-style-name="${parent}"`}${more}>${paragraph && `<style:paragraph-properties ${paragraph}/>`}${text && `<style:text-properties ${text}/>`}</style:style>`;

/** The styles that the content calls its own, for its reader to change. */
function ownStyles(content: Content): string {
  if (content.shape === 'cells') return ''; // cells have none
  const parents = new Map<string, string>();
  for (const block of blocksIn(asBlocks(content)))
    if ((block.type === 'paragraph' || block.type === 'heading') && block.style !== undefined)
      parents.set(block.style, block.type === 'heading' ? `Heading_20_${block.level}` : 'Standard');
  return [...parents]
    .map(([name, parent]) => style(styleNameOf(name), { display: escapeAttribute(xmlText(name)), parent }))
    .join('');
}

/** By the names that programs know in every language. */
function styles(language: string, own: string): string {
  const [tag = 'en', country = 'none'] = language.split('-');
  const sizes = [18, 14, 12, 11, 11, 11];
  const fonts = 'fo:font-family="\'Liberation Sans\', Calibri, sans-serif"';
  return `<office:styles>
<style:default-style style:family="paragraph"><style:text-properties ${fonts} fo:font-size="11pt" fo:language="${tag}" fo:country="${country}"/></style:default-style>
${style('Standard', { paragraph: 'fo:margin-bottom="8pt" fo:line-height="110%"' })}
${style('Heading', { paragraph: 'fo:keep-with-next="always" fo:margin-top="14pt" fo:margin-bottom="4pt"', text: `fo:color="${ink}" fo:font-weight="bold"` })}
${sizes.map((points, index) => style(`Heading_20_${index + 1}`, { display: `Heading ${index + 1}`, parent: 'Heading', text: `fo:font-size="${points}pt"`, more: ` style:default-outline-level="${index + 1}"` })).join('')}
${style('Quotations', { paragraph: 'fo:margin-left="28pt" fo:margin-right="28pt"', text: 'fo:font-style="italic" fo:color="#44525c"' })}
${style('Preformatted_20_Text', { display: 'Preformatted Text', text: 'fo:font-family="\'Courier New\'" fo:font-size="10pt"' })}
<style:style style:name="Source_20_Text" style:family="text" style:display-name="Source Text"><style:text-properties fo:font-family="'Courier New'"/></style:style>
${style('List', { paragraph: 'fo:margin-bottom="3pt"' })}
${style('Footnote', { paragraph: 'fo:margin-bottom="0pt"', text: 'fo:font-size="9pt"' })}
${style('Table_20_Contents', { display: 'Table Contents', paragraph: 'fo:margin-bottom="0pt"' })}
${style('Table_20_Heading', { display: 'Table Heading', parent: 'Table_20_Contents', text: 'fo:font-weight="bold"' })}
${own}</office:styles><office:automatic-styles><style:page-layout style:name="Page"><style:page-layout-properties fo:page-width="595.3pt" fo:page-height="841.9pt" fo:margin-top="70.9pt" fo:margin-bottom="70.9pt" fo:margin-left="70.9pt" fo:margin-right="70.9pt"/></style:page-layout></office:automatic-styles><office:master-styles><style:master-page style:name="Standard" style:page-layout-name="Page"/></office:master-styles>`;
}
