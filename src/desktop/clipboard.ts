/** A program of the desktop. */
export interface Program {
  /** Its name on the desktop, such as `libreoffice-calc`. */
  readonly name: string;
  /** The title of its window. */
  readonly title: string;
}

/** A copy before it is read. */
export interface Copied {
  /** The system's names of its forms, such as `text/html` or `UTF8_STRING`. */
  readonly forms: readonly string[];
  /** The program in which it was copied, if the desktop tells. */
  readonly program?: Program;
  /**
   * Reads one of its forms; `undefined` if the program does not provide it.
   * @throws DrawerError `too-large`; `storage` if the program does not answer
   */
  read(form: string): Promise<Uint8Array | undefined>;
}

/** Data in several forms, by the names that programs ask for. */
export type Forms = ReadonlyMap<string, Uint8Array>;

/** Data to put on a clipboard. */
export interface Offering {
  readonly forms: Forms;
  /** Other forms while a spreadsheet is in front, if the desktop tells, because a spreadsheet would ask how to read the usual ones. */
  readonly forSpreadsheets?: Forms;
}

/** Data on the clipboard, as long as it is there. */
export interface Offer {
  /** Settles when another program copies something, or after `end`. */
  readonly gone: Promise<void>;
  /** Whether the desktop accepted only text. */
  readonly isWordsAlone?: true;
  /** Whether the system keeps it after this program has ended. */
  readonly isKept?: true;
  /** Removes it from the clipboard. */
  end(): void;
}

/** The clipboard of a desktop. */
export interface DesktopClipboard {
  /** The name of the system, such as `X11`. */
  readonly system: string;
  /** Whether the system reports pastes. */
  readonly hearsPastes: boolean;
  /** Settles when the desktop ends or the clipboard is closed. */
  readonly ended: Promise<void>;
  /** The current copy, if there is one. @throws DrawerError `storage` if its program does not answer */
  copied(): Promise<Copied | undefined>;
  /** Calls back for each copy that another program makes; returns a function that stops it. */
  watch(onCopy: () => void): Promise<() => void>;
  /**
   * Puts data on the clipboard.
   * @param onPasted - called when the program in front has pasted it, if the system reports that
   * @throws DrawerError `storage` if the system refuses
   */
  offer(offering: Offering, onPasted?: () => void): Promise<Offer>;
  /** Hands the data to the desktop's clipboard manager, if there is one, and closes. */
  close(): Promise<void>;
}

/** How long a secret stays on the clipboard, in milliseconds. */
export const secretStays = 60_000;

/** The maximum size read from a clipboard, in bytes. */
export const mostBytes = 64 * 2 ** 20;
