/** A program as people see it. */
export interface Program {
  /** Its name as the desktop has it: `libreoffice-calc`. */
  readonly name: string;
  /** What the title of its window says. */
  readonly title: string;
}

/** What was copied, before any of it is read. */
export interface Copied {
  /** Its forms by the names that its system has for them: `text/html`, `UTF8_STRING`. */
  readonly forms: readonly string[];
  /** Where it was copied, as far as the desktop tells. */
  readonly program?: Program;
  /**
   * One of its forms; `undefined` where its program does not give it.
   * @throws DrawerError `too-large`; `storage` where its program does not answer
   */
  read(form: string): Promise<Uint8Array | undefined>;
}

/** Something in forms that programs ask for, by their names. */
export type Forms = ReadonlyMap<string, Uint8Array>;

/** What is put on a clipboard. */
export interface Offering {
  readonly forms: Forms;
  /** The forms instead while a spreadsheet is in front, where the desktop tells: it would ask how to read the others. */
  readonly forSpreadsheets?: Forms;
}

/** What was put on the clipboard, for as long as it is there. */
export interface Offer {
  /** Ends when another program has copied something, or it was taken away. */
  readonly gone: Promise<void>;
  /** Whether the desktop took words only. */
  readonly isWordsAlone?: true;
  /** Whether the system keeps it itself, also when whoever put it there has ended. */
  readonly isKept?: true;
  /** Takes it off the clipboard. */
  end(): void;
}

/** The clipboard of a desktop, as one of its systems has it. */
export interface DesktopClipboard {
  /** The system by its name: `X11`. */
  readonly system: string;
  /** Whether it tells of pastes. */
  readonly hearsPastes: boolean;
  /** Comes when the desktop has ended, or the clipboard was closed. */
  readonly ended: Promise<void>;
  /** What is on it now; `undefined` where nothing is. @throws DrawerError `storage` where its program does not answer */
  copied(): Promise<Copied | undefined>;
  /** Tells of each copy that another program makes; gives what ends that. */
  watch(onCopy: () => void): Promise<() => void>;
  /**
   * Puts something on it.
   * @param onPasted - hears when the program in front has taken it, where the system tells that
   * @throws DrawerError `storage` where the system does not let it
   */
  offer(offering: Offering, onPasted?: () => void): Promise<Offer>;
  /** Leaves what was offered to the desktop's own keeper of clipboards, where there is one. */
  close(): Promise<void>;
}

/** How long a secret stays on it, in milliseconds. */
export const secretStays = 60_000;

/** More than this is not read from a clipboard, in bytes. */
export const mostBytes = 64 * 2 ** 20;
