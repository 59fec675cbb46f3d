import { type Flavours, flavoursOf } from '../../clipboard/index.ts';
import { type Content, type Media, type Picture, picturesIn, plainText } from '../../content/index.ts';

/** Content as a clipboard's data: every flavour, and a picture that is alone also as a file, as browsers give it. */
export async function transferOf(content: Content, media: Media, isPlain = false): Promise<DataTransfer> {
  const transfer = new DataTransfer();
  const flavours: Flavours = isPlain ? new Map([['text/plain', plainText(content)]]) : await flavoursOf(content, media);
  for (const [type, words] of flavours) if (words !== '') transfer.setData(type, words);
  const file = content.shape === 'picture' ? pictureFile(content.picture, media) : undefined;
  if (file) transfer.items.add(file);
  return transfer;
}

function pictureFile(picture: Picture, media: Media): File | undefined {
  const bytes = media.get(picture.media);
  const name = `picture.${picture.mediaType.replace(/^image\/|\+xml$/g, '')}`;
  return bytes && new File([bytes as Uint8Array<ArrayBuffer>], name, { type: picture.mediaType });
}

/**
 * Puts content on the system's clipboard in all flavours at once (Clipboard API, section 7); a picture that is alone as an
 * image too. Needs a key press or click a moment before, as browsers ask.
 */
export async function toClipboard(content: Content, media: Media): Promise<void> {
  const flavours = await flavoursOf(content, media);
  const parts = new Map<string, Blob>();
  for (const [type, words] of flavours) {
    const name = /^text\/(?:plain|html)$/.test(type) ? type : `web ${type}`;
    if (!('supports' in ClipboardItem) || ClipboardItem.supports(name)) parts.set(name, new Blob([words], { type }));
  }
  const [only] = content.shape === 'picture' ? picturesIn(content) : [];
  const image = only && (await asPng(only, media));
  if (image) parts.set('image/png', image);
  await navigator.clipboard.write([new ClipboardItem(Object.fromEntries(parts))]);
}

/** Clipboards take pictures as PNG. */
async function asPng(picture: Picture, media: Media): Promise<Blob | undefined> {
  const bytes = media.get(picture.media);
  if (!bytes) return undefined;
  const blob = new Blob([bytes as Uint8Array<ArrayBuffer>], { type: picture.mediaType });
  if (picture.mediaType === 'image/png') return blob;
  try {
    const bitmap = await createImageBitmap(blob);
    const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
    canvas.getContext('2d')?.drawImage(bitmap, 0, 0);
    return await canvas.convertToBlob({ type: 'image/png' });
  } catch {
    return undefined; // no picture that this browser draws; its words and markup are there
  }
}
