/** What was copied, before any of it is read. */
export interface Copied {
  /** Its forms by the names that its system has for them: `text/html`, `UTF8_STRING`. */
  readonly forms: readonly string[];
  /**
   * One of its forms; `undefined` where its program does not give it.
   * @throws DrawerError `too-large`; `storage` where its program does not answer
   */
  read(form: string): Promise<Uint8Array | undefined>;
}

/** What was put on the clipboard, for as long as it is there. */
export interface Offer {
  /** Ends when another program has copied something, or the clipboard is closed. */
  readonly gone: Promise<void>;
}

/** The clipboard of a desktop, as one of its systems has it. */
export interface DesktopClipboard {
  /** The system by its name: `X11`. */
  readonly system: string;
  /** What is on it now; `undefined` where nothing is. @throws DrawerError `storage` where its program does not answer */
  copied(): Promise<Copied | undefined>;
  /** Tells of each copy that another program makes; gives what ends that. */
  watch(onCopy: () => void): Promise<() => void>;
  /** Puts something on it, in each of these forms. @throws DrawerError `storage` where the system does not let it */
  offer(forms: ReadonlyMap<string, Uint8Array>): Promise<Offer>;
  /** Leaves what was offered to the desktop's own keeper of clipboards, where there is one. */
  close(): Promise<void>;
}

/** More than this is not read from a clipboard, in bytes. */
export const mostBytes = 64 * 2 ** 20;
