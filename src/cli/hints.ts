import type { DrawerError } from '../content/index.ts';
import { english, type Hints, type NoteHints, Words } from '../messages/index.ts';

const makeRoom = 'Nothing was kept or removed: delete some, change the rules, or use another drawer with --drawer';
const putBack =
  'Put it back as it was, or pass this action over: drawer undo --skip. What the drawer holds is still there';
const skipAction = 'Pass this action over: drawer undo --skip. What the drawer holds is still there';
const fromAndTo = 'Such as drawer copy survey.docx --from "The hull" --to "on oak frames"';

/** What to do next in a terminal, where that is more than can be said everywhere. */
const hints: Hints = {
  'file-is-device': 'Hand it over as standard input: drawer copy -',
  'cells-taken': 'Say --over to write over them, or name a free place; nothing was written',
  'quote-unknown': 'Quote whole words just as they stand; drawer outline shows its parts',
  'outline-number-unknown': 'See them with: drawer outline',
  'origin-ignored': 'Nothing was cut; drawer rules shows what is ignored',
  'gathering-paused': 'Nothing was kept; drawer rules --pause off goes on',
  'reference-invalid':
    'Say a number (3), a range (2-5, 12-, last-4..last), a list (3,5,7-9), first, last, last-1, all, new, held, label:WORD, from:FILE or is:table; drawer find looks for words',
  'reference-fits-none': 'drawer list shows what there is',
  'last-gather-gone': 'drawer list shows what there is',
  'snippet-unknown': 'It may have been deleted: look at drawer list',
  'snippet-built-up': 'Say --yes to delete it all the same; nothing was deleted',
  'snippets-would-go': 'Say --yes if they may; nothing was changed',
  'drawer-empty': 'Gather something first: drawer copy FILE',
  'drawer-full': makeRoom,
  'drawer-nearly-full': makeRoom,
  'drawer-bytes-full': makeRoom,
  'rules-damaged': 'drawer check rescues all but these; nothing was changed',
  'undo-not-own': 'Pass this action over with: drawer undo --skip',
  'undo-file-changed': putBack,
  'undo-file-gone': putBack,
  'undo-bytes-missing': skipAction,
  'undo-bytes-damaged': skipAction,
  'undo-drawer-gone': 'Put it back, or pass over this one with: drawer undo --skip',
  'undo-drawer-changed': 'Undo the later actions there first, or pass over this one with: drawer undo --skip',
  'drawer-unknown': ['Your drawers are {drawers}', 'drawer list --drawers names yours'],
  'drawer-not-one': 'Name a drawer’s file, or one that does not exist yet, with --drawer; nothing was changed',
  'drawer-newer': 'Install that version to open it; nothing was changed',
  'drawer-read-only': 'Choose another place with --drawer',
  'drawer-not-opened': 'Check the path, or choose another with --drawer',
  'drawer-damaged': 'drawer check rescues what can be read of it; nothing was changed',
  'row-damaged': 'drawer check rescues what can be read; nothing was changed',
  'drawer-changed-outside': 'drawer check copies what is sealed rightly into a new one; nothing was changed',
  'drawer-has-foreign-parts': 'drawer check copies its snippets into a clean one; nothing was changed',
  'drawer-locked': 'Give its passphrase on a terminal, or in the variable DRAWER_PASSPHRASE',
  'drawer-lock-gone': 'If you took the lock off elsewhere, or want a new drawer, say so once: drawer rules --unlock',
  'command-names-nothing': 'Name a place, - for standard input, or --text "words"',
  'command-to-without-from': fromAndTo,
  'command-from-and-place': fromAndTo,
  'command-several-places': 'Name one of them; --into may be said several times',
  'command-needs-terminal': 'Name them by their numbers, as drawer list and drawer outline show them',
  'command-pick-what': 'Such as drawer copy survey.docx --pick, or name a place as drawer outline shows it',
  'command-cut-from-input': 'Use drawer copy -',
  'command-edit-secret': 'Open it first: drawer mark {position} --open',
  'command-edit-locked': 'Take the lock off first: drawer rules --unlock',
  'command-passphrase-missing': 'Give one on a terminal, or in the variable DRAWER_PASSPHRASE',
  'nothing-found': 'Try fewer words, or beginnings of them',
  'nothing-to-split': 'Say --by paragraph, item, row, cell or the text between its parts; nothing was changed',
  'sequence-done': 'drawer next --restart begins again',
};

/** An error as the command tells it. */
export const errorInWords = async (error: DrawerError): Promise<string> =>
  (await new Words(english).load()).error(error, hints);

/** What a terminal adds to notes. */
export const noteHints: NoteHints = {
  'hidden-row-left': '--hidden takes it',
  'hidden-column-left': '--hidden takes it',
  'hidden-sheet-left': '--hidden takes it',
  'picture-over-cells-left': '#picture= takes one',
  'drawing-over-cells-left': '#picture= takes a picture',
};
