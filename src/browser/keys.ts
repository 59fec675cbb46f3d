import { DrawerError } from '../content/index.ts';

/** A key with what is held down, as people write it: `Alt+Shift+K`, `Delete`, `Control+Enter`. */
export interface Key {
  readonly alt: boolean;
  readonly control: boolean;
  readonly meta: boolean;
  readonly shift: boolean;
  /** `KeyboardEvent.code` of a letter or digit, since Alt may make another sign of it; else `KeyboardEvent.key`. */
  readonly code?: string;
  readonly key?: string;
}

const named: Readonly<Record<string, string>> = {
  up: 'ArrowUp',
  down: 'ArrowDown',
  left: 'ArrowLeft',
  right: 'ArrowRight',
  space: ' ',
  esc: 'Escape',
  del: 'Delete',
};

/** @throws DrawerError `usage` for what names no key. */
export function parseKey(words: string): Key {
  const parts = words.split('+').map((part) => part.trim());
  const name = parts.pop() ?? '';
  const held = new Set(parts.map((part) => part.toLowerCase()));
  const unknown = [...held].find((part) => !/^(?:alt|control|ctrl|meta|shift)$/.test(part));
  if (name === '' || unknown !== undefined) throw new DrawerError('usage/key-unknown', { key: words });
  const isLetter = /^[a-z]$/i.test(name);
  return {
    alt: held.has('alt'),
    control: held.has('control') || held.has('ctrl'),
    meta: held.has('meta'),
    shift: held.has('shift'),
    ...(isLetter
      ? { code: `Key${name.toUpperCase()}` }
      : /^\d$/.test(name)
        ? { code: `Digit${name}` }
        : { key: named[name.toLowerCase()] ?? name }),
  };
}

/** Whether an event is that key. On Apple's keyboards the command key does what Control does elsewhere. */
export function isKey(event: KeyboardEvent, { alt, control, meta, shift, code, key }: Key): boolean {
  const command = isApple() && event.metaKey && !meta;
  // A sign such as `?` needs Shift on some keyboards and not on others.
  const isSign = code === undefined && key?.length === 1 && key !== ' ';
  return (
    event.altKey === alt &&
    (event.ctrlKey || command) === control &&
    (event.metaKey && !command) === meta &&
    (isSign || event.shiftKey === shift) &&
    (code === undefined ? event.key === key : event.code === code)
  );
}

const isApple = (): boolean => /mac|iphone|ipad/i.test(navigator.platform);
