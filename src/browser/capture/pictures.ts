/** No picture of a page is larger, in bytes. */
const largest = 64 * 2 ** 20;

/**
 * Puts the bytes of pictures in the place of their addresses. They are the ones that the page shows: read from the browser's
 * own store of what it has loaded, or as the site allows; a picture that cannot be read stays an address.
 */
export async function holdPictures(root: Element): Promise<void> {
  await Promise.all([...root.querySelectorAll('img[src]')].map(hold));
}

async function hold(picture: Element): Promise<void> {
  const address = picture.getAttribute('src') ?? '';
  if (/^data:/i.test(address)) return;
  try {
    const answer = await fetch(address, { cache: 'force-cache' });
    const type = answer.headers.get('content-type') ?? '';
    if (!answer.ok || !/^image\//i.test(type)) return;
    const blob = await answer.blob();
    if (blob.size <= largest) picture.setAttribute('src', await asDataUri(blob));
  } catch {
    // another site's, which does not let its bytes be read: the reader says that it was left out
  }
}

const asDataUri = (blob: Blob): Promise<string> =>
  new Promise((done, failed) => {
    const reader = new FileReader();
    reader.onload = () => done(String(reader.result));
    reader.onerror = () => failed(reader.error);
    reader.readAsDataURL(blob);
  });
