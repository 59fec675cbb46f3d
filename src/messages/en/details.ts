import type { NoteKind, Reason } from '../../content/index.ts';
import type { Phrase, Problem } from '../catalogue.ts';

/** What is said seldom: notes of what changed on the way, and errors with what to do next. */
export const details = {
  parts: {
    listMore: '{items} and {count} more',
    'count.lines': { one: '{count} line', other: '{count} lines' },
    'count.rows': { one: '{count} row', other: '{count} rows' },
    'count.columns': { one: '{count} column', other: '{count} columns' },
    'count.items': { one: '{count} item', other: '{count} items' },
    'count.characters': { one: '{count} character', other: '{count} characters' },
    'count.filledCells': { one: '{count} filled cell', other: '{count} filled cells' },
    'count.paragraphs': { one: '{count} paragraph', other: '{count} paragraphs' },
    'count.tables': { one: '{count} table', other: '{count} tables' },
    'count.lists': { one: '{count} list', other: '{count} lists' },
    'size.grid': '{rows} × {columns}',
    'size.points': '{width} × {height} pt',
    'size.empty': 'empty',
    'block.paragraph': 'paragraph',
    'block.table': 'table',
    'block.list': 'list',
    'block.picture': 'picture',
    'landed.before': 'before {place}',
    'landed.after': 'after {place}',
    'landed.start': 'at the start of {place}',
    'landed.end': 'at the end of {place}',
    'landed.replace': 'instead of {place}',
    'landed.in': 'in {place}',
    'landed.cells': '{place}',
    'landed.atStart': 'at the start',
    'landed.atEnd': 'at the end',
    'landed.insteadOfAll': 'instead of all',
    'landed.firstRows': 'the first rows',
    'landed.newFile': 'a new file',
    'extended.formula': 'the formula in {place}',
    'extended.name': 'the name {name}',
    'extended.area': 'the print area or filter',
    'extended.table': 'the table {name}',
    'extended.filter': 'the filter',
    'extended.condition': 'a conditional format',
    'extended.validation': 'a data validation',
    'extended.rule': 'a rule of the sheet',
    'fault.directoryOutside': 'its directory lies past its end',
    'fault.directoryMissing': 'the directory at its end is missing',
    'fault.directoryBroken': 'its directory is broken',
    'fault.longDirectoryMissing': 'its 64-bit directory is missing',
    'fault.sizeImpossible': 'it gives an impossible size',
    'fault.partTwice': 'it holds two parts named {part}',
    'fault.partMissing': 'the part {part} is missing',
    'fault.partCut': 'the part {part} is cut off',
    'fault.partLonger': 'the part {part} is longer than it says',
    'fault.partNotUnpacked': 'the part {part} does not unpack',
    'fault.partChanged': 'the part {part} is not what was packed',
    'fault.snippet': 'Snippet {number}: {problem}',
    'fault.picture': 'A picture: {problem}',
    'fault.history': 'The history: {problem}',
    'fault.rules': '{problem}',
    'fault.pictureMissing': 'Snippet {number}: one of its pictures is missing',
    'fault.order': 'Snippet {number}: its order key is not above the one before',
    'fault.count': 'There are {found} snippets, not the {count} that were counted',
    'fault.pictureBytes': 'The bytes kept as {hash}… are not those',
    'fault.schemaMissing': '{name} is missing from the file',
    'fault.schemaForeign': '{name} does not belong in the file',
    'fault.file': 'The file is damaged: {detail}',
    'fault.indexed': '{found} snippets can be found, not all {count}',
    'fault.misfiled': {
      one: '{count} snippet filed otherwise than by order, time and size',
      other: '{count} snippets filed otherwise than by order, time and size',
    },
    'fault.contents': '{found} contents are kept for {count} snippets',
    'choice.join': 'join',
    'choice.order': 'order',
    'choice.total': 'total',
    'choice.tidying': 'way to tidy',
    'choice.side': 'side',
    'choice.style': 'style',
    'choice.spread': 'way to spread',
    'choice.print': 'format to print',
    'choice.match': 'way to match',
    'choice.sort': 'thing to sort by',
    'choice.sources': 'way to name sources',
    'takes.most': 'a number of snippets',
    'takes.size': 'bytes, such as 500 MB or 2 GB',
    'takes.full': 'refuse or let-go',
    'takes.repeats': 'keep, skip or to-end',
    'takes.blanks': 'skip or keep',
    'takes.lasts': 'how long, such as 30d, or by shape: picture:7d,run:2w; never',
    'takes.ignore': 'parts of names, with commas between them; nothing',
    'takes.secret': 'parts of names, with commas between them; nothing',
    'takes.join': 'nothing, space, line, paragraph or any text',
    'takes.style': 'original, local or plain',
    'takes.undo': 'a number of actions',
    'field.any': 'The field',
    'frame.any': 'The frame',
    'place.any': 'That place',
    'lost.words': {
      one: 'the words of {count} of {of} parts',
      other: 'the words of {count} of {of} parts',
    },
    'lost.pictures': { one: '{count} of {of} pictures', other: '{count} of {of} pictures' },
    'lost.both': '{words} and {pictures}',
  },
  notes: {
    'comment-left': 'comment, left out',
    'cell-comment-left': 'comment on a cell, left out',
    'cell-comments-left': 'comments on cells, left out',
    'deletion-left': 'deleted text of a tracked change, left out',
    'insertion-taken': 'inserted text of a tracked change, as accepted',
    'move-taken': 'moved text of a tracked change, at its new place',
    'equation-as-letters': 'equation, as its letters',
    'object-as-picture': 'embedded object, as its picture',
    'inner-document-left': 'document inside the document, left out',
    'chart-left': 'chart, left out',
    'diagram-left': 'diagram, left out',
    'film-left': 'film or sound, left out',
    'hidden-text-left': 'hidden text, left out',
    'page-break-left': 'page break, left out',
    'column-break-left': 'column break, left out',
    'link-outside-web': 'link to an address outside the web, as plain text',
    'link-inside-page': 'link within its page, as plain text',
    'link-inside-file': 'link within its file, as plain text',
    'picture-outside-left': 'picture outside the file, left out',
    'picture-as-description': 'picture of a kind Drawer does not keep, as its description',
    'picture-missing': 'picture that the file does not hold',
    'detail-left': 'detail that snippets cannot hold, left out',
    'hidden-row-left': 'hidden row, left out',
    'hidden-row-taken': 'hidden row, included',
    'hidden-column-left': 'hidden column, left out',
    'hidden-column-taken': 'hidden column, included',
    'hidden-sheet-left': 'hidden sheet, left out',
    'picture-over-cells-left': 'picture over the cells, left out',
    'drawing-over-cells-left': 'pictures and charts over the cells, left out',
    'secret-left': 'secret snippet, left where it is',
    'results-out-of-date': {
      one: '{count} result is out of date: open the file in its program and save it there',
      other: '{count} results are out of date: open the file in its program and save it there',
    },
    'picture-without-cell': 'picture, left out: it has no cell for itself',
    'picture-not-in-cells': 'picture, left out: cells hold words and numbers',
    'blank-rows-left': { one: '{count} blank row left out', other: '{count} blank rows left out' },
    'blank-columns-left': { one: '{count} blank column left out', other: '{count} blank columns left out' },
    'formulas-at-emptied': 'formulas that point at the emptied cells: {cells}',
    'extended-to-rows': 'extended to the new rows: {places}',
    'heading-not-cut': 'heading that its table needs, copied but not cut',
    'formula-made-safe': 'an apostrophe in front, so that spreadsheets do not run it as a formula',
    'behind-paragraph': 'more than words, so pasted after the paragraph instead of inside it',
    'decimals-ambiguous':
      '“{one}” and “{other}” may write decimals in different ways, so they stay words and are in no total',
    'table-stacked': 'table added to the one above, which has the same heading',
    'table-apart': 'table kept apart from the one above, which has another heading (joined as rows they become one)',
    'column-added': 'column “{name}” is not in the table above: added at the end',
    'column-missing': 'column “{name}” is missing from a table below: left empty',
    'not-added-up-counter': 'column {column} is not added up: it numbers the rows',
    'not-added-up-years': 'column {column} is not added up: it holds years',
    'not-added-up-no-amounts': 'column {column} is not added up: it holds no amounts',
    'left-of-total': 'left out of the total: {amounts}',
  },
  problems: {
    'call-invalid': {
      what: 'This call does not accept these arguments ({detail})',
      next: 'Check the content and the options; nothing was written',
    },
    'argument-not-list': { what: '“{argument}” must be a list', next: 'Nothing was changed' },
    'argument-empty': { what: '“{argument}” must be a list of one or more', next: 'Nothing was changed' },
    'argument-not-text': { what: '“{argument}” must be a text', next: 'Nothing was changed' },
    'argument-not-whole': {
      what: '“{argument}” must be a whole number, {least} or more',
      next: 'Nothing was changed',
    },
    'value-invalid': { what: 'The {kind} is not valid at {path}: {detail}' },
    'value-too-deep': { what: 'The {kind} is nested more than {depth} levels deep' },
    'language-unknown': { what: 'Unknown language tag “{tag}”', next: 'Use a tag such as en-GB, fr or pt-BR' },
    'choice-unknown': { what: 'Unknown {kind} “{name}”', next: 'Use {choices}' },
    'join-unknown': {
      what: 'Unknown join “{name}”',
      next: 'Use {choices}, or any text with a sign in it, such as ", "',
    },
    'key-unknown': { what: 'Unknown key “{key}”', next: 'Use a key such as Alt+Shift+K or Control+Enter' },
    'port-taken': { what: 'Port {port} is taken by another program', next: 'Name another one, or leave --port out' },
    'port-invalid': { what: '{port} is no port', next: 'Name a number from 1024 to 65535' },
    'panel-without-drawer': { what: 'The panel has no drawer', next: 'Set its property drawer first' },

    'file-missing': { what: 'There is no such file', next: 'Check the name and the folder' },
    'file-missing-with-place': {
      what: 'There is no file {file} with a place #{place}',
      next: 'Check the name, or leave the place out to make a new file',
    },
    'file-is-folder': { what: 'This is a folder', next: 'Name a file in it' },
    'file-is-device': { what: 'This is a pipe or a device, not a file', next: 'Save it as a file first' },
    'file-shrank': { what: 'The file was shortened while it was read', next: 'Try again' },
    'file-unreadable': { what: 'You are not allowed to read the file', next: 'Ask its owner for the right to read it' },
    'file-read-failed': {
      what: 'The file could not be read ({detail})',
      next: 'Try again, or copy it to another place',
    },
    'file-empty': { what: 'The file is empty', next: 'Check that it was saved or copied whole' },
    'file-misnamed': {
      what: 'The file is named like a {ending} file, but is not one',
      next: 'Check that it was saved or copied whole',
    },
    'file-encrypted': {
      what: 'The file is protected by a password',
      next: 'Open it in its program, save a copy without the password, and use that',
    },
    'file-kind-unsupported': {
      what: 'Drawer does not read files of this kind ({kind})',
      next: 'It reads {endings} and their kin',
    },
    'file-kind-unknown': { what: 'Drawer does not know this kind of file', next: 'It reads {endings} and their kin' },
    'file-kind-old': {
      what: 'The file is an old binary office file ({ending}), which Drawer does not read',
      next: 'Open it in its program and save it as {better}',
    },
    'opendocument-kind-unsupported': {
      what: 'Drawer does not read this kind of OpenDocument file ({kind})',
      next: 'It reads text documents (.odt) and spreadsheets (.ods)',
    },
    'file-exists': { what: 'The file exists already', next: 'Name one that is not there yet' },
    'file-open-elsewhere': {
      what: 'The file is open in another program',
      next: 'Close it there and try again; nothing was written',
    },
    'file-read-only': {
      what: 'You are not allowed to write to the file',
      next: 'Use a copy of it; nothing was written',
    },
    'file-busy': {
      what: 'Another program has been changing the file for a minute',
      next: 'Try again when it is done; nothing was written',
    },
    'file-changed': {
      what: 'The file has changed since it was read',
      next: 'Close it in other programs and try again; nothing was changed',
    },
    'file-write-failed': {
      what: 'The file could not be written ({detail})',
      next: 'Choose another place; nothing was written',
    },
    'file-too-large-there': {
      what: 'The file would exceed the size limit there',
      next: 'Choose another folder; nothing was written',
    },
    'folder-missing': {
      what: 'There is no such folder',
      next: 'Make it first, or choose another; nothing was written',
    },
    'folder-read-only': {
      what: 'You are not allowed to write to the folder',
      next: 'Choose another folder; nothing was written',
    },
    'disk-full': { what: 'The disk is full', next: 'Make room and try again; nothing was written' },
    'call-unknown': {
      what: 'The program that has the drawer does not know the call {name}',
      next: 'Bring both programs to the same version',
    },
    'files-not-here': { what: 'Files cannot be written from here' },

    'zip-damaged': {
      what: 'The file is damaged or cut short: {fault}',
      next: 'Get it again from where it came, or open and save it in the program that made it',
    },
    'zip-not-office': {
      what: 'It is a zip file, but not a document or workbook',
      next: 'Unpack it and name a file that was inside',
    },
    'zip-not-opendocument': {
      what: 'It is a zip file, but not an OpenDocument file',
      next: 'Unpack it and name a file that was inside',
    },
    'part-encrypted': {
      what: 'The part {part} is encrypted',
      next: 'Save the file without a password and try again',
    },
    'part-packed-unknown': { what: 'The part {part} is packed by method {method}, which office files do not use' },
    'part-not-xml': {
      what: 'The part {part} is not well-formed XML ({detail})',
      next: 'Open and save the file in the program that made it, and try again',
    },
    'part-has-doctype': {
      what: 'The part {part} has a document type declaration of its own, which no office file needs',
      next: 'Open and save the file in the program that made it, and try again',
    },
    'part-utf16': {
      what: 'The part {part} is written in UTF-16, which office programs do not do',
      next: 'Open and save the file in the program that made it, and try again',
    },
    'rows-out-of-order': {
      what: 'A row of the sheet is numbered {row}, behind row {before}',
      next: 'Open and save the file in an office program, and try again; nothing was written',
    },
    'json-broken': { what: 'The file is not valid JSON', next: 'Check that it was saved whole' },
    'picture-damaged': {
      what: 'The picture is damaged, or impossibly large',
      next: 'Open it in its program and save it again',
    },
    'package-too-large': { what: 'The file is too large to be changed', next: 'Copy instead' },
    'package-signed': {
      what: 'The file is signed, and a change would break the signature',
      next: 'Use a copy without it; nothing was written',
    },
    'package-list-closed': {
      what: 'Drawer cannot add to the file’s list of {list}',
      next: 'Open and save the file in an office program first',
    },

    'over-characters': {
      what: 'It has more than {most} characters, where a note counts as often as it is referred to',
      next: 'Name a part of it, or divide the file; nothing was kept or changed',
    },
    'over-blocks': {
      what: 'It has more than {most} paragraphs and tables',
      next: 'Name a part of it, or divide the file; nothing was kept or changed',
    },
    'editor-cells': {
      what: 'Its tables have {count} cells, and an editor of documents shows at most {most} at once',
      next: 'Paste it into a sheet, or into a file with drawer paste --into',
    },
    'over-cells': {
      what: 'It has more than {most} filled cells',
      next: 'Name a part of it, or divide the file; nothing was kept or changed',
    },
    'over-fields': {
      what: 'The file has more than {most} fields',
      next: 'Divide the file; nothing was kept or changed',
    },
    'over-places': {
      what: 'It has more than {most} empty or repeated cells',
      next: 'Name a smaller range, such as #A1:H200; nothing was kept or changed',
    },
    'over-columns': {
      what: 'It has a row of more than {most} columns',
      next: 'Name a smaller range, such as #A1:H200; nothing was kept or changed',
    },
    'over-words': {
      what: 'The cells repeat their words to more than {most} characters',
      next: 'Name a smaller range, such as #A1:H200; nothing was kept or changed',
    },
    'over-parts': {
      what: 'It holds more than {most} parts',
      next: 'Open the file and save it in the program that made it; nothing was kept or changed',
    },
    'over-unpacked': {
      what: 'The part {part} unpacks to more than {most} bytes',
      next: 'Open the file and save it in the program that made it; nothing was kept or changed',
    },
    'over-ratio': {
      what: 'The part {part} unpacks to over {most} times its size',
      next: 'Open the file and save it in the program that made it; nothing was kept or changed',
    },
    'over-xmlDepth': {
      what: 'The part {part} is nested more than {most} elements deep',
      next: 'Open the file and save it in the program that made it; nothing was kept or changed',
    },
    'over-xmlLength': {
      what: 'The part {part} has a tag, a text or a row of more than {most} bytes',
      next: 'Open the file and save it in the program that made it; nothing was kept or changed',
    },
    'over-sheetHead': {
      what: 'The part {part} has more than {most} bytes in front of its cells',
      next: 'Open the file and save it in the program that made it; nothing was kept or changed',
    },
    'over-text': {
      what: 'The file has more than {most} bytes',
      next: 'Name a part of it, or divide the file; nothing was kept or changed',
    },
    'over-values': {
      what: 'The file has more than {most} bytes',
      next: 'Divide the file; nothing was kept or changed',
    },
    'over-tags': {
      what: 'It has more than {most} tags',
      next: 'Name a part of it, or divide the file; nothing was kept or changed',
    },
    'over-elements': {
      what: 'Its elements are nested more than {most} deep',
      next: 'Name a part of it, or divide the file; nothing was kept or changed',
    },
    'over-nesting': {
      what: 'It is nested more than {most} deep',
      next: 'Name a part of it, or divide the file; nothing was kept or changed',
    },
    'over-depth': {
      what: 'Its quotes and lists are more than {most} deep in one another',
      next: 'Name a part of it, or divide the file; nothing was kept or changed',
    },
    'over-signs': {
      what: 'A paragraph of it has more than {most} signs of emphasis, links and code',
      next: 'Name a part of it, or divide the file; nothing was kept or changed',
    },
    'over-turns': {
      what: 'It has more than {most} underlined headings, or lines that go on from a quote, without a blank line',
      next: 'Name a part of it, or divide the file; nothing was kept or changed',
    },

    'place-kind-unknown': {
      what: 'Unknown kind of place “{kind}”',
      next: 'Use {kinds}, a range such as Timber!B2:D9, or :~:text= and quoted words',
    },
    'place-name-missing': { what: 'A name is missing', next: 'Say one, such as #{kind}=Hull condition' },
    'place-number-invalid': {
      what: '“{words}” is not a number or a range of numbers',
      next: 'Say one such as #{kind}=2 or #{kind}=2-4',
    },
    'place-rows-invalid': {
      what: '“{words}” is not a row or a range of rows',
      next: 'Say one such as #table={table}!row=5-7',
    },
    'place-position-invalid': {
      what: '“{words}” is not a position or a range',
      next: 'Say one such as #{kind}=3,9',
    },
    'place-check-invalid': { what: 'Unknown check “{words}”', next: 'Use length= or md5=, as RFC 5147 defines them' },
    'place-selection-invalid': { what: '“{words}” is not a {kind}', next: 'Say one such as #{example}' },
    'place-range-invalid': {
      what: '“{words}” is not a range of cells',
      next: 'Say one such as Timber!B2:D9, Timber!B2, Timber!B:C or Timber!3:5',
    },
    'place-quote-invalid': {
      what: 'These are not quoted words',
      next: 'Say them such as #:~:text=from%20here,to%20there',
    },
    'place-kind-not-here': {
      what: 'This file has no place such as “{place}”',
      next: ['It has sections, such as #section={section}', 'Name one such as #{example}'],
    },
    'place-empty': {
      what: 'There is nothing at #{place}',
      next: 'The file has {rows} and {columns}',
    },
    'section-unknown': {
      what: 'There is no section “{name}”',
      next: ['The nearest is #section={near}', 'It has no headings, so take it by #paragraph= or by quoting words'],
    },
    'section-number-unknown': {
      what: { one: 'There is one section named “{name}”', other: 'There are {count} sections named “{name}”' },
    },
    'section-ambiguous': {
      what: '{count} sections are named “{name}”',
      next: 'Say which: #section={name};1 to #section={name};{count}',
    },
    'section-start-ambiguous': { what: '{count} sections begin with “{name}”', next: 'Say which: {sections}' },
    'block-unknown': {
      what: ['There are no such places: {kind} {from} to {to}', 'There is no {kind} {from}'],
      next: ['It has {count}; the last is #{place}={last}', 'It has no {kind} of its own'],
    },
    'bookmark-unknown': {
      what: 'There is no bookmark “{name}”',
      next: ['The nearest is #bookmark={near}', 'It has no bookmarks'],
    },
    'bookmark-empty': {
      what: 'There is nothing at the bookmark “{name}”',
      next: ['It has sections, such as #section={section}', 'Name another place, such as #{example}'],
    },
    'quote-unknown': {
      what: ['The words “{start}” to “{end}” are not in it', 'The words “{start}” are not in it'],
      next: 'Quote whole words just as they stand',
    },
    'picture-unknown': {
      what: ['There is no picture {number}', 'A picture has no places inside it'],
      next: ['The last is #picture={last}', 'It has no pictures', 'Name the file alone'],
    },
    'position-empty': {
      what: '{kind}={from} is a position between characters, so it holds nothing',
      next: 'It has {count}: name them from 0 to {last}, such as #{kind}=0,{example}',
    },
    'position-unknown': {
      what: 'There is nothing at {kind}={from}',
      next: 'It has {count}: name them from 0 to {last}, such as #{kind}=0,{example}',
    },
    'text-changed': {
      what: 'The text has changed since the place was noted',
      next: 'Leave the check out to take the text there now',
    },
    'table-cells-unknown': {
      what: 'Table {table} has no such cells',
      next: 'It has {rows} and {columns}',
    },
    'table-column-unknown': {
      what: 'Table {table} has no column “{heading}”',
      next: ['The nearest is #table={table}!{near}', 'Name cells, such as #table={table}!B2'],
    },
    'sheet-none': { what: 'The workbook has no sheet' },
    'sheet-unknown': {
      what: 'There is no sheet “{name}”',
      next: ['Several names begin with it: {names}', 'The nearest is #{near}'],
    },
    'sheet-name-unknown': {
      what: 'There is no sheet or name “{name}”',
      next: ['Several names begin with it: {names}', 'The nearest is #{near}'],
    },
    'name-not-range': {
      what: 'The name “{name}” is not one range of cells',
      next: 'Name the cells themselves, such as #Timber!B2:D9',
    },
    'outline-number-unknown': { what: 'The outline has {count} places and no number {number}' },

    'format-not-read': { what: 'Drawer does not take from {format} files' },
    'format-not-cut': {
      what: 'Nothing can be cut out of a {format} file',
      next: 'Copy it instead, and delete the file yourself',
    },
    'format-not-pasted': {
      what: 'Nothing can be pasted into a {format} file',
      next: 'Name a file of another kind: {endings}',
    },
    'format-not-written': { what: 'Drawer cannot write a new file of this kind', next: 'It writes {endings}' },
    'format-not-edited': { what: 'Files of this kind are not changed in place', next: 'Save it as a new file' },
    'format-without-fields': {
      what: 'A {format} file has no places to fill',
      next: 'Forms are .docx, .odt, .xlsx, .ods and .html files',
    },
    'change-unsafe': {
      what: 'Drawer cannot change this place without damaging the file',
      next: 'Change it in the program that made the file. Nothing was written',
    },
    'editor-hides-blocks': {
      what: 'The editor does not show this document block by block',
      next: 'Save it as a new file',
    },
    'table-into-cell': {
      what: 'A table cannot go into one cell of another table',
      next: 'Paste its cells one by one, or beside the table; nothing was written',
    },
    'cell-holds-one-line': {
      what: 'A cell of this file holds one line of words',
      next: 'Paste its cells one by one, or beside the table; nothing was written',
    },
    'picture-into-cells': {
      what: 'A picture cannot go into cells',
      next: 'Paste words, tables or ranges into a sheet; nothing was written',
    },
    'nothing-for-cells': {
      what: 'There is nothing in it to put into cells',
      next: 'Paste words, tables or ranges into a sheet; nothing was written',
    },
    'place-without-sides': {
      what: 'Nothing can be inserted next to this place',
      next: 'Name the paragraph before or after it',
    },
    'words-not-cuttable': {
      what: 'These words cannot be cut, because of how the file stores them',
      next: 'Copy instead, or cut the whole paragraph',
    },
    'cells-taken': {
      what: [
        'These cells are not empty: {cells}',
        { one: '{count} cell there is not empty', other: '{count} cells there are not empty' },
      ],
      next: 'Name a free place, or say that they may be replaced; nothing was written',
    },
    'table-too-small': {
      what: 'The range goes past the end of the table, below and to the right',
      next: 'The table has {rows} and {columns}; name a cell further up or to the left; nothing was written',
    },
    'range-too-wide': {
      what: 'The range has {columns} and the table has {width}',
      next: 'Name columns to paste beside, or paste it beside the table; nothing was written',
    },
    'range-too-high': {
      what: 'The range has {rows} and the table has {height}',
      next: 'Name rows to paste beside, or paste it beside the table; nothing was written',
    },
    'merged-cell-in-way': {
      what: 'A merged cell is in the way',
      next: 'Name other cells, or paste the range beside the table. Nothing was written',
    },
    'cell-merged': { what: '{cell} is part of a merged cell', next: 'Name a place beside it; nothing was written' },
    'cells-merged-into-one': {
      what: '{cells} are merged into one cell, which cannot take several',
      next: 'Name a place beside it; nothing was written',
    },
    'sheet-too-small': {
      what: 'The range needs {rows} and {columns}, more than the sheet has',
      next: 'Name a place further up or to the left; nothing was written',
    },
    'table-headings-in-way': {
      what: 'The headings of the table {table} would be overwritten',
      next: 'Name a place below row {row}; nothing was written',
    },
    'formula-shared': {
      what: 'Other cells share the formula in {cell}',
      next: 'Name a place beside it; nothing was written',
    },
    'formula-fills-several': {
      what: 'One formula fills {cells}, so no part of them can be cut',
      next: 'Cut {cells} as a whole, or copy instead',
    },
    'sheet-protected': {
      what: 'The sheet {sheet} is protected against changes',
      next: 'Take the protection off in an office program first; nothing was written',
    },
    'document-protected': {
      what: 'The document is protected against changes',
      next: 'Take the protection off in an office program first; nothing was written',
    },
    'document-without-body': {
      what: 'The file has no body of text to paste into',
      next: 'Open and save it in an office program first',
    },
    'place-not-pasted': {
      what: 'Nothing can be pasted at #{place}',
      next: 'Name rows, such as #row=5, or a cell, such as #B4',
    },
    'quotes-unpaired': {
      what: 'The quotes of the file do not pair up, so no field can be cut safely',
      next: 'Copy instead, or mend the quotes first',
    },
    'encoding-not-written': {
      what: 'The file’s encoding ({encoding}) cannot be written',
      next: 'Copy instead, or save the file as UTF-8 first',
    },
    'encodings-mixed': {
      what: 'The file mixes character encodings, so no part can be cut without changing others',
      next: 'Copy instead, or save the file as UTF-8 first',
    },
    'fields-none': {
      what: 'There is nothing to fill in it',
      next: 'It needs content controls, bookmarks or fields',
    },
    'field-unknown': { what: 'There is no place “{name}” to fill', next: 'It has {names}' },
    'field-is-box': {
      what: 'A check box does not accept text',
      next: 'Use true or false; nothing was written',
    },
    'field-choice-unknown': {
      what: '“{value}” is not one of its choices',
      next: 'It takes {choices}; nothing was written',
    },
    'field-refused': { what: '{field} does not accept content', next: 'Choose another place' },
    'field-too-short': {
      what: '{field} is limited to {most} characters',
      next: 'Nothing was entered',
    },
    'field-value-refused': { what: '{field} does not accept “{value}”', next: 'The field is unchanged' },
    'nothing-selected': { what: 'Nothing is selected', next: 'Select something first' },
    'place-missing': {
      what: 'There is no place to paste into',
      next: 'Click where the text should go, then paste again',
    },
    'place-took-nothing': {
      what: '{place} accepted nothing',
      next: 'Choose another place, or paste it in another form',
    },
    'place-took-part': {
      what: '{place} did not accept everything: {lost} did not arrive',
      next: 'Undo it there and paste another form, or continue without',
    },
    'frame-out-of-reach': {
      what: '{frame} shows a page of another site, which Drawer cannot reach',
      next: 'Copy it and paste it there yourself, or choose another place',
    },
    'clipboard-empty': { what: 'Nothing is on the clipboard', next: 'Copy something first' },
    'clipboard-forms': { what: 'What was copied comes in no form that can be read: {forms}' },
    'clipboard-pastes': {
      what: '{system} does not tell when something was pasted',
      next: 'Put each there by drawer next --into clipboard:',
    },
    'clipboard-large': { what: 'What was copied is larger than {most} MB', next: 'Copy it in parts' },
    'clipboard-overtaken': {
      what: {
        one: '{count} copy was overtaken before it could be read',
        other: '{count} copies were overtaken before they could be read',
      },
    },
    'clipboard-secret': { what: 'The program it was copied in marks it as not to be kept', next: 'Nothing was kept' },
    'clipboard-none': {
      what: 'No clipboard can be reached in this session',
      next: 'Start it within a desktop; today Drawer knows those of X11 and Wayland',
    },
    'clipboard-program': {
      what: 'The clipboard of this desktop needs the program {program}, which is not there',
      next: 'Install your system’s package wl-clipboard',
    },
    'clipboard-not-reached': {
      what: 'The clipboard of {system} at {display} could not be reached',
      next: 'Check that the desktop runs and lets this user in',
    },
    'clipboard-mute': {
      what: 'The program it was copied in did not answer for {seconds} seconds',
      next: 'Copy it once more',
    },
    'clipboard-not-given': { what: 'The clipboard of {system} could not be taken', next: 'Try again' },
    stopped: { what: 'Stopped, as asked' },
    'file-not-open': { what: 'No file is open', next: 'Open one first' },

    'sentence-of-blocks': {
      what: 'Only plain text can be listed in a sentence, and one of the snippets has more than that',
      next: 'Leave it out, or join by paragraph or bullets',
    },
    'link-needs-two': {
      what: 'A link is made of two snippets: words, and an address such as https://…',
      next: 'Name these two, in either order',
    },

    'reference-invalid': {
      what: '“{reference}” is not a reference to snippets',
      next: 'Say a number (3), a range (2-5, 12-, last-4..last), a list (3,5,7-9), first, last, last-1, all, new, held, label:WORD, from:FILE or is:table',
    },
    'reference-unknown': {
      what: 'There is no snippet {reference}',
      next: { one: 'The drawer holds {count} snippet', other: 'The drawer holds {count} snippets' },
    },
    'reference-fits-none': { what: 'No snippet matches {reference}' },
    'reference-fits-several': {
      what: '“{reference}” matches {count} snippets',
      next: 'Name one of them by its number',
    },
    'last-gather-gone': { what: 'Nothing from the last gather is left' },
    'snippet-unknown': { what: 'There is no snippet with the id {id}', next: 'It may have been deleted' },
    'snippet-changed': {
      what: 'Another program has changed the snippet',
      next: 'Read it again; nothing was changed',
    },
    'snippet-built-up': {
      what: 'The snippet “{preview}” was built up of {count} parts',
      next: 'Allow it; nothing was deleted',
    },
    'snippets-would-go': {
      what: {
        one: 'That rule would remove {count} snippet: {snippets}',
        other: 'That rule would remove {count} snippets: {snippets}',
      },
      next: 'Allow it, or hold them first; nothing was changed',
    },
    'snippets-not-replaced': {
      what: 'Snippets of another drawer cannot be replaced',
      next: 'It holds {count}: name the file alone, or one of them by its number, such as #1',
    },
    'snippet-not-there': {
      what: ['There is no snippet {number}', 'There is no such snippet there'],
      next: 'It holds {count}: name them by number, such as #1',
    },
    'drawer-empty': { what: 'The drawer is empty', next: 'Gather something first' },
    'drawer-full': {
      what: 'The drawer is full',
      next: 'Nothing was kept or removed: delete some, change the rules, or use another drawer',
    },
    'drawer-nearly-full': {
      what: 'The drawer has room for {room} more, not for {count}',
      next: 'Nothing was kept or removed: delete some, change the rules, or use another drawer',
    },
    'drawer-bytes-full': {
      what: 'The drawer has no room for that many bytes',
      next: 'Nothing was kept or removed: delete some, change the rules, or use another drawer',
    },
    'file-outside': {
      what: 'The file is outside the folder of the desk, {folder}',
      next: 'Name it when you start the desk: drawer desk FILE',
    },
    'file-not-desk': { what: 'The desk opens no files of this kind', next: 'Its list shows the files that it opens' },
    'origin-ignored': { what: 'The rules of the drawer exclude this source', next: 'Nothing was cut' },
    'gathering-paused': {
      what: [
        {
          one: 'Gathering is paused for another {count} minute',
          other: 'Gathering is paused for another {count} minutes',
        },
        'Gathering is paused',
      ],
      next: 'Nothing was kept',
    },
    'picture-bytes-wrong': {
      what: 'The bytes of a picture are not those of its hash ({hash})',
      next: 'A picture goes by the SHA-256 of its bytes, and these may be damaged; nothing was kept',
    },
    'picture-bytes-missing': {
      what: 'A picture came without its bytes ({hash})',
      next: 'Hand its bytes over with it, or leave the picture out; nothing was kept',
    },
    'rule-invalid': { what: 'Unknown rule “{words}”', next: 'Use NAME=VALUE, with one of {rules}' },
    'rule-unknown': { what: 'Unknown rule {name}' },
    'rule-value-invalid': { what: '{name} does not accept “{value}”', next: 'It accepts {takes}' },
    'duration-invalid': {
      what: 'Unknown duration “{words}”',
      next: 'Use a number with s, m, h, d or w, such as 10m or 7d',
    },
    'rules-damaged': { what: 'The rules of the drawer are damaged', next: 'Nothing was changed' },
    'action-final': {
      what: '“{action}” cannot be undone: what was secret is gone for good',
      next: 'Undo once more to take back the action before it',
    },
    'undo-not-own': {
      what: 'You did not make this change on this computer, so the file is left unchanged',
    },
    'undo-file-changed': {
      what: 'The file has changed since, so it is left unchanged',
      next: 'Put it back as it was. What the drawer holds is still there',
    },
    'undo-file-gone': {
      what: 'The file is not there any more',
      next: 'Put it back as it was. What the drawer holds is still there',
    },
    'undo-bytes-missing': {
      what: 'The drawer no longer holds the file’s earlier contents',
      next: 'What the drawer holds is still there',
    },
    'undo-bytes-damaged': {
      what: 'The file’s earlier contents are damaged in the drawer',
      next: 'What the drawer holds is still there',
    },
    'undo-drawer-gone': { what: 'The drawer is gone', next: 'Put it back where it was' },
    'undo-drawer-changed': {
      what: 'The drawer has changed since',
      next: 'Undo the later actions there first',
    },
    'undo-not-here': {
      what: 'Files and other drawers cannot be put back from here',
      next: 'Undo it with the drawer command',
    },
    'own-mark-unusable': {
      what: 'The secret that marks your own changes of files, so that they can be undone, can be neither read nor made',
      next: 'Make sure that you can read and write there; nothing was changed',
    },

    'drawer-unknown': { what: 'There is no drawer “{name}”', next: 'Your drawers are {drawers}' },
    'drawer-missing': { what: 'There is no drawer' },
    'drawer-is-folder': {
      what: 'This is a folder, and a drawer is a file',
      next: 'Name a file in it, such as my.drawer',
    },
    'drawer-not-one': {
      what: 'The file is not a drawer',
      next: 'Name a drawer’s file, or one that does not exist yet; nothing was changed',
    },
    'drawer-newer': {
      what: 'The drawer belongs to a newer version of Drawer',
      next: 'Get that version to open it; nothing was changed',
    },
    'drawer-closed': { what: 'The drawer is closed', next: 'Open it again; nothing was changed' },
    'drawer-busy': {
      what: 'Another program is using the drawer',
      next: 'Try again in a moment; nothing was changed',
    },
    'drawer-replaced': {
      what: 'The drawer’s file was moved, deleted or replaced while it was open',
      next: 'Open it again; nothing was changed',
    },
    'drawer-disk-full': { what: 'The disk is full', next: 'Make room and try again; nothing was changed' },
    'drawer-read-only': { what: 'You are not allowed to write the drawer there', next: 'Choose another place' },
    'drawer-not-opened': { what: 'The drawer could not be opened', next: 'Check the path, or choose another' },
    'drawer-damaged': { what: 'The drawer’s file is damaged', next: 'Nothing was changed' },
    'drawer-disk-failed': {
      what: 'The disk failed to read or write',
      next: 'It may be full or failing; what the drawer held is still in it',
    },
    'drawer-failed': { what: 'The drawer could not be used ({detail})', next: 'Nothing was changed' },
    'drawer-not-whole': {
      what: 'The drawer is not whole',
      next: 'What is named can be deleted; the rest is as it was',
    },
    'drawer-changed-outside': {
      what: 'The locked drawer was changed outside Drawer: rows were restored, removed or refiled',
      next: 'Nothing was changed',
    },
    'drawer-has-foreign-parts': {
      what: '{name} does not belong in the file; somebody may have tampered with it ({type})',
      next: 'Nothing was changed',
    },
    'row-damaged': {
      what: ['A row of the drawer is damaged ({problem})', 'A row of the drawer is damaged'],
      next: 'Nothing was changed',
    },
    'row-missing': { what: 'The snippet is counted but missing' },
    'rescue-failed': { what: 'Nothing of the damaged drawer can be read', next: 'It was left as it is' },
    'browser-full': {
      what: 'The browser has no more room for this site',
      next: 'Nothing was kept: delete some snippets, or free space',
    },
    'browser-closed': {
      what: 'The browser has closed the drawer, since a newer program has it open or its data were cleared',
      next: 'Load the page again; nothing was changed',
    },
    'browser-keeps-nothing': {
      what: 'The browser keeps no drawer for this page',
      next: 'Leave private browsing, or allow the site to keep data',
    },
    'browser-failed': { what: 'The browser could not keep that ({detail})', next: 'Nothing was changed' },
    'connection-refused': {
      what: 'No program that serves a drawer answers here',
      next: 'Start drawer desk, and open the address that it prints',
    },
    'connection-lost': {
      what: 'The connection to the drawer broke before the answer came',
      next: 'Look whether it was done before you do it again',
    },
    'connection-failed': {
      what: 'The program that has the drawer failed ({detail})',
      next: 'Look whether it was done',
    },
    'drawer-locked': { what: 'The drawer is locked', next: 'It opens with its passphrase only' },
    'drawer-lock-changed': {
      what: 'The drawer was locked or unlocked by another program',
      next: 'Open it again; nothing was changed',
    },
    'drawer-lock-gone': {
      what: 'The drawer was locked when you last used it, and now it is not: somebody may have replaced it',
      next: 'If you took the lock off elsewhere, or want a new drawer, say so once',
    },
    'drawer-not-lockable': { what: 'This drawer cannot be locked' },
    'passphrase-wrong': { what: 'The passphrase is wrong', next: 'Try again; nothing was changed' },
    'passphrase-short': {
      what: 'A passphrase shorter than {least} characters is easy to guess',
      next: 'Choose one of several words; nothing was locked',
    },

    'command-names-nothing': { what: 'Nothing to gather is named' },
    'command-follow-next': {
      what: '--follow goes on by itself on the clipboard alone',
      next: 'Add --into clipboard:',
    },
    'command-follow-elsewhere': { what: '--follow gathers from the clipboard alone' },
    'command-to-without-from': { what: '--to needs --from' },
    'command-from-and-place': { what: '--from and a place behind # do not go together' },
    'command-format-unknown': { what: 'Drawer does not read the format “{name}”', next: 'Use {formats}' },
    'command-several-places': { what: '“{place}” matches {count} places', next: 'Name one of them' },
    'command-needs-terminal': {
      what: 'Things are picked at a terminal only',
      next: 'Name them by their numbers or places instead',
    },
    'command-pick-what': { what: 'No file to pick from is named' },
    'command-picked-nothing': { what: 'Nothing was picked', next: 'Nothing was changed' },
    'command-options-clash': { what: '{options} cannot be combined', next: 'Use one of them' },
    'command-option-missing': { what: 'Nothing to do is named', next: 'Use one of {options}' },
    'command-preview-of-nothing': {
      what: '--preview shows what would land in a file',
      next: 'Say which with --into; without it the snippets are only printed',
    },
    'command-merge-one': {
      what: 'One snippet alone cannot be merged',
      next: 'Name several, or a range such as 2-5',
    },
    'command-slot-invalid': {
      what: '“{words}” is not a field with a snippet',
      next: 'Use a pair such as --slot Date=3',
    },
    'command-cut-from-input': { what: 'Nothing can be cut out of standard input' },
    'command-edit-secret': { what: 'Snippet {position} is secret, and an editor would keep its words in files' },
    'command-edit-locked': {
      what: 'The drawer is locked, and an editor would keep its words in files that are not',
    },
    'command-editor-missing': {
      what: 'There is no editor to edit in',
      next: 'Say which in the variable EDITOR, such as EDITOR=nano drawer edit 3',
    },
    'command-editor-failed': { what: 'The editor ended with {status}', next: 'Nothing was changed' },
    'command-passphrase-missing': { what: 'A passphrase is needed to lock the drawer' },
    'command-passphrases-differ': { what: 'The two passphrases differ', next: 'Nothing was locked; try again' },
    'nothing-found': { what: { one: 'None of {count} snippet matches', other: 'None of {count} snippets matches' } },
    'nothing-to-split': {
      what: 'Snippet {position} has no parts to split at',
      next: 'Split it by paragraph, item, row, cell or the text between its parts; nothing was changed',
    },
    'sequence-done': { what: 'All {count} snippets are pasted' },
  },
} satisfies {
  readonly parts: { readonly [name: string]: Phrase };
  readonly notes: { readonly [K in NoteKind]: Phrase };
  readonly problems: { readonly [K in Reason]: Problem };
};
