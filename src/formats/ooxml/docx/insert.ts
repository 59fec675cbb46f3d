import type { Fragment } from '../../../places/index.ts';
import type { Inserted, Insertion, ReadTools, Source } from '../../format.ts';
import { insertionEdits } from '../../insertion.ts';
import { type ProseRequest, readForLanding } from '../../read-prose.ts';
import { applyEdits } from '../../text-edits.ts';
import { contentTypes, type OpcPackage, openPackage, readRelationships, relatedPart, relationshipsOf } from '../opc.ts';
import { OpcEdit } from '../package-edit.ts';
import { readTheme } from '../theme.ts';
import { DocxLanding } from './landing.ts';
import { checkMayChange } from './protection.ts';
import { readPackage } from './read.ts';
import { readStyles } from './styles.ts';
import type { DocumentParts } from './target-parts.ts';

/**
 * The document with content at a place. Its main part changes there and nowhere else; numbering, notes, relationships and
 * content types are added to, and every other part is byte for byte as it was.
 */
export async function insertDocx(
  source: Source,
  fragment: Fragment,
  insertion: Insertion,
  tools?: ReadTools,
): Promise<Inserted> {
  const opened = await openPackage(source, tools);
  const { zip, main } = opened;
  await checkMayChange(opened);
  const edit = new OpcEdit(source, zip, tools);
  const parts = await findParts(opened);
  await edit.load(
    main,
    relationshipsOf(main),
    contentTypes,
    ...Object.values(parts),
    parts.footnotes && relationshipsOf(parts.footnotes),
  );
  const decoded = edit.get(main);
  const read = (request: ProseRequest) => readPackage(opened, request);
  const prose = await readForLanding(read, decoded, fragment, insertion.side);
  prose.trace.root.close(endOfBody(decoded.text), decoded.text.length);
  const styles = await readStyles(zip, parts.styles, await readTheme(zip, parts.theme));
  const grammar = new DocxLanding({ edit, main, parts, styles, prose, source: decoded.text, insertion });
  const landing = insertionEdits(decoded.text, prose, fragment, insertion, grammar);
  edit.setText(main, applyEdits(decoded.text, landing.edits));
  grammar.finish();
  return { ...landing, bytes: await edit.bytes() };
}

async function findParts({ zip, main }: OpcPackage): Promise<DocumentParts> {
  const relationships = await readRelationships(zip, main);
  const part = (type: string): string | undefined => relatedPart(zip, relationships, type);
  return {
    styles: part('styles'),
    numbering: part('numbering'),
    footnotes: part('footnotes'),
    settings: part('settings'),
    theme: part('theme'),
  };
}

/** In front of the properties of the last section, or of the end of the body (ISO/IEC 29500-1, 17.2.2). */
function endOfBody(text: string): number {
  const near = Math.max(0, text.lastIndexOf('body') - 80);
  const [end] = [...text.slice(near).matchAll(/<\/(?:[\w.-]+:)?body\s*>/g)].at(-1) ?? [];
  const bodyEnd = end === undefined ? text.length : text.lastIndexOf(end);
  const section = [...text.slice(Math.max(0, bodyEnd - 20_000), bodyEnd).matchAll(/<(?:[\w.-]+:)?sectPr[\s/>]/g)].at(
    -1,
  );
  if (!section) return bodyEnd;
  const at = Math.max(0, bodyEnd - 20_000) + section.index;
  return /<\/(?:[\w.-]+:)?(?:p|tbl|sdt)>/.test(text.slice(at, bodyEnd)) ? bodyEnd : at;
}
