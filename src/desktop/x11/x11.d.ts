/** What is used of the package, which has no types of its own. */
declare module 'x11' {
  import type { EventEmitter } from 'node:events';

  type Done<T> = (error: unknown, answer: T) => void;

  export interface Property {
    readonly type: number;
    readonly format: number;
    readonly bytesAfter: number;
    readonly data: Buffer;
  }

  /** X11 protocol, section 10; of the extension XFIXES where it has a `subtype`. */
  export interface Event {
    readonly name: string;
    readonly seq: number;
    readonly type: number;
    readonly wid: number;
    readonly atom: number;
    readonly state: number;
    readonly time: number;
    readonly owner: number;
    readonly requestor: number;
    readonly selection: number;
    readonly target: number;
    readonly property: number;
    readonly subtype?: number;
  }

  export interface Extension {
    readonly SelectionEventMask: Readonly<Record<string, number>>;
    SelectSelectionInput(window: number, selection: number, mask: number): void;
  }

  /** X-Resource 1.2, section 4. */
  export interface ResourceExtension {
    readonly ClientIdMask: { readonly LocalClientPID: number };
    QueryClientIds(
      of: readonly { readonly client: number; readonly mask: number }[],
      done: Done<readonly { readonly value: readonly number[] }[]>,
    ): void;
  }

  export interface XClient extends EventEmitter {
    /** Numbers of atoms by their names, as far as they are known. */
    atoms: Readonly<Record<string, number>>;
    AllocID(): number;
    CreateWindow(
      id: number,
      parent: number,
      x: number,
      y: number,
      width: number,
      height: number,
      border: number,
      depth: number,
      kind: number,
      visual: number,
      attributes: { readonly backgroundPixel: number; readonly eventMask: number },
    ): void;
    DestroyWindow(id: number): void;
    MapWindow(id: number): void;
    ClearArea(id: number, x: number, y: number, width: number, height: number, exposes: 0 | 1): void;
    ChangeWindowAttributes(id: number, attributes: { readonly eventMask: number }): void;
    InternAtom(onlyIfExists: boolean, name: string, done: Done<number>): void;
    GetAtomName(atom: number, done: Done<string>): void;
    GetProperty(
      deletes: 0 | 1,
      window: number,
      property: number,
      type: number,
      offset: number,
      length: number,
      done: Done<Property>,
    ): void;
    ChangeProperty(mode: 0 | 2, window: number, property: number, type: number, format: 8 | 32, data: Buffer): void;
    GetSelectionOwner(selection: number, done: Done<number>): void;
    SetSelectionOwner(window: number, selection: number, time: number): void;
    ConvertSelection(window: number, selection: number, target: number, property: number, time: number): void;
    SendEvent(window: number, propagate: 0, mask: number, event: Omit<Partial<Event>, 'type'>): void;
    GetInputFocus(done: Done<unknown>): void;
    require(name: 'fixes', done: Done<Extension>): void;
    require(name: 'res', done: Done<ResourceExtension>): void;
    terminate(): void;
  }

  export const eventMask: { readonly PropertyChange: number; readonly FocusChange: number };
  export function createClient(
    options: { readonly display: string },
    done: (
      error: unknown,
      found: { readonly client: XClient; readonly screen: readonly { readonly root: number }[] } | undefined,
    ) => void,
  ): XClient;
}
