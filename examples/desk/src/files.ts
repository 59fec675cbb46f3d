import type { DeskFiles } from 'drawer/connect';

/** A file of one's own that is open to be changed. */
export interface OwnFile {
  readonly file: File;
  /** Whose name its tracked insertions carry. */
  readonly author?: string | undefined;
  /** Checks that it can be written now. @throws DrawerError if it is open elsewhere or read-only */
  readonly check?: () => Promise<void>;
  /** Writes it back in its place, wholly or not at all, and gives it as it is then; absent where that cannot be. */
  readonly write?: (bytes: Uint8Array) => Promise<OwnFile>;
}

/** Where files of one's own come from: the browser's own chooser, or the program that serves the desk. */
export interface FileSource {
  /** Lets somebody choose a file to write in; `undefined` when they choose none. */
  choose(): Promise<OwnFile | undefined>;
  /** Makes a new file where somebody says; `undefined` when they say nothing. Absent where files can only be downloaded. */
  create?(name: string, bytes: Uint8Array): Promise<OwnFile | undefined>;
}

interface Pickers {
  showOpenFilePicker?(options: object): Promise<FileSystemFileHandle[]>;
}

/** Files as the browser lets somebody choose them; some browsers can write them back in place. */
export const chosenFiles: FileSource = {
  async choose() {
    const { showOpenFilePicker } = window as Pickers;
    if (!showOpenFilePicker) return uploaded();
    try {
      const [handle] = await showOpenFilePicker({ multiple: false });
      return handle && ofHandle(handle, await handle.getFile());
    } catch (error) {
      if (error instanceof DOMException && error.name === 'AbortError') return undefined;
      throw error;
    }
  },
};

const ofHandle = (handle: FileSystemFileHandle, file: File): OwnFile => ({
  file,
  async write(bytes) {
    const writer = await handle.createWritable();
    await writer.write(bytes as Uint8Array<ArrayBuffer>);
    await writer.close();
    return ofHandle(handle, await handle.getFile());
  },
});

function uploaded(): Promise<OwnFile | undefined> {
  const field = document.createElement('input');
  field.type = 'file';
  field.accept = '.docx,.odt,.md,.html,.txt,.xlsx,.ods,.csv';
  return new Promise((chosen) => {
    field.addEventListener('change', () => chosen(field.files?.[0] && { file: field.files[0] }));
    field.addEventListener('cancel', () => chosen(undefined));
    field.click();
  });
}

/** The name of a file or folder, whose path may be of any system. */
export const nameOf = (path: string): string => path.split(/[\\/]/).at(-1) ?? path;

/** A file that the desk's program reads, and writes back as an action of the drawer, which undo takes back. */
export async function hostedFile(files: DeskFiles, path: string, author?: string): Promise<OwnFile> {
  const name = nameOf(path);
  const as = (bytes: Uint8Array): OwnFile => ({
    file: new File([bytes as Uint8Array<ArrayBuffer>], name),
    author,
    check: () => files.checkWritable(path),
    async write(after) {
      await files.save(path, after, bytes);
      return as(after);
    },
  });
  return as(await files.read(path));
}

export function download(bytes: Uint8Array, name: string, type: string): void {
  const address = URL.createObjectURL(new Blob([bytes as Uint8Array<ArrayBuffer>], { type }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 60_000);
}
