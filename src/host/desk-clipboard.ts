import { type Content, contentSchema, type Media, parseWith } from '../content/index.ts';
import {
  type CopyListener,
  type DesktopClipboard,
  type FollowedCopies,
  followCopies,
  offeringOf,
  openClipboard,
  secretStays,
} from '../desktop/index.ts';
import type { Drawer } from '../drawer/index.ts';
import { gatheredFrom, nodeTools } from '../node/index.ts';
import type { CopyTold, DeskClipboard } from './connect/protocol.ts';

type Environment = Readonly<Record<string, string | undefined>>;

/** The clipboard of the desktop for a desk, until it is closed. */
export interface HostClipboard extends DeskClipboard {
  close(): Promise<void>;
}

/**
 * Gathers what is copied in any program while a desk wants it.
 * @param environment - the variables of the session that the desk runs in
 * @param isOwn - whether a page is the desk: what is copied there is kept by it
 * @param tell - hears what comes of it, for all windows
 */
export const deskClipboard = (
  environment: Environment,
  isOwn: (url: string) => boolean,
  drawer: Drawer,
  tell: (told: CopyTold) => void,
): HostClipboard => new SessionClipboard(environment, isOwn, drawer, tell);

class SessionClipboard implements HostClipboard {
  readonly #environment: Environment;
  readonly #isOwn: (url: string) => boolean;
  readonly #drawer: Drawer;
  readonly #tell: (told: CopyTold) => void;
  #clipboard: Promise<DesktopClipboard> | undefined;
  #followed: FollowedCopies | undefined;
  /** Settled when gathering has been turned on or off as asked last. */
  #turning = Promise.resolve();

  constructor(
    environment: Environment,
    isOwn: (url: string) => boolean,
    drawer: Drawer,
    tell: (told: CopyTold) => void,
  ) {
    this.#environment = environment;
    this.#isOwn = isOwn;
    this.#drawer = drawer;
    this.#tell = tell;
  }

  async gathers(): Promise<boolean> {
    await this.#open();
    return this.#followed !== undefined;
  }

  gather(isOn: boolean): Promise<void> {
    this.#turning = this.#turning.catch(() => {}).then(() => this.#turn(isOn === true));
    return this.#turning;
  }

  async offer(content: Content, media: Media, isSecret: boolean): Promise<boolean> {
    const desktop = await this.#open();
    // Elsewhere the browser has more forms there, or the keyboard would go from it.
    if (desktop.system !== 'X11') return false;
    const checked: Content = parseWith(contentSchema, content, 'content');
    const offer = await desktop.offer(await offeringOf(checked, media, { isSecret }));
    if (isSecret) setTimeout(() => offer.end(), secretStays).unref();
    return true;
  }

  async close(): Promise<void> {
    await this.#turning.catch(() => {});
    await this.#stop();
    await (await this.#clipboard?.catch(() => undefined))?.close();
  }

  #open(): Promise<DesktopClipboard> {
    if (this.#clipboard) return this.#clipboard;
    this.#clipboard = openClipboard(this.#environment);
    const forget = async (): Promise<void> => {
      this.#clipboard = undefined;
      await this.#turn(false);
    };
    // The desktop may end before the desk does.
    this.#clipboard.then(({ ended }) => ended.then(forget), forget);
    return this.#clipboard;
  }

  async #turn(isOn: boolean): Promise<void> {
    if (isOn === (this.#followed !== undefined)) return;
    if (isOn) await this.#follow();
    else await this.#stop();
    this.#tell({ kind: 'gathering', isOn });
  }

  async #follow(): Promise<void> {
    const listener: CopyListener = {
      keep: async (copied) => {
        if (copied.url !== undefined && this.#isOwn(copied.url)) return;
        this.#tell({ kind: 'kept', results: await this.#drawer.keep(gatheredFrom(copied.file ?? '', copied)) });
      },
      passedOver: (problem) => this.#tell({ kind: 'passedOver', problem }),
    };
    this.#followed = await followCopies(await this.#open(), listener, nodeTools);
    this.#followed.failed.catch(() => this.#turn(false));
  }

  async #stop(): Promise<void> {
    const ending = this.#followed;
    this.#followed = undefined;
    await ending?.stop();
  }
}
