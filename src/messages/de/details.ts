import type { Details } from '../catalogue.ts';

const unchanged = 'Nichts wurde geändert';
const divide = 'Nennen Sie einen Teil davon, oder teilen Sie die Datei; nichts wurde aufbewahrt oder geändert';
const smaller = 'Nennen Sie einen kleineren Bereich, etwa #A1:H200; nichts wurde aufbewahrt oder geändert';
const saveAnew =
  'Öffnen und speichern Sie die Datei im Programm, aus dem sie stammt; nichts wurde aufbewahrt oder geändert';
const saveAndTry = 'Öffnen und speichern Sie die Datei im Programm, aus dem sie stammt, und versuchen Sie es wieder';
const copyInstead = 'Kopieren Sie stattdessen';
const beside = 'Nennen Sie eine Stelle daneben; nichts wurde geschrieben';
const makeRoom =
  'Nichts wurde aufbewahrt, und nichts ging: Löschen Sie etwas, ändern Sie die Regeln, oder nehmen Sie eine andere Schublade';
const stillThere = 'Was in der Schublade liegt, ist noch da';

/** Was selten gesagt wird: Hinweise und Fehler. */
export const details: Details = {
  parts: {
    listMore: '{items} und {count} weitere',
    'count.lines': { one: '{count} Zeile', other: '{count} Zeilen' },
    'count.rows': { one: '{count} Zeile', other: '{count} Zeilen' },
    'count.columns': { one: '{count} Spalte', other: '{count} Spalten' },
    'count.items': { one: '{count} Punkt', other: '{count} Punkte' },
    'count.characters': { one: '{count} Zeichen', other: '{count} Zeichen' },
    'count.filledCells': { one: '{count} gefüllte Zelle', other: '{count} gefüllte Zellen' },
    'count.paragraphs': { one: '{count} Absatz', other: '{count} Absätze' },
    'count.tables': { one: '{count} Tabelle', other: '{count} Tabellen' },
    'count.lists': { one: '{count} Liste', other: '{count} Listen' },
    'size.grid': '{rows} × {columns}',
    'size.points': '{width} × {height} pt',
    'size.empty': 'leer',
    'block.paragraph': 'Absatz',
    'block.table': 'Tabelle',
    'block.list': 'Liste',
    'block.picture': 'Bild',
    'landed.before': 'vor {place}',
    'landed.after': 'nach {place}',
    'landed.start': 'am Anfang von {place}',
    'landed.end': 'am Ende von {place}',
    'landed.replace': 'anstelle von {place}',
    'landed.in': 'in {place}',
    'landed.cells': '{place}',
    'landed.atStart': 'am Anfang',
    'landed.atEnd': 'am Ende',
    'landed.insteadOfAll': 'anstelle von allem',
    'landed.firstRows': 'die ersten Zeilen',
    'landed.newFile': 'eine neue Datei',
    'extended.formula': 'die Formel in {place}',
    'extended.name': 'der Name {name}',
    'extended.area': 'der Druckbereich oder Filter',
    'extended.table': 'die Tabelle {name}',
    'extended.filter': 'der Filter',
    'extended.condition': 'eine bedingte Formatierung',
    'extended.validation': 'eine Gültigkeitsregel',
    'extended.rule': 'eine Regel des Blattes',
    'fault.directoryOutside': 'ihr Verzeichnis liegt hinter ihrem Ende',
    'fault.directoryMissing': 'das Verzeichnis an ihrem Ende fehlt',
    'fault.directoryBroken': 'ihr Verzeichnis ist kaputt',
    'fault.longDirectoryMissing': 'ihr 64-Bit-Verzeichnis fehlt',
    'fault.sizeImpossible': 'sie nennt eine unmögliche Größe',
    'fault.partTwice': 'sie enthält zwei Teile mit dem Namen {part}',
    'fault.partMissing': 'der Teil {part} fehlt',
    'fault.partCut': 'der Teil {part} ist abgeschnitten',
    'fault.partLonger': 'der Teil {part} ist länger als angegeben',
    'fault.partNotUnpacked': 'der Teil {part} lässt sich nicht entpacken',
    'fault.partChanged': 'der Teil {part} ist nicht, was gepackt wurde',
    'fault.snippet': 'Zettel {number}: {problem}',
    'fault.picture': 'Ein Bild: {problem}',
    'fault.history': 'Der Verlauf: {problem}',
    'fault.rules': '{problem}',
    'fault.pictureMissing': 'Zettel {number}: Eines seiner Bilder fehlt',
    'fault.order': 'Zettel {number}: Sein Ordnungsschlüssel liegt nicht über dem vorigen',
    'fault.count': 'Es sind {found} Zettel, nicht die gezählten {count}',
    'fault.pictureBytes': 'Die als {hash}… aufbewahrten Bytes sind andere',
    'fault.schemaMissing': '{name} fehlt in der Datei',
    'fault.schemaForeign': '{name} gehört nicht in die Datei',
    'fault.file': 'Die Datei ist beschädigt: {detail}',
    'fault.indexed': '{found} Zettel lassen sich finden, nicht alle {count}',
    'fault.misfiled': {
      one: '{count} Zettel ist nicht nach Ordnung, Zeit und Größe abgelegt',
      other: '{count} Zettel sind nicht nach Ordnung, Zeit und Größe abgelegt',
    },
    'fault.contents': '{found} Inhalte sind für {count} Zettel aufbewahrt',
    'choice.join': 'Verbindung',
    'choice.order': 'Reihenfolge',
    'choice.total': 'Summe',
    'choice.tidying': 'Art aufzuräumen',
    'choice.side': 'Seite',
    'choice.style': 'Aussehen',
    'choice.spread': 'Art zu verteilen',
    'choice.print': 'Format zum Ausgeben',
    'choice.match': 'Art zuzuordnen',
    'choice.sort': 'Sortierung',
    'choice.sources': 'Art, Quellen zu nennen',
    'takes.most': 'eine Anzahl von Zetteln',
    'takes.size': 'Bytes, etwa 500 MB oder 2 GB',
    'takes.full': 'refuse oder let-go',
    'takes.repeats': 'keep, skip oder to-end',
    'takes.blanks': 'skip oder keep',
    'takes.lasts': 'wie lange, etwa 30d, oder je Art: picture:7d,run:2w; never',
    'takes.ignore': 'Teile von Namen, mit Kommas dazwischen; nothing',
    'takes.secret': 'Teile von Namen, mit Kommas dazwischen; nothing',
    'takes.join': 'nothing, space, line, paragraph oder beliebigen Text',
    'takes.style': 'original, local oder plain',
    'takes.undo': 'eine Anzahl von Schritten',
    'field.any': 'Das Feld',
    'frame.any': 'Der Rahmen',
    'place.any': 'Die Stelle',
    'lost.words': {
      one: 'die Wörter von {count} der {of} Teile',
      other: 'die Wörter von {count} der {of} Teile',
    },
    'lost.pictures': { one: '{count} von {of} Bildern', other: '{count} von {of} Bildern' },
    'lost.both': '{words} und {pictures}',
  },
  notes: {
    'comment-left': 'Kommentar, ausgelassen',
    'cell-comment-left': 'Kommentar zu einer Zelle, ausgelassen',
    'cell-comments-left': 'Kommentare zu Zellen, ausgelassen',
    'deletion-left': 'gelöschter Text einer verfolgten Änderung, ausgelassen',
    'insertion-taken': 'eingefügter Text einer verfolgten Änderung, wie angenommen',
    'move-taken': 'durch eine verfolgte Änderung verschobener Text, am neuen Ort',
    'equation-as-letters': 'Formel, als ihre Buchstaben',
    'object-as-picture': 'eingebettetes Objekt, als sein Bild',
    'inner-document-left': 'Dokument im Dokument, ausgelassen',
    'chart-left': 'Diagramm, ausgelassen',
    'diagram-left': 'Schaubild, ausgelassen',
    'film-left': 'Film oder Ton, ausgelassen',
    'hidden-text-left': 'verborgener Text, ausgelassen',
    'page-break-left': 'Seitenumbruch, ausgelassen',
    'column-break-left': 'Spaltenumbruch, ausgelassen',
    'link-outside-web': 'Link an einen Ort außerhalb des Webs, als bloße Wörter',
    'link-inside-page': 'Link, der außerhalb seiner Seite nirgends hinführt, als bloße Wörter',
    'link-inside-file': 'Link, der außerhalb seiner Datei nirgends hinführt, als bloße Wörter',
    'picture-outside-left': 'Bild außerhalb der Datei, ausgelassen',
    'picture-as-description': 'Bild einer Art, die nicht aufbewahrt wird, als seine Beschreibung',
    'picture-missing': 'Bild, das die Datei nicht enthält',
    'detail-left': 'Einzelheit, die kein Zettel halten kann, ausgelassen',
    'hidden-row-left': 'verborgene Zeile, ausgelassen',
    'hidden-row-taken': 'verborgene Zeile, mitgenommen',
    'hidden-column-left': 'verborgene Spalte, ausgelassen',
    'hidden-column-taken': 'verborgene Spalte, mitgenommen',
    'hidden-sheet-left': 'verborgenes Blatt, ausgelassen',
    'picture-over-cells-left': 'Bild über den Zellen, ausgelassen',
    'drawing-over-cells-left': 'Bilder und Diagramme über den Zellen, ausgelassen',
    'secret-left': 'geheimer Zettel, dort gelassen',
    'results-out-of-date': {
      one: '{count} Ergebnis ist veraltet: Öffnen und speichern Sie die Datei in ihrem Programm',
      other: '{count} Ergebnisse sind veraltet: Öffnen und speichern Sie die Datei in ihrem Programm',
    },
    'picture-without-cell': 'Bild, ausgelassen: Es hat keine Zelle für sich',
    'picture-not-in-cells': 'Bild, ausgelassen: Zellen enthalten Wörter und Zahlen',
    'blank-rows-left': { one: '{count} leere Zeile ausgelassen', other: '{count} leere Zeilen ausgelassen' },
    'blank-columns-left': { one: '{count} leere Spalte ausgelassen', other: '{count} leere Spalten ausgelassen' },
    'formulas-at-emptied': 'Formeln, die auf die geleerten Zellen zeigen: {cells}',
    'extended-to-rows': 'auf die neuen Zeilen ausgedehnt: {places}',
    'heading-not-cut': 'Kopfzeile einer Tabelle, ohne die sie nicht sein kann, kopiert und nicht ausgeschnitten',
    'formula-made-safe': 'ein Zeichen davor, damit keine Tabelle es als Formel ausführt',
    'behind-paragraph': 'mehr als Wörter, deshalb steht es hinter dem Absatz und nicht darin',
    'decimals-ambiguous':
      '„{one}“ und „{other}“ schreiben Dezimalzahlen vielleicht verschieden; sie bleiben Wörter und sind in keiner Summe',
    'table-stacked': 'Tabelle unter die darüber gesetzt, deren Kopf derselbe ist',
    'table-apart': 'Tabelle getrennt von der darüber, deren Kopf ein anderer ist (als Zeilen verbunden sind sie eine)',
    'column-added': 'Spalte „{name}“ fehlt in der Tabelle darüber: am Ende angefügt',
    'column-missing': 'Spalte „{name}“ fehlt in einer Tabelle darunter: leer gelassen',
    'not-added-up-counter': 'Spalte {column} wird nicht summiert: Sie zählt die Zeilen',
    'not-added-up-years': 'Spalte {column} wird nicht summiert: Sie enthält Jahre',
    'not-added-up-no-amounts': 'Spalte {column} wird nicht summiert: Sie enthält keine Beträge',
    'left-of-total': 'nicht in der Summe: {amounts}',
  },
  problems: {
    'call-invalid': {
      what: 'Was übergeben wurde, nimmt dieser Aufruf nicht an ({detail})',
      next: 'Prüfen Sie Inhalt und Optionen; nichts wurde geschrieben',
    },
    'argument-not-list': { what: '„{argument}“ muss eine Liste sein', next: unchanged },
    'argument-empty': { what: '„{argument}“ muss eine Liste mit wenigstens einem Eintrag sein', next: unchanged },
    'argument-not-text': { what: '„{argument}“ muss ein Text sein', next: unchanged },
    'argument-not-whole': { what: '„{argument}“ muss eine ganze Zahl ab {least} sein', next: unchanged },
    'value-invalid': { what: 'Ungültig ({kind}) bei {path}: {detail}' },
    'value-too-deep': { what: 'Mehr als {depth} Stufen tief verschachtelt ({kind})' },
    'language-unknown': { what: '„{tag}“ bezeichnet keine Sprache', next: 'Etwa en-GB, fr oder pt-BR' },
    'choice-unknown': { what: '„{name}“ gibt es hier nicht ({kind})', next: 'Möglich sind {choices}' },
    'join-unknown': {
      what: '„{name}“ ist keine Verbindung',
      next: 'Möglich sind {choices}, oder Zeichen wie ", " zum Dazwischensetzen',
    },
    'key-unknown': { what: '„{key}“ bezeichnet keine Taste', next: 'Etwa Alt+Shift+K oder Control+Enter' },
    'port-taken': {
      what: 'Port {port} ist von einem anderen Programm belegt',
      next: 'Nennen Sie einen anderen, oder lassen Sie --port weg',
    },
    'port-invalid': { what: '{port} ist kein Port', next: 'Nennen Sie eine Zahl von 1024 bis 65535' },
    'panel-without-drawer': {
      what: 'Das Fach hat keine Schublade',
      next: 'Setzen Sie zuerst seine Eigenschaft drawer',
    },

    'file-missing': { what: 'Diese Datei gibt es nicht', next: 'Prüfen Sie Namen und Ordner' },
    'file-missing-with-place': {
      what: 'Es gibt keine Datei {file} mit einer Stelle #{place}',
      next: 'Prüfen Sie den Namen, oder lassen Sie die Stelle weg, um eine neue Datei zu bekommen',
    },
    'file-is-folder': { what: 'Das ist ein Ordner', next: 'Nennen Sie eine Datei darin' },
    'file-is-device': {
      what: 'Das ist ein Gerät oder eine Leitung und keine Datei',
      next: 'Speichern Sie es als Datei',
    },
    'file-shrank': { what: 'Die Datei wurde kürzer, während sie gelesen wurde', next: 'Versuchen Sie es wieder' },
    'file-unreadable': {
      what: 'Die Datei darf nicht gelesen werden',
      next: 'Bitten Sie ihren Besitzer um das Recht, sie zu lesen',
    },
    'file-read-failed': {
      what: 'Die Datei ließ sich nicht lesen ({detail})',
      next: 'Versuchen Sie es wieder, oder kopieren Sie sie anderswohin',
    },
    'file-empty': { what: 'Die Datei ist leer', next: 'Prüfen Sie, ob sie ganz gespeichert oder kopiert wurde' },
    'file-misnamed': {
      what: 'Die Datei heißt wie {ending}, ist aber keine solche',
      next: 'Prüfen Sie, ob sie ganz gespeichert oder kopiert wurde',
    },
    'file-encrypted': {
      what: 'Die Datei ist durch ein Kennwort geschützt',
      next: 'Öffnen Sie sie in ihrem Programm, speichern Sie eine Kopie ohne Kennwort, und nehmen Sie diese',
    },
    'file-kind-unsupported': {
      what: 'Dateien dieser Art werden nicht gelesen ({kind})',
      next: 'Gelesen werden {endings} und Verwandtes',
    },
    'file-kind-unknown': { what: 'Diese Art von Datei ist unbekannt', next: 'Gelesen werden {endings} und Verwandtes' },
    'file-kind-old': {
      what: 'Das ist eine alte binäre Bürodatei ({ending}), die nicht gelesen wird',
      next: 'Öffnen Sie sie in ihrem Programm und speichern Sie sie als {better}',
    },
    'opendocument-kind-unsupported': {
      what: 'Diese Art von OpenDocument-Datei wird nicht gelesen ({kind})',
      next: 'Gelesen werden Textdokumente (.odt) und Tabellen (.ods)',
    },
    'file-exists': { what: 'Die Datei gibt es schon', next: 'Nennen Sie eine, die es noch nicht gibt' },
    'file-open-elsewhere': {
      what: 'Die Datei ist in einem anderen Programm offen',
      next: 'Schließen Sie sie dort und versuchen Sie es wieder; nichts wurde geschrieben',
    },
    'file-read-only': {
      what: 'Die Datei darf nicht geschrieben werden',
      next: 'Nehmen Sie eine Kopie davon; nichts wurde geschrieben',
    },
    'file-busy': {
      what: 'Ein anderes Programm ändert die Datei seit einer Minute',
      next: 'Versuchen Sie es wieder, wenn es fertig ist; nichts wurde geschrieben',
    },
    'file-changed': {
      what: 'Die Datei hat sich geändert, seit sie gelesen wurde',
      next: 'Schließen Sie sie in anderen Programmen und versuchen Sie es wieder; nichts wurde geändert',
    },
    'file-write-failed': {
      what: 'Die Datei ließ sich nicht schreiben ({detail})',
      next: 'Wählen Sie einen anderen Ort; nichts wurde geschrieben',
    },
    'file-too-large-there': {
      what: 'Die Datei würde größer, als Dateien dort sein dürfen',
      next: 'Wählen Sie einen anderen Ordner; nichts wurde geschrieben',
    },
    'folder-missing': {
      what: 'Diesen Ordner gibt es nicht',
      next: 'Legen Sie ihn zuerst an, oder wählen Sie einen anderen; nichts wurde geschrieben',
    },
    'folder-read-only': {
      what: 'In diesen Ordner darf nicht geschrieben werden',
      next: 'Wählen Sie einen anderen Ordner; nichts wurde geschrieben',
    },
    'disk-full': {
      what: 'Der Datenträger ist voll',
      next: 'Schaffen Sie Platz und versuchen Sie es wieder; nichts wurde geschrieben',
    },
    'call-unknown': {
      what: 'Das Programm mit der Schublade kennt den Aufruf {name} nicht',
      next: 'Bringen Sie beide Programme auf denselben Stand',
    },
    'files-not-here': { what: 'Von hier aus lassen sich keine Dateien schreiben' },

    'zip-damaged': {
      what: 'Die Datei ist beschädigt oder unvollständig: {fault}',
      next: 'Holen Sie sie noch einmal, oder öffnen und speichern Sie sie im Programm, aus dem sie stammt',
    },
    'zip-not-office': {
      what: 'Das ist eine Zip-Datei, aber kein Dokument und keine Arbeitsmappe',
      next: 'Entpacken Sie sie und nennen Sie eine Datei daraus',
    },
    'zip-not-opendocument': {
      what: 'Das ist eine Zip-Datei, aber keine OpenDocument-Datei',
      next: 'Entpacken Sie sie und nennen Sie eine Datei daraus',
    },
    'part-encrypted': {
      what: 'Der Teil {part} ist verschlüsselt',
      next: 'Speichern Sie die Datei ohne Kennwort und versuchen Sie es wieder',
    },
    'part-packed-unknown': {
      what: 'Der Teil {part} ist nach Verfahren {method} gepackt, das Bürodateien nicht verwenden',
    },
    'part-not-xml': { what: 'Der Teil {part} ist kein wohlgeformtes XML ({detail})', next: saveAndTry },
    'part-has-doctype': {
      what: 'Der Teil {part} hat eine eigene Dokumenttyp-Deklaration, die keine Bürodatei braucht',
      next: saveAndTry,
    },
    'part-utf16': { what: 'Der Teil {part} ist in UTF-16 geschrieben, was Büroprogramme nicht tun', next: saveAndTry },
    'rows-out-of-order': {
      what: 'Eine Zeile des Blattes trägt die Nummer {row}, hinter Zeile {before}',
      next: saveAndTry,
    },
    'json-broken': { what: 'Die Datei ist kein JSON', next: 'Prüfen Sie, ob sie ganz gespeichert wurde' },
    'picture-damaged': {
      what: 'Das Bild ist beschädigt, oder größer als Bilder sind',
      next: 'Öffnen Sie es in seinem Programm und speichern Sie es neu',
    },
    'package-too-large': { what: 'Die Datei ist zu groß, um geändert zu werden', next: copyInstead },
    'package-signed': {
      what: 'Die Datei ist signiert, und eine Änderung bräche die Signatur',
      next: 'Nehmen Sie eine Kopie ohne sie; nichts wurde geschrieben',
    },
    'package-list-closed': {
      what: 'Der Liste „{list}“ der Datei lässt sich nichts hinzufügen, so wie sie geschrieben ist',
      next: 'Öffnen und speichern Sie die Datei zuerst in einem Büroprogramm',
    },

    'over-characters': {
      what: 'Sie hat mehr als {most} Zeichen, wobei eine Anmerkung so oft zählt, wie auf sie verwiesen wird',
      next: divide,
    },
    'over-blocks': { what: 'Sie hat mehr als {most} Absätze und Tabellen', next: divide },
    'editor-cells': {
      what: 'Die Tabellen darin haben {count} Zellen, und ein Editor für Dokumente zeigt höchstens {most} auf einmal',
      next: 'Fügen Sie sie in eine Tabelle ein, oder mit drawer paste --into in eine Datei',
    },
    'over-cells': { what: 'Sie hat mehr als {most} gefüllte Zellen', next: divide },
    'over-fields': {
      what: 'Die Datei hat mehr als {most} Felder',
      next: 'Teilen Sie die Datei; nichts wurde aufbewahrt oder geändert',
    },
    'over-places': { what: 'Sie hat mehr als {most} leere oder wiederholte Zellen', next: smaller },
    'over-columns': { what: 'Sie hat eine Zeile mit mehr als {most} Spalten', next: smaller },
    'over-words': { what: 'Die Zellen wiederholen ihre Wörter zu mehr als {most} Zeichen', next: smaller },
    'over-parts': { what: 'Sie enthält mehr als {most} Teile', next: saveAnew },
    'over-unpacked': { what: 'Der Teil {part} wird entpackt größer als {most} Bytes', next: saveAnew },
    'over-ratio': { what: 'Der Teil {part} wird entpackt mehr als {most}-mal so groß', next: saveAnew },
    'over-xmlDepth': { what: 'Der Teil {part} ist mehr als {most} Elemente tief verschachtelt', next: saveAnew },
    'over-xmlLength': {
      what: 'Der Teil {part} hat eine Auszeichnung, einen Text oder eine Zeile von mehr als {most} Bytes',
      next: saveAnew,
    },
    'over-sheetHead': { what: 'Der Teil {part} hat mehr als {most} Bytes vor seinen Zellen', next: saveAnew },
    'over-text': { what: 'Die Datei hat mehr als {most} Bytes', next: divide },
    'over-values': {
      what: 'Die Datei hat mehr als {most} Bytes',
      next: 'Teilen Sie die Datei; nichts wurde aufbewahrt oder geändert',
    },
    'over-tags': { what: 'Sie hat mehr als {most} Auszeichnungen', next: divide },
    'over-elements': { what: 'Ihre Elemente sind mehr als {most} tief verschachtelt', next: divide },
    'over-nesting': { what: 'Sie ist mehr als {most} tief verschachtelt', next: divide },
    'over-depth': { what: 'Ihre Zitate und Listen liegen mehr als {most} tief ineinander', next: divide },
    'over-signs': {
      what: 'Ein Absatz hat mehr als {most} Zeichen für Betonung, Links und Programmtext',
      next: divide,
    },
    'over-turns': {
      what: 'Sie hat mehr als {most} unterstrichene Überschriften oder aus Zitaten weiterlaufende Zeilen ohne Leerzeile',
      next: divide,
    },

    'place-kind-unknown': {
      what: 'Stellen der Art „{kind}“ gibt es nicht',
      next: 'Die Arten sind {kinds}, ein Bereich wie Timber!B2:D9, oder :~:text= und zitierte Wörter',
    },
    'place-name-missing': { what: 'Ein Name fehlt', next: 'Etwa #{kind}=Hull condition' },
    'place-number-invalid': {
      what: '„{words}“ ist keine Nummer und kein Bereich von Nummern',
      next: 'Etwa #{kind}=2 oder #{kind}=2-4',
    },
    'place-rows-invalid': {
      what: '„{words}“ ist keine Zeile und kein Bereich von Zeilen',
      next: 'Etwa #table={table}!row=5-7',
    },
    'place-position-invalid': { what: '„{words}“ ist keine Position und kein Bereich', next: 'Etwa #{kind}=3,9' },
    'place-check-invalid': { what: '„{words}“ ist keine Prüfung', next: 'RFC 5147 kennt length= und md5=' },
    'place-selection-invalid': { what: '„{words}“ passt nicht zu {kind}', next: 'Etwa #{example}' },
    'place-range-invalid': {
      what: '„{words}“ ist kein Bereich von Zellen',
      next: 'Etwa Timber!B2:D9, Timber!B2, Timber!B:C oder Timber!3:5',
    },
    'place-quote-invalid': {
      what: 'Das sind keine zitierten Wörter',
      next: 'Etwa #:~:text=from%20here,to%20there',
    },
    'place-kind-not-here': {
      what: 'Diese Datei hat keine Stelle wie „{place}“',
      next: ['Sie hat Abschnitte, etwa #section={section}', 'Nennen Sie eine wie #{example}'],
    },
    'place-empty': { what: 'Bei #{place} ist nichts', next: 'Die Datei hat {rows} und {columns}' },
    'section-unknown': {
      what: 'Es gibt keinen Abschnitt „{name}“',
      next: [
        'Am nächsten liegt #section={near}',
        'Sie hat keine Überschriften; nehmen Sie #paragraph= oder zitieren Sie Wörter',
      ],
    },
    'section-number-unknown': {
      what: {
        one: 'Es gibt nur einen Abschnitt namens „{name}“',
        other: 'Es gibt nur {count} Abschnitte namens „{name}“',
      },
    },
    'section-ambiguous': {
      what: '{count} Abschnitte heißen „{name}“',
      next: 'Sagen Sie, welchen: #section={name};1 bis #section={name};{count}',
    },
    'section-start-ambiguous': {
      what: '{count} Abschnitte beginnen mit „{name}“',
      next: 'Sagen Sie, welchen: {sections}',
    },
    'block-unknown': {
      what: ['Diese Stellen gibt es nicht: {kind} {from} bis {to}', '{kind} {from} gibt es nicht'],
      next: ['Vorhanden: {count}; die letzte Stelle ist #{place}={last}', 'Davon hat sie nichts Eigenes ({kind})'],
    },
    'bookmark-unknown': {
      what: 'Es gibt keine Textmarke „{name}“',
      next: ['Am nächsten liegt #bookmark={near}', 'Sie hat keine Textmarken'],
    },
    'bookmark-empty': {
      what: 'An der Textmarke „{name}“ ist nichts',
      next: ['Sie hat Abschnitte, etwa #section={section}', 'Nennen Sie eine andere Stelle, etwa #{example}'],
    },
    'quote-unknown': {
      what: ['Die Wörter „{start}“ bis „{end}“ stehen nicht darin', 'Die Wörter „{start}“ stehen nicht darin'],
      next: 'Zitieren Sie ganze Wörter, wie sie dort stehen',
    },
    'picture-unknown': {
      what: ['Es gibt kein Bild {number}', 'In einem Bild gibt es keine Stellen'],
      next: ['Das letzte ist #picture={last}', 'Sie hat keine Bilder', 'Nennen Sie nur die Datei'],
    },
    'position-empty': {
      what: '{kind}={from} ist eine Position, die nichts enthält',
      next: 'Sie hat {count}: nennen Sie 0 bis {last}, etwa #{kind}=0,{example}',
    },
    'position-unknown': {
      what: 'Bei {kind}={from} ist nichts',
      next: 'Sie hat {count}: nennen Sie 0 bis {last}, etwa #{kind}=0,{example}',
    },
    'text-changed': {
      what: 'Der Text hat sich geändert, seit die Stelle notiert wurde: Ihre Prüfung stimmt nicht',
      next: 'Lassen Sie die Prüfung weg, um zu nehmen, was jetzt dort steht',
    },
    'table-cells-unknown': { what: 'Tabelle {table} hat keine solchen Zellen', next: 'Sie hat {rows} und {columns}' },
    'table-column-unknown': {
      what: 'Tabelle {table} hat keine Spalte „{heading}“',
      next: ['Am nächsten liegt #table={table}!{near}', 'Nennen Sie Zellen, etwa #table={table}!B2'],
    },
    'sheet-none': { what: 'Die Arbeitsmappe hat kein Blatt' },
    'sheet-unknown': {
      what: 'Es gibt kein Blatt „{name}“',
      next: ['Mehrere Namen beginnen so: {names}', 'Am nächsten liegt #{near}'],
    },
    'sheet-name-unknown': {
      what: 'Es gibt kein Blatt und keinen Namen „{name}“',
      next: ['Mehrere Namen beginnen so: {names}', 'Am nächsten liegt #{near}'],
    },
    'name-not-range': {
      what: 'Der Name „{name}“ steht nicht für einen Bereich von Zellen',
      next: 'Nennen Sie die Zellen selbst, etwa #Timber!B2:D9',
    },
    'outline-number-unknown': { what: 'Die Gliederung hat {count} Stellen und keine Nummer {number}' },

    'format-not-read': { what: 'Aus {format}-Dateien wird nichts genommen' },
    'format-not-cut': {
      what: 'Aus einer {format}-Datei lässt sich nichts ausschneiden',
      next: 'Kopieren Sie stattdessen, und löschen Sie die Datei selbst',
    },
    'format-not-pasted': {
      what: 'In eine {format}-Datei lässt sich nichts einfügen',
      next: 'Nennen Sie eine Datei anderer Art: {endings}',
    },
    'format-not-written': {
      what: 'Eine neue Datei dieser Art lässt sich nicht schreiben',
      next: 'Geschrieben werden {endings}',
    },
    'format-not-edited': {
      what: 'Dateien dieser Art werden nicht an Ort und Stelle geändert',
      next: 'Speichern Sie sie als neue Datei',
    },
    'format-without-fields': {
      what: 'Eine {format}-Datei hat keine Stellen zum Ausfüllen',
      next: 'Formulare sind .docx-, .odt-, .xlsx-, .ods- und .html-Dateien',
    },
    'change-unsafe': {
      what: 'Diese Stelle lässt sich nicht ändern, ohne der Datei zu schaden',
      next: 'Ändern Sie sie im Programm, aus dem die Datei stammt. Nichts wurde geschrieben',
    },
    'editor-hides-blocks': {
      what: 'Der Editor zeigt dieses Dokument nicht Block für Block',
      next: 'Speichern Sie es als neue Datei',
    },
    'table-into-cell': {
      what: 'Eine Tabelle passt nicht in eine Zelle einer anderen',
      next: 'Fügen Sie ihre Zellen einzeln ein, oder neben der Tabelle; nichts wurde geschrieben',
    },
    'cell-holds-one-line': {
      what: 'Eine Zelle dieser Datei enthält eine Zeile Wörter',
      next: 'Fügen Sie die Zellen einzeln ein, oder neben der Tabelle; nichts wurde geschrieben',
    },
    'picture-into-cells': {
      what: 'Ein Bild passt nicht in Zellen',
      next: 'Fügen Sie Wörter, Tabellen oder Bereiche in ein Blatt ein; nichts wurde geschrieben',
    },
    'nothing-for-cells': {
      what: 'Darin ist nichts, was in Zellen passt',
      next: 'Fügen Sie Wörter, Tabellen oder Bereiche in ein Blatt ein; nichts wurde geschrieben',
    },
    'place-without-sides': {
      what: 'Die Datei schreibt diese Stelle so, dass nichts daneben gesetzt werden kann',
      next: 'Nennen Sie den Absatz davor oder dahinter',
    },
    'words-not-cuttable': {
      what: 'Die Datei schreibt diese Wörter so, dass sie sich nicht herausnehmen lassen',
      next: 'Kopieren Sie stattdessen, oder schneiden Sie den ganzen Absatz aus',
    },
    'cells-taken': {
      what: [
        'Diese Zellen enthalten schon etwas: {cells}',
        { one: '{count} Zelle dort enthält etwas', other: '{count} Zellen dort enthalten etwas' },
      ],
      next: 'Nennen Sie eine freie Stelle, oder sagen Sie, dass sie ersetzt werden dürfen; nichts wurde geschrieben',
    },
    'table-too-small': {
      what: 'Der Bereich geht unten und rechts über das Ende der Tabelle hinaus',
      next: 'Die Tabelle hat {rows} und {columns}; nennen Sie eine Zelle weiter oben oder links; nichts wurde geschrieben',
    },
    'range-too-wide': {
      what: 'Der Bereich hat {columns}, und die Tabelle hat {width}',
      next: 'Nennen Sie Spalten zum Danebensetzen, oder fügen Sie ihn neben der Tabelle ein; nichts wurde geschrieben',
    },
    'range-too-high': {
      what: 'Der Bereich hat {rows}, und die Tabelle hat {height}',
      next: 'Nennen Sie Zeilen zum Danebensetzen, oder fügen Sie ihn neben der Tabelle ein; nichts wurde geschrieben',
    },
    'merged-cell-in-way': {
      what: 'Eine verbundene Zelle ist im Weg',
      next: 'Nennen Sie andere Zellen, oder fügen Sie den Bereich neben der Tabelle ein. Nichts wurde geschrieben',
    },
    'cell-merged': { what: '{cell} gehört zu einer verbundenen Zelle', next: beside },
    'cells-merged-into-one': {
      what: '{cells} sind zu einer Zelle verbunden, und mehrere kämen hinein',
      next: beside,
    },
    'sheet-too-small': {
      what: 'Es braucht {rows} und {columns}, und die gehen über das Ende des Blattes hinaus',
      next: 'Nennen Sie eine Stelle weiter oben oder links; nichts wurde geschrieben',
    },
    'table-headings-in-way': {
      what: 'Die Kopfzeile der Tabelle {table} würde überschrieben',
      next: 'Nennen Sie eine Stelle unter Zeile {row}; nichts wurde geschrieben',
    },
    'formula-shared': { what: 'Die Formel in {cell} steht auch für andere Zellen', next: beside },
    'formula-fills-several': {
      what: 'Eine Formel füllt {cells} gemeinsam, deshalb lässt sich kein Teil davon ausschneiden',
      next: 'Schneiden Sie {cells} ganz aus, oder kopieren Sie stattdessen',
    },
    'sheet-protected': {
      what: 'Das Blatt {sheet} ist vor Änderungen geschützt',
      next: 'Heben Sie den Schutz zuerst in einem Büroprogramm auf; nichts wurde geschrieben',
    },
    'document-protected': {
      what: 'Das Dokument ist vor Änderungen geschützt',
      next: 'Heben Sie den Schutz zuerst in einem Büroprogramm auf; nichts wurde geschrieben',
    },
    'document-without-body': {
      what: 'Die Datei hat keinen Text, in den etwas eingefügt werden könnte',
      next: 'Öffnen und speichern Sie sie zuerst in einem Büroprogramm',
    },
    'place-not-pasted': {
      what: 'Bei #{place} lässt sich nichts einfügen',
      next: 'Nennen Sie Zeilen, etwa #row=5, oder eine Zelle, etwa #B4',
    },
    'quotes-unpaired': {
      what: 'Die Anführungszeichen der Datei gehen nicht auf, deshalb lässt sich kein Feld sicher herausnehmen',
      next: 'Kopieren Sie stattdessen, oder berichtigen Sie zuerst die Anführungszeichen',
    },
    'encoding-not-written': {
      what: 'Die Zeichenkodierung der Datei ({encoding}) lässt sich nicht schreiben',
      next: 'Kopieren Sie stattdessen, oder speichern Sie die Datei zuerst als UTF-8',
    },
    'encodings-mixed': {
      what: 'Die Datei mischt Zeichenkodierungen, deshalb lässt sich kein Teil herausnehmen, ohne andere zu ändern',
      next: 'Kopieren Sie stattdessen, oder speichern Sie die Datei zuerst als UTF-8',
    },
    'fields-none': {
      what: 'Darin ist nichts auszufüllen',
      next: 'Nötig sind Inhaltssteuerelemente, Textmarken oder Felder',
    },
    'field-unknown': { what: 'Es gibt keine Stelle „{name}“ zum Ausfüllen', next: 'Vorhanden sind {names}' },
    'field-is-box': {
      what: 'Ein Kästchen ist angekreuzt oder nicht und nimmt keine Wörter',
      next: 'Geben Sie true oder false an; nichts wurde geschrieben',
    },
    'field-choice-unknown': {
      what: '„{value}“ steht nicht zur Wahl',
      next: 'Zur Wahl stehen {choices}; nichts wurde geschrieben',
    },
    'field-refused': { what: '{field} nimmt nichts an', next: 'Wählen Sie eine andere Stelle' },
    'field-too-short': {
      what: '{field} nimmt {most} Zeichen an, und das wären mehr',
      next: 'Nichts wurde hineingesetzt',
    },
    'field-value-refused': { what: '„{value}“ nimmt {field} nicht an', next: 'Das Feld ist, wie es war' },
    'nothing-selected': { what: 'Nichts ist markiert', next: 'Markieren Sie zuerst etwas' },
    'place-missing': {
      what: 'Es gibt keine Stelle zum Einfügen',
      next: 'Gehen Sie dorthin, wo es hin soll, und fügen Sie dann noch einmal ein',
    },
    'place-took-nothing': {
      what: '{place} hat nichts davon angenommen',
      next: 'Wählen Sie eine andere Stelle oder eine andere Form davon',
    },
    'place-took-part': {
      what: '{place} hat nicht alles angenommen: {lost} kamen nicht an',
      next: 'Machen Sie es dort rückgängig und wählen Sie eine andere Form davon, oder machen Sie ohne weiter',
    },
    'frame-out-of-reach': {
      what: '{frame} zeigt eine Seite einer anderen Website, die nicht erreichbar ist',
      next: 'Kopieren Sie es und fügen Sie es dort selbst ein, oder wählen Sie eine andere Stelle',
    },
    'clipboard-empty': { what: 'In der Zwischenablage ist nichts', next: 'Kopieren Sie zuerst etwas' },
    'clipboard-forms': { what: 'Was kopiert wurde, liegt in keiner lesbaren Form vor: {forms}' },
    'clipboard-pastes': {
      what: '{system} sagt nicht, wann etwas eingefügt wurde',
      next: 'Legen Sie jedes dorthin mit drawer next --into clipboard:',
    },
    'clipboard-large': { what: 'Was kopiert wurde, ist größer als {most} MB', next: 'Kopieren Sie es in Teilen' },
    'clipboard-overtaken': {
      what: {
        one: '{count} Kopie wurde überholt, bevor sie zu lesen war',
        other: '{count} Kopien wurden überholt, bevor sie zu lesen waren',
      },
    },
    'clipboard-secret': {
      what: 'Das Programm, in dem es kopiert wurde, will es nicht aufbewahrt haben',
      next: 'Nichts wurde aufbewahrt',
    },
    'clipboard-none': {
      what: 'In dieser Sitzung ist keine Zwischenablage zu erreichen',
      next: 'Starten Sie es in einem Desktop; bisher kennt Drawer die von X11 und Wayland',
    },
    'clipboard-program': {
      what: 'Die Zwischenablage dieses Desktops braucht das Programm {program}, das fehlt',
      next: 'Installieren Sie das Paket wl-clipboard Ihres Systems',
    },
    'clipboard-not-reached': {
      what: 'Die Zwischenablage von {system} auf {display} war nicht zu erreichen',
      next: 'Prüfen Sie, ob der Desktop läuft und diesen Benutzer einlässt',
    },
    'clipboard-mute': {
      what: 'Das Programm, in dem es kopiert wurde, hat {seconds} Sekunden lang nicht geantwortet',
      next: 'Kopieren Sie es noch einmal',
    },
    'clipboard-not-given': {
      what: 'Die Zwischenablage von {system} war nicht zu bekommen',
      next: 'Versuchen Sie es noch einmal',
    },
    stopped: { what: 'Angehalten, wie gewünscht' },
    'file-not-open': { what: 'Keine Datei ist offen', next: 'Öffnen Sie zuerst eine' },

    'sentence-of-blocks': {
      what: 'Ein Satz kann nur Wörter aufzählen, und einer der Zettel ist mehr als das',
      next: 'Lassen Sie ihn weg, oder verbinden Sie durch Absätze oder Punkte',
    },
    'link-needs-two': {
      what: 'Ein Link besteht aus zwei Zetteln: Wörtern und einer Adresse wie https://…',
      next: 'Nennen Sie diese zwei, in beliebiger Reihenfolge',
    },

    'reference-invalid': {
      what: '„{reference}“ bezeichnet keinen Zettel',
      next: 'Etwa eine Nummer (3), ein Bereich (2-5, 12-, last-4..last), eine Liste (3,5,7-9), first, last, last-1, all, new, held, label:WORT, from:DATEI oder is:table',
    },
    'reference-unknown': {
      what: 'Einen Zettel {reference} gibt es nicht',
      next: { one: 'Die Schublade enthält {count} Zettel', other: 'Die Schublade enthält {count} Zettel' },
    },
    'reference-fits-none': { what: 'Kein Zettel passt zu {reference}' },
    'reference-fits-several': {
      what: '„{reference}“ bezeichnet {count} Zettel',
      next: 'Nennen Sie einen davon mit seiner Nummer',
    },
    'last-gather-gone': { what: 'Vom letzten Sammeln ist nichts mehr da' },
    'snippet-unknown': {
      what: 'Es gibt keinen Zettel mit der Kennung {id}',
      next: 'Vielleicht wurde er gelöscht',
    },
    'snippet-changed': {
      what: 'Der Zettel wurde inzwischen von einem anderen Programm geändert',
      next: 'Lesen Sie ihn neu; nichts wurde geändert',
    },
    'snippet-built-up': {
      what: 'Der Zettel „{preview}“ wurde aus {count} Teilen zusammengesetzt',
      next: 'Sagen Sie, dass er trotzdem gehen darf; nichts wurde gelöscht',
    },
    'snippets-would-go': {
      what: {
        one: 'Nach dieser Regel müsste {count} Zettel gehen: {snippets}',
        other: 'Nach dieser Regel müssten {count} Zettel gehen: {snippets}',
      },
      next: 'Sagen Sie, dass sie gehen dürfen, oder halten Sie sie vorher fest; nichts wurde geändert',
    },
    'snippets-not-replaced': {
      what: 'Zettel einer anderen Schublade werden nicht ersetzt',
      next: 'Sie enthält {count}: nennen Sie nur die Datei, oder einen davon mit seiner Nummer, etwa #1',
    },
    'snippet-not-there': {
      what: ['Einen Zettel {number} gibt es nicht', 'Einen solchen Zettel gibt es dort nicht'],
      next: 'Vorhanden sind {count}: nennen Sie Nummern, etwa #1',
    },
    'drawer-empty': { what: 'Die Schublade ist leer', next: 'Sammeln Sie zuerst etwas' },
    'drawer-full': { what: 'Die Schublade ist voll', next: makeRoom },
    'drawer-nearly-full': {
      what: 'Die Schublade hat Platz für {room} weitere, nicht für {count}',
      next: makeRoom,
    },
    'drawer-bytes-full': { what: 'Die Schublade hat keinen Platz für so viele Bytes', next: makeRoom },
    'file-outside': {
      what: 'Die Datei liegt außerhalb des Ordners dieses Schreibtischs, {folder}',
      next: 'Nennen Sie sie beim Start: drawer desk DATEI',
    },
    'file-not-desk': {
      what: 'Dateien dieser Art öffnet der Schreibtisch nicht',
      next: 'Seine Liste zeigt die Dateien, die er öffnet',
    },
    'origin-ignored': {
      what: 'Nach den Regeln der Schublade wird von dort nichts gesammelt',
      next: 'Nichts wurde ausgeschnitten',
    },
    'gathering-paused': {
      what: [
        {
          one: 'Das Sammeln ruht noch {count} Minute',
          other: 'Das Sammeln ruht noch {count} Minuten',
        },
        'Das Sammeln ruht, bis Sie es sagen',
      ],
      next: 'Nichts wurde aufbewahrt',
    },
    'picture-bytes-wrong': {
      what: 'Die Bytes eines Bildes gehören nicht zu seiner Prüfsumme ({hash})',
      next: 'Ein Bild geht nach dem SHA-256 seiner Bytes, und diese sind vielleicht beschädigt; nichts wurde aufbewahrt',
    },
    'picture-bytes-missing': {
      what: 'Ein Bild kam ohne seine Bytes ({hash})',
      next: 'Übergeben Sie seine Bytes mit, oder lassen Sie das Bild weg; nichts wurde aufbewahrt',
    },
    'rule-invalid': { what: '„{words}“ ist keine Regel', next: 'NAME=WERT, mit einem von {rules}' },
    'rule-unknown': { what: 'Eine Regel {name} gibt es nicht' },
    'rule-value-invalid': { what: '{name} nimmt „{value}“ nicht an', next: 'Angenommen wird: {takes}' },
    'duration-invalid': {
      what: '„{words}“ ist keine Zeit',
      next: 'Eine Zahl mit s, m, h, d oder w, etwa 10m oder 7d',
    },
    'rules-damaged': { what: 'Die Regeln der Schublade sind beschädigt', next: unchanged },
    'action-final': {
      what: '„{action}“ lässt sich nicht rückgängig machen: Was geheim war, ist endgültig fort',
      next: 'Noch einmal Rückgängig nimmt den Schritt davor zurück',
    },
    'undo-not-own': {
      what: 'Was diese Schublade über die Datei sagt, haben nicht Sie an diesem Rechner geschrieben; die Datei bleibt, wie sie ist',
    },
    'undo-file-changed': {
      what: 'Die Datei hat sich seitdem geändert und bleibt, wie sie ist',
      next: `Bringen Sie sie in den alten Stand. ${stillThere}`,
    },
    'undo-file-gone': {
      what: 'Die Datei ist nicht mehr da',
      next: `Bringen Sie sie zurück. ${stillThere}`,
    },
    'undo-bytes-missing': {
      what: 'Was sie bräuchte, um wie zuvor zu sein, ist nicht mehr in der Schublade',
      next: stillThere,
    },
    'undo-bytes-damaged': {
      what: 'Was sie bräuchte, um wie zuvor zu sein, ist in der Schublade beschädigt',
      next: stillThere,
    },
    'undo-drawer-gone': { what: 'Die Schublade ist fort', next: 'Bringen Sie sie an ihren Ort zurück' },
    'undo-drawer-changed': {
      what: 'Die Schublade hat sich seitdem geändert',
      next: 'Machen Sie dort zuerst die späteren Schritte rückgängig',
    },
    'undo-not-here': {
      what: 'Dateien und andere Schubladen lassen sich von hier aus nicht zurückversetzen',
      next: 'Machen Sie es mit dem Befehl drawer rückgängig',
    },
    'own-mark-unusable': {
      what: 'Das Geheimnis, das Ihre eigenen Änderungen an Dateien kennzeichnet, lässt sich weder lesen noch anlegen',
      next: 'Sorgen Sie dafür, dass Sie dort lesen und schreiben dürfen; nichts wurde geändert',
    },

    'drawer-unknown': { what: 'Eine Schublade „{name}“ gibt es nicht', next: 'Ihre Schubladen sind {drawers}' },
    'drawer-missing': { what: 'Dort ist keine Schublade' },
    'drawer-is-folder': {
      what: 'Das ist ein Ordner, und eine Schublade ist eine Datei',
      next: 'Nennen Sie eine Datei darin, etwa my.drawer',
    },
    'drawer-not-one': {
      what: 'Die Datei ist keine Schublade',
      next: 'Nennen Sie die Datei einer Schublade, oder eine, die es noch nicht gibt; nichts wurde geändert',
    },
    'drawer-newer': {
      what: 'Die Schublade stammt von einer neueren Version oder wurde inzwischen auf eine gehoben',
      next: 'Holen Sie diese Version, um sie zu öffnen; nichts wurde geändert',
    },
    'drawer-closed': { what: 'Die Schublade ist zu', next: 'Öffnen Sie sie wieder; nichts wurde geändert' },
    'drawer-busy': {
      what: 'Ein anderes Programm beschäftigt die Schublade',
      next: 'Versuchen Sie es gleich wieder; nichts wurde geändert',
    },
    'drawer-replaced': {
      what: 'Die Datei der Schublade wurde verschoben, gelöscht oder ersetzt, während sie offen war',
      next: 'Öffnen Sie sie wieder; nichts wurde geändert',
    },
    'drawer-disk-full': {
      what: 'Der Datenträger ist voll',
      next: 'Schaffen Sie Platz und versuchen Sie es wieder; nichts wurde geändert',
    },
    'drawer-read-only': {
      what: 'Die Schublade darf dort nicht geschrieben werden',
      next: 'Wählen Sie einen anderen Ort',
    },
    'drawer-not-opened': {
      what: 'Die Schublade ließ sich nicht öffnen',
      next: 'Prüfen Sie den Pfad, oder wählen Sie einen anderen',
    },
    'drawer-damaged': { what: 'Die Datei der Schublade ist beschädigt', next: unchanged },
    'drawer-disk-failed': {
      what: 'Der Datenträger gab oder nahm nicht, was verlangt war',
      next: 'Er ist vielleicht voll oder schadhaft; was in der Schublade lag, ist noch darin',
    },
    'drawer-failed': { what: 'Die Schublade ließ sich nicht benutzen ({detail})', next: unchanged },
    'drawer-not-whole': {
      what: 'Die Schublade ist nicht heil',
      next: 'Was genannt ist, kann gelöscht werden; der Rest ist, wie er war',
    },
    'drawer-changed-outside': {
      what: 'Die abgeschlossene Schublade ist nicht, wie sie verlassen wurde: Zeilen wurden zurückversetzt, herausgenommen oder anders abgelegt',
      next: unchanged,
    },
    'drawer-has-foreign-parts': {
      what: '{name} gehört nicht in die Datei; sie wurde vielleicht verändert, um zu tun, was niemand verlangt hat ({type})',
      next: unchanged,
    },
    'row-damaged': {
      what: ['Eine Zeile der Schublade ist beschädigt ({problem})', 'Eine Zeile der Schublade ist beschädigt'],
      next: unchanged,
    },
    'row-missing': { what: 'Er ist gezählt, aber nicht da' },
    'rescue-failed': {
      what: 'Von der beschädigten Schublade lässt sich nichts lesen',
      next: 'Sie wurde gelassen, wie sie ist',
    },
    'browser-full': {
      what: 'Der Browser hat für diese Seite keinen Platz mehr',
      next: 'Nichts wurde aufbewahrt: Löschen Sie Zettel, oder schaffen Sie Platz',
    },
    'browser-closed': {
      what: 'Der Browser hat die Schublade geschlossen, weil ein neueres Programm sie offen hat oder ihre Daten gelöscht wurden',
      next: 'Laden Sie die Seite neu; nichts wurde geändert',
    },
    'browser-keeps-nothing': {
      what: 'Der Browser bewahrt für diese Seite keine Schublade auf',
      next: 'Verlassen Sie das private Fenster, oder erlauben Sie der Seite, Daten zu speichern',
    },
    'browser-failed': { what: 'Der Browser konnte das nicht aufbewahren ({detail})', next: unchanged },
    'connection-refused': {
      what: 'Hier antwortet kein Programm, das eine Schublade bereitstellt',
      next: 'Starten Sie drawer desk, und öffnen Sie die Adresse, die es nennt',
    },
    'connection-lost': {
      what: 'Die Verbindung zur Schublade brach ab, bevor die Antwort kam',
      next: 'Sehen Sie nach, ob es getan ist, bevor Sie es wiederholen',
    },
    'connection-failed': {
      what: 'Das Programm mit der Schublade ist gescheitert ({detail})',
      next: 'Sehen Sie nach, ob es getan ist',
    },
    'drawer-locked': { what: 'Die Schublade ist abgeschlossen', next: 'Sie öffnet sich nur mit ihrer Passphrase' },
    'drawer-lock-changed': {
      what: 'Die Schublade wurde von einem anderen Programm ab- oder aufgeschlossen',
      next: 'Öffnen Sie sie wieder; nichts wurde geändert',
    },
    'drawer-lock-gone': {
      what: 'Die Schublade war abgeschlossen, als Sie sie zuletzt benutzten, und was jetzt dort liegt, ist es nicht: Vielleicht hat jemand anders es hingelegt',
      next: 'Wenn Sie das Schloss anderswo entfernt haben oder eine neue Schublade wollen, sagen Sie es einmal',
    },
    'drawer-not-lockable': { what: 'Diese Schublade lässt sich nicht abschließen' },
    'passphrase-wrong': {
      what: 'Die Passphrase stimmt nicht',
      next: 'Versuchen Sie es wieder; nichts wurde geändert',
    },
    'passphrase-short': {
      what: 'Eine Passphrase von weniger als {least} Zeichen ist bald erraten',
      next: 'Wählen Sie eine aus mehreren Wörtern; nichts wurde abgeschlossen',
    },

    'command-names-nothing': { what: 'Nichts zum Sammeln ist genannt' },
    'command-follow-next': {
      what: '--follow geht nur in der Zwischenablage von selbst weiter',
      next: 'Geben Sie --into clipboard: an',
    },
    'command-follow-elsewhere': { what: '--follow sammelt nur aus der Zwischenablage' },
    'command-to-without-from': { what: '--to braucht --from' },
    'command-from-and-place': { what: '--from und eine Stelle hinter # gehen nicht zusammen' },
    'command-format-unknown': { what: '„{name}“ ist kein Format, das gelesen wird', next: 'Möglich sind {formats}' },
    'command-several-places': { what: '„{place}“ bezeichnet {count} Stellen', next: 'Nennen Sie eine davon' },
    'command-needs-terminal': {
      what: 'Ausgesucht wird nur an einem Terminal',
      next: 'Nennen Sie stattdessen Nummern oder Stellen',
    },
    'command-pick-what': { what: 'In welcher Datei ausgesucht wird, ist nicht gesagt' },
    'command-picked-nothing': { what: 'Nichts wurde ausgesucht', next: unchanged },
    'command-options-clash': { what: '{options} gehen nicht zusammen', next: 'Nennen Sie eines davon' },
    'command-option-missing': { what: 'Was zu tun ist, ist nicht gesagt', next: 'Nennen Sie eines von {options}' },
    'command-preview-of-nothing': {
      what: '--preview zeigt, was in eine Datei käme',
      next: 'Nennen Sie sie mit --into; ohne das werden die Zettel nur ausgegeben',
    },
    'command-merge-one': {
      what: 'Ein einzelner Zettel lässt sich nicht verbinden',
      next: 'Nennen Sie mehrere, oder einen Bereich wie 2-5',
    },
    'command-slot-invalid': { what: '„{words}“ ist keine Stelle mit einem Zettel', next: 'Etwa --slot Date=3' },
    'command-cut-from-input': { what: 'Aus der Standardeingabe lässt sich nichts ausschneiden' },
    'command-edit-secret': {
      what: 'Zettel {position} ist geheim, und ein Editor hielte seine Wörter in Dateien fest',
    },
    'command-edit-locked': {
      what: 'Die Schublade ist abgeschlossen, und ein Editor hielte ihre Wörter in Dateien fest, die es nicht sind',
    },
    'command-editor-missing': {
      what: 'Es gibt keinen Editor zum Bearbeiten',
      next: 'Nennen Sie ihn in der Variablen EDITOR, etwa EDITOR=nano drawer edit 3',
    },
    'command-editor-failed': { what: 'Der Editor endete mit {status}', next: unchanged },
    'command-passphrase-missing': { what: 'Es gibt keine Passphrase zum Abschließen' },
    'command-passphrases-differ': {
      what: 'Die beiden sind nicht gleich',
      next: 'Nichts wurde abgeschlossen; versuchen Sie es wieder',
    },
    'nothing-found': { what: { one: 'Von {count} Zettel passt keiner', other: 'Von {count} Zetteln passt keiner' } },
    'nothing-to-split': {
      what: 'An {position} ist nichts zu teilen',
      next: 'Teilen Sie an Absätzen, Punkten, Zeilen, Zellen oder dem Text zwischen den Teilen; nichts wurde geändert',
    },
    'sequence-done': { what: 'Alle {count} Zettel sind eingefügt' },
  },
};
