/** A file of one's own that is open to be changed, and the way to write it back where the browser has one. */
export interface OwnFile {
  readonly file: File;
  readonly handle?: FileSystemFileHandle;
}

interface Pickers {
  showOpenFilePicker?(options: object): Promise<FileSystemFileHandle[]>;
  showSaveFilePicker?(options: object): Promise<FileSystemFileHandle>;
}

/** Lets somebody choose a file; `undefined` when they choose none. Where the browser can, it can be written back in place. */
export async function chooseFile(accept: string): Promise<OwnFile | undefined> {
  const { showOpenFilePicker } = window as Pickers;
  if (showOpenFilePicker) {
    try {
      const [handle] = await showOpenFilePicker({ multiple: false });
      return handle && { file: await handle.getFile(), handle };
    } catch (error) {
      if (error instanceof DOMException && error.name === 'AbortError') return undefined;
      throw error;
    }
  }
  const field = document.createElement('input');
  field.type = 'file';
  field.accept = accept;
  return new Promise((chosen) => {
    field.addEventListener('change', () => chosen(field.files?.[0] && { file: field.files[0] }));
    field.addEventListener('cancel', () => chosen(undefined));
    field.click();
  });
}

/** Writes a file back in its place, wholly or not at all; where the browser cannot, it is downloaded under its name. */
export async function writeBack({ file, handle }: OwnFile, bytes: Uint8Array): Promise<'written' | 'downloaded'> {
  if (!handle) {
    download(bytes, file.name, file.type);
    return 'downloaded';
  }
  const writer = await handle.createWritable();
  await writer.write(bytes as Uint8Array<ArrayBuffer>);
  await writer.close();
  return 'written';
}

export function download(bytes: Uint8Array, name: string, type: string): void {
  const address = URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>], { type }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 60_000);
}
