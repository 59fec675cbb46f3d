import type { Params } from './message.ts';

/** The place and the cause of an error. */
export interface ProblemOptions {
  /** The file, place, or path into a value that it is about. */
  readonly where?: string | undefined;
  readonly cause?: unknown;
}

/**
 * The one error class: `code` and `reason` for programs; `reason`, `params` and `where` for the front that shows it and makes
 * the sentence in its reader's language. Its own `message` is for logs.
 */
export class DrawerError extends Error {
  override readonly name = 'DrawerError';
  /** Both in one: `not-found/section-unknown`. */
  readonly problem: ProblemName;
  readonly code: ProblemCode;
  readonly reason: Reason;
  /** What fills the blanks of its sentence. */
  readonly params: Params;
  readonly where: string | undefined;

  /** Whether it is one, even from another copy of this module, which `instanceof` would not know. */
  static is(error: unknown): error is DrawerError {
    return error instanceof Error && error.name === 'DrawerError' && 'reason' in error;
  }

  constructor(problem: ProblemName, params: Params = {}, { where, cause }: ProblemOptions = {}) {
    const told = Object.keys(params).length === 0 ? '' : ` ${JSON.stringify(params)}`;
    super(`${where === undefined ? '' : `${where}: `}${problem}${told}`, cause === undefined ? undefined : { cause });
    const [code, reason] = problem.split('/');
    this.problem = problem;
    this.code = code as ProblemCode;
    this.reason = reason as Reason;
    this.params = params;
    this.where = where;
  }

  /** The same problem at another place. */
  at(where: string): DrawerError {
    return new DrawerError(this.problem, this.params, { where, cause: this });
  }
}

/** The same problem with its place said, for errors that pass through a caller who knows the file. */
export const locate = (error: unknown, where: string): unknown =>
  DrawerError.is(error) && error.where === undefined ? error.at(where) : error;

/** The kinds of problems, coarse and stable, for programs to act on. */
export type ProblemCode =
  | 'not-found' // a file, place or snippet that does not exist
  | 'ambiguous' // a name that fits more than one place
  | 'unreadable' // a container that is damaged, protected or not what it says
  | 'unsupported' // right, but not a thing this format or version serves
  | 'too-large' // over a limit that guards against hostile files
  | 'invalid' // a value that breaks the rules of its kind
  | 'full' // the drawer takes no more
  | 'consent' // only done when it is said for certain
  | 'changed' // what was to be changed is no longer as it was read
  | 'refused' // what the drawer's rules or its lock do not allow
  | 'locked' // a passphrase is needed, or is not right
  | 'usage' // a call or command put wrongly
  | 'write-failed' // the target could not be written
  | 'damaged' // the drawer's file is damaged
  | 'newer' // the drawer was made by a newer version of this library
  | 'storage'; // the drawer's file could not be opened or changed

/** Every reason an error can have, by its code. `docs/errors.md` lists them with their sentences. */
interface Reasons {
  'not-found':
    | 'clipboard-empty'
    | 'file-missing'
    | 'file-missing-with-place'
    | 'place-empty'
    | 'section-unknown'
    | 'section-number-unknown'
    | 'block-unknown'
    | 'bookmark-unknown'
    | 'bookmark-empty'
    | 'quote-unknown'
    | 'picture-unknown'
    | 'position-empty'
    | 'position-unknown'
    | 'table-cells-unknown'
    | 'table-column-unknown'
    | 'sheet-none'
    | 'sheet-unknown'
    | 'sheet-name-unknown'
    | 'outline-number-unknown'
    | 'fields-none'
    | 'field-unknown'
    | 'place-missing'
    | 'reference-unknown'
    | 'reference-fits-none'
    | 'last-gather-gone'
    | 'snippet-unknown'
    | 'snippets-not-replaced'
    | 'snippet-not-there'
    | 'drawer-empty'
    | 'drawer-unknown'
    | 'drawer-missing'
    | 'nothing-found'
    | 'nothing-to-split'
    | 'sequence-done';
  ambiguous: 'section-ambiguous' | 'section-start-ambiguous';
  unreadable:
    | 'file-is-folder'
    | 'file-is-device'
    | 'file-shrank'
    | 'file-unreadable'
    | 'file-read-failed'
    | 'file-empty'
    | 'file-misnamed'
    | 'file-encrypted'
    | 'zip-damaged'
    | 'zip-not-office'
    | 'zip-not-opendocument'
    | 'part-encrypted'
    | 'part-packed-unknown'
    | 'part-not-xml'
    | 'part-has-doctype'
    | 'part-utf16'
    | 'rows-out-of-order'
    | 'json-broken'
    | 'picture-damaged';
  unsupported:
    | 'clipboard-forms'
    | 'clipboard-pastes'
    | 'file-kind-unsupported'
    | 'file-kind-unknown'
    | 'file-kind-old'
    | 'opendocument-kind-unsupported'
    | 'files-not-here'
    | 'call-unknown'
    | 'package-too-large'
    | 'package-signed'
    | 'bookmark-not-here'
    | 'place-kind-not-here'
    | 'name-not-range'
    | 'format-not-read'
    | 'format-not-cut'
    | 'format-not-pasted'
    | 'format-not-edited'
    | 'format-without-fields'
    | 'change-unsafe'
    | 'editor-hides-blocks'
    | 'table-into-cell'
    | 'cell-holds-one-line'
    | 'picture-into-cells'
    | 'nothing-for-cells'
    | 'place-without-sides'
    | 'words-not-cuttable'
    | 'table-too-small'
    | 'range-too-wide'
    | 'range-too-high'
    | 'merged-cell-in-way'
    | 'cell-merged'
    | 'cells-merged-into-one'
    | 'table-headings-in-way'
    | 'formula-shared'
    | 'formula-fills-several'
    | 'sheet-protected'
    | 'document-protected'
    | 'document-without-body'
    | 'place-not-pasted'
    | 'quotes-unpaired'
    | 'encoding-not-written'
    | 'encodings-mixed'
    | 'undo-not-here'
    | 'drawer-not-lockable';
  'too-large':
    | 'over-characters'
    | 'over-blocks'
    | 'over-cells'
    | 'editor-cells'
    | 'clipboard-large'
    | 'over-fields'
    | 'over-places'
    | 'over-columns'
    | 'over-words'
    | 'over-parts'
    | 'over-unpacked'
    | 'over-ratio'
    | 'over-xmlDepth'
    | 'over-xmlLength'
    | 'over-sheetHead'
    | 'over-text'
    | 'over-values'
    | 'over-tags'
    | 'over-elements'
    | 'over-nesting'
    | 'over-depth'
    | 'over-signs'
    | 'over-turns'
    | 'sheet-too-small'
    | 'field-too-short';
  invalid:
    | 'bookmark-name'
    | 'call-invalid'
    | 'argument-not-bytes'
    | 'argument-not-function'
    | 'argument-not-list'
    | 'argument-empty'
    | 'argument-not-object'
    | 'argument-not-signal'
    | 'argument-not-text'
    | 'argument-not-whole'
    | 'value-invalid'
    | 'value-too-deep'
    | 'place-kind-unknown'
    | 'place-name-missing'
    | 'place-number-invalid'
    | 'place-rows-invalid'
    | 'place-position-invalid'
    | 'place-check-invalid'
    | 'place-selection-invalid'
    | 'place-range-invalid'
    | 'place-quote-invalid'
    | 'text-changed'
    | 'field-is-box'
    | 'field-choice-unknown'
    | 'field-value-refused'
    | 'picture-bytes-wrong'
    | 'picture-bytes-missing'
    | 'rule-unknown';
  full: 'drawer-full' | 'drawer-nearly-full' | 'drawer-bytes-full';
  consent: 'cells-taken' | 'renewal-changes' | 'snippet-built-up' | 'snippets-would-go';
  changed: 'snippet-changed';
  refused:
    | 'field-refused'
    | 'place-took-nothing'
    | 'place-took-part'
    | 'frame-out-of-reach'
    | 'stopped'
    | 'clipboard-overtaken'
    | 'clipboard-secret'
    | 'origin-ignored'
    | 'link-edited'
    | 'link-lost'
    | 'link-unknown'
    | 'renewal-built-up'
    | 'renewal-edited'
    | 'renewal-inexact'
    | 'renewal-pieces'
    | 'renewal-secret'
    | 'renewal-unlike'
    | 'renewal-without-file'
    | 'file-outside'
    | 'file-not-desk'
    | 'gathering-paused'
    | 'action-final'
    | 'action-snippets-gone'
    | 'sync-clock-ahead'
    | 'sync-others-unread'
    | 'sync-server-refused'
    | 'drawer-lock-gone'
    | 'command-picked-nothing'
    | 'command-edit-secret'
    | 'command-edit-locked'
    | 'command-editor-failed';
  locked: 'drawer-locked' | 'drawer-lock-changed' | 'passphrase-wrong' | 'sync-passphrase-changed';
  usage:
    | 'language-unknown'
    | 'choice-unknown'
    | 'join-unknown'
    | 'key-unknown'
    | 'panel-without-drawer'
    | 'port-taken'
    | 'port-invalid'
    | 'format-not-written'
    | 'nothing-selected'
    | 'file-not-open'
    | 'sentence-of-blocks'
    | 'link-needs-two'
    | 'reference-invalid'
    | 'reference-fits-several'
    | 'rule-invalid'
    | 'rule-value-invalid'
    | 'duration-invalid'
    | 'passphrase-short'
    | 'command-names-nothing'
    | 'command-follow-elsewhere'
    | 'command-follow-next'
    | 'command-to-without-from'
    | 'command-from-and-place'
    | 'command-format-unknown'
    | 'command-several-places'
    | 'command-needs-terminal'
    | 'command-pick-what'
    | 'command-landing-without-into'
    | 'command-options-clash'
    | 'command-option-missing'
    | 'command-preview-of-nothing'
    | 'command-merge-one'
    | 'command-slot-invalid'
    | 'command-cut-from-input'
    | 'command-editor-missing'
    | 'command-passphrase-missing'
    | 'sync-address-invalid'
    | 'sync-passphrase-missing'
    | 'command-passphrases-differ';
  'write-failed':
    | 'file-exists'
    | 'file-open-elsewhere'
    | 'file-read-only'
    | 'file-busy'
    | 'file-changed'
    | 'file-write-failed'
    | 'file-too-large-there'
    | 'folder-missing'
    | 'folder-read-only'
    | 'disk-full'
    | 'undo-not-own'
    | 'undo-file-changed'
    | 'undo-file-gone'
    | 'undo-bytes-missing'
    | 'undo-bytes-damaged'
    | 'undo-drawer-gone'
    | 'undo-drawer-changed'
    | 'own-mark-unusable';
  damaged:
    | 'sync-log-changed'
    | 'sync-log-unreadable'
    | 'sync-lock-unreadable'
    | 'rules-damaged'
    | 'drawer-damaged'
    | 'drawer-changed-outside'
    | 'drawer-has-foreign-parts'
    | 'row-damaged'
    | 'row-missing';
  newer: 'drawer-newer';
  storage:
    | 'drawer-is-folder'
    | 'sync-blob-missing'
    | 'sync-server-failed'
    | 'sync-server-unreachable'
    | 'drawer-not-one'
    | 'drawer-closed'
    | 'drawer-busy'
    | 'drawer-replaced'
    | 'drawer-disk-full'
    | 'drawer-read-only'
    | 'drawer-not-opened'
    | 'drawer-disk-failed'
    | 'drawer-failed'
    | 'drawer-not-whole'
    | 'rescue-failed'
    | 'browser-full'
    | 'browser-closed'
    | 'browser-keeps-nothing'
    | 'browser-failed'
    | 'connection-refused'
    | 'connection-lost'
    | 'connection-failed'
    | 'clipboard-not-reached'
    | 'clipboard-none'
    | 'clipboard-program'
    | 'clipboard-mute'
    | 'clipboard-not-given';
}

/** Why something could not be done, exactly; stable. */
export type Reason = Reasons[ProblemCode];

/** A reason behind its code: `not-found/section-unknown`. */
export type ProblemName = { [C in ProblemCode]: `${C}/${Reasons[C]}` }[ProblemCode];
