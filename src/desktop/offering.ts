import { flavoursOf, ownFlavour } from '../clipboard/index.ts';
import { asBlocks, type Content, type Media } from '../content/index.ts';
import { formatNamed } from '../formats/index.ts';
import { whole } from '../places/index.ts';
import type { Forms, Offering, Program } from './clipboard.ts';
import { webForms } from './web-forms.ts';

/** A workbook as an office suite takes it for its own, and what tells it that it is one: without that it lands as an object. */
const workbook = 'application/x-openoffice-embed-source-xml;windows_formatname="Star Embed Source (XML)"';
const workbookDescriptor =
  'application/x-openoffice-objectdescriptor-xml;windows_formatname="Star Object Descriptor (XML)";' +
  'classname="47BBB4CB-CE4C-4E80-a591-42d9ae74950f";typename="calc8";viewaspect="1";width="15805";height="2710";posx="0";posy="0"';

/** By this a keeper of clipboards is told not to keep it. */
const secretHint = ['x-kde-passwordManagerHint', 'secret'] as const;

/** Options of `offeringOf`. */
export interface OfferingOptions {
  /** Main language of the content, a BCP 47 tag. */
  readonly language?: string;
  /** Whether keepers of clipboards are told not to keep it. */
  readonly isSecret?: boolean;
}

/**
 * Content in every form that programs of a desktop ask for: words, a page (whose cells carry their values), our own form, a
 * picture that is alone; and tables as a workbook.
 */
export async function offeringOf(
  content: Content,
  media: Media,
  { language, isSecret = false }: OfferingOptions = {},
): Promise<Offering> {
  const flavours = await flavoursOf(content, media);
  const words = flavours.get('text/plain') ?? '';
  const own = flavours.get(ownFlavour) ?? '';
  // Programs that read a page without being told in which signs take those of old for it.
  const page = `<meta http-equiv="content-type" content="text/html; charset=utf-8">${flavours.get('text/html')}`;
  const forms = new Map([
    ...(content.shape === 'picture' ? await pictureForms(content.picture, media) : []),
    ['text/html', encoded(page)] as const,
    ...(words === '' ? [] : wordForms(words)),
    [ownFlavour, encoded(own)] as const,
    ...webForms(ownFlavour, own),
    ...(isSecret ? [[secretHint[0], encoded(secretHint[1])] as const] : []),
  ]);
  if (!isTables(content)) return { forms };
  const { create } = await formatNamed('ods').load();
  const made = await create?.(whole, { content, media, style: 'original', languages: [language] });
  if (!made) return { forms };
  const forSpreadsheets: Forms = new Map([[workbook, made.bytes], [workbookDescriptor, new Uint8Array()], ...forms]);
  return { forms, forSpreadsheets };
}

/** The forms of it for the program that is in front, where the desktop tells which that is. */
export const formsFor = ({ forms, forSpreadsheets = forms }: Offering, inFront: Program | undefined): Forms =>
  inFront && /calc$/i.test(inFront.name) ? forSpreadsheets : forms;

const isTables = (content: Content): boolean =>
  content.shape === 'cells' || (content.shape === 'blocks' && asBlocks(content).every(({ type }) => type === 'table'));

const wordForms = (words: string): readonly (readonly [string, Uint8Array])[] => {
  const bytes = encoded(words);
  return [
    ['text/plain;charset=utf-8', bytes],
    ['UTF8_STRING', bytes],
    ['text/plain', bytes],
    // The oldest programs know Latin-1 alone (ICCCM, section 2.6.2).
    ...(/^[\0-\xff]*$/.test(words) ? [['STRING', Buffer.from(words, 'latin1')] as const] : []),
  ];
};

/** Photographs of up to so many megapixels are offered as PNG too, which every program reads; more would keep people waiting. */
const convertedMegapixels = 2;

async function pictureForms(
  { media: hash, mediaType }: { readonly media: string; readonly mediaType: string },
  media: Media,
): Promise<readonly (readonly [string, Uint8Array])[]> {
  const bytes = media.get(hash);
  if (!bytes) return [];
  const png = mediaType === 'image/jpeg' ? await convertJpeg(bytes) : undefined;
  return [[mediaType, bytes], ...(png ? [['image/png', png] as const] : [])];
}

/** A JPEG picture as PNG; `undefined` if it is too large or damaged. */
async function convertJpeg(bytes: Uint8Array): Promise<Uint8Array | undefined> {
  const [{ decode }, { encode }] = await Promise.all([import('jpeg-js'), import('fast-png')]);
  try {
    const options = { useTArray: true, maxResolutionInMP: convertedMegapixels, formatAsRGBA: false } as const;
    return encode({ ...decode(bytes, options), channels: 3 });
  } catch {
    return undefined;
  }
}

const encoded = (words: string): Uint8Array => new TextEncoder().encode(words);
