import type { Filled, ReadTools, Slot, SlotValue, Source } from '../../format.ts';
import { checkFits, writtenDate } from '../../slot-values.ts';
import { applyEdits, type TextEdit } from '../../text-edits.ts';
import { escapeText } from '../../xml/write-xml.ts';
import { openPackage, readRelationships, relatedPart } from '../opc.ts';
import { OpcEdit } from '../package-edit.ts';
import { propertiesIn, propertiesSource } from './properties.ts';
import { checkMayChange } from './protection.ts';
import { type DocumentSlot, type LegacyValue, readSlots } from './slots.ts';

/** The content controls, named bookmarks and form fields of a document. */
export async function slotsDocx(source: Source, tools?: ReadTools): Promise<readonly Slot[]> {
  const { zip, main } = await openPackage(source, tools);
  const edit = new OpcEdit(source, zip, tools);
  await edit.load(main);
  return readSlots(edit.findText(main) ?? '', main).map(({ slot }) => slot);
}

/** Values go in with the look of what stood there; what only held their place goes. */
export async function fillDocx(
  source: Source,
  values: ReadonlyMap<string, SlotValue>,
  tools?: ReadTools,
): Promise<Filled> {
  const opened = await openPackage(source, tools);
  await checkMayChange(opened, { fills: true });
  const { zip, main } = opened;
  const edit = new OpcEdit(source, zip, tools);
  const settings = relatedPart(zip, await readRelationships(zip, main), 'settings');
  await edit.load(main, settings);
  const text = edit.findText(main) ?? '';
  const edits = readSlots(text, main).flatMap((slot) => {
    const value = values.get(slot.slot.key);
    return value === undefined ? [] : slotEdits(text, slot, value);
  });
  edit.setText(main, applyEdits(text, edits));
  return { bytes: await edit.bytes(), notes: [] };
}

function slotEdits(
  text: string,
  { slot, start, end, format, language, checked, signs, placeholder, legacy }: DocumentSlot,
  value: SlotValue,
): TextEdit[] {
  checkFits(slot, value);
  if (legacy) return [legacyEdit(slot, legacy, value)];
  const edits: TextEdit[] = placeholder ? [{ ...placeholder, replacement: '' }] : [];
  if (slot.kind === 'check') {
    if (checked)
      edits.push({
        ...checked,
        replacement: text.slice(checked.start, checked.end).replace(/(val=["'])[^"']*/, `$1${value ? '1' : '0'}`),
      });
    return [...edits, contentEdit(text, start, end, value ? signs[0] : signs[1])];
  }
  const words =
    slot.kind === 'date' && typeof value === 'string' ? writtenDate(value, format, language) : String(value);
  return [...edits, contentEdit(text, start, end, words)];
}

/** A box or a list of an older form: its value stands in an element, and its field shows no words. */
function legacyEdit({ choices = [] }: Slot, { kind, at, isClosed, prefix }: LegacyValue, value: SlotValue): TextEdit {
  const written = kind === 'checked' ? (value ? '1' : '0') : String(choices.indexOf(String(value)));
  return { ...at, replacement: `<${prefix}${kind} ${prefix}val="${written}"${isClosed ? '/' : ''}>` };
}

/** New words in what a slot holds: one run that looks like the first there, in the first paragraph if it holds paragraphs. */
function contentEdit(text: string, start: number, end: number, words: string): TextEdit {
  const inside = text.slice(start, end);
  const paragraph = /<((?:[\w.-]+:)?)p(?:\s[^<>]*)?>/.exec(inside);
  const firstRun = /<((?:[\w.-]+:)?)r(?:\s[^<>]*)?>(?=[\s\S]*?<\/\1r>)/.exec(inside);
  const prefix = firstRun?.[1] ?? paragraph?.[1] ?? 'w:';
  const run = runOf(
    prefix,
    firstRun ? propertiesSource(inside, firstRun.index + firstRun[0].length, 'rPr') : '',
    words,
  );
  if (!paragraph || (firstRun && firstRun.index < paragraph.index)) return { start, end, replacement: run };
  const properties = propertiesSource(inside, paragraph.index + paragraph[0].length, 'pPr');
  return { start, end, replacement: `${paragraph[0]}${properties}${run}</${prefix}p>` };
}

/** The look of the words that held the place is not that of the value. */
function runOf(prefix: string, properties: string, words: string): string {
  const isPlaceholder = /rStyle\s[^<>]*val="(?:Placeholder[^"]*)"/.test(properties);
  const kept = propertiesIn(properties).filter(({ name }) => name !== 'rStyle' && !(isPlaceholder && name === 'color'));
  const look = kept.length > 0 ? `<${prefix}rPr>${kept.map(({ source }) => source).join('')}</${prefix}rPr>` : '';
  const lines = words.split('\n').map((line) => `<${prefix}t xml:space="preserve">${escapeText(line)}</${prefix}t>`);
  return `<${prefix}r>${look}${lines.join(`<${prefix}br/>`)}</${prefix}r>`;
}
