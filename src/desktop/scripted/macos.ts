import { ownFlavour } from '../../clipboard/index.ts';
import type { FormHere, ScriptedSystem } from './scripted-clipboard.ts';

/** In JavaScript for Automation, which every macOS since 10.10 has: a line of JSON answers each that is read. */
const script = `
ObjC.import('AppKit');
const board = $.NSPasteboard.generalPasteboard;
const input = $.NSFileHandle.fileHandleWithStandardInput;
const output = $.NSFileHandle.fileHandleWithStandardOutput;
function front() {
  $.NSRunLoop.currentRunLoop.runUntilDate($.NSDate.dateWithTimeIntervalSinceNow(0.01));
  const program = $.NSWorkspace.sharedWorkspace.frontmostApplication;
  return program.isNil() ? undefined : { name: ObjC.unwrap(program.localizedName), title: '' };
}
function offer(forms) {
  board.clearContents;
  const item = $.NSPasteboardItem.alloc.init;
  const names = Object.keys(forms);
  for (const name of names) {
    const data = $.NSData.alloc.initWithBase64EncodedStringOptions(forms[name], 0);
    if (!item.setDataForType(data, name)) throw new Error(name);
  }
  if (names.length > 0 && !board.writeObjects($([item]))) throw new Error('writeObjects');
  return { count: Number(board.changeCount) };
}
function answer(question) {
  if (question.ask === 'count') return { count: Number(board.changeCount) };
  if (question.ask === 'forms') return { forms: ObjC.deepUnwrap(board.types) || [], program: front() };
  if (question.ask === 'offer') return offer(question.forms);
  const data = board.dataForType(question.form);
  return data.isNil() ? {} : { bytes: ObjC.unwrap(data.base64EncodedStringWithOptions(0)) };
}
let rest = '';
for (;;) {
  const data = input.availableData;
  if (data.length == 0) break;
  const lines = (rest + ObjC.unwrap($.NSString.alloc.initWithDataEncoding(data, $.NSUTF8StringEncoding))).split('\\n');
  rest = lines.pop();
  for (const line of lines) {
    let told;
    try { told = answer(JSON.parse(line)); } catch (error) { told = { problem: String(error) }; }
    output.writeData($(JSON.stringify(told) + '\\n').dataUsingEncoding($.NSUTF8StringEncoding));
  }
}
`;

const form = (name: string): FormHere => ({ name });

/** Uniform Type Identifiers, and the names that Chromium has there for its own. */
export const macos: ScriptedSystem = {
  name: 'macOS',
  command: ['osascript', '-l', 'JavaScript', '-e', script],
  forms: new Map([
    ['UTF8_STRING', form('public.utf8-plain-text')],
    ['text/html', form('public.html')],
    ['text/rtf', form('public.rtf')],
    ['image/png', form('public.png')],
    ['image/jpeg', form('public.jpeg')],
    ['chromium/x-source-url', form('org.chromium.source-url')],
    ['chromium/x-web-custom-data', form('org.chromium.web-custom-data')],
    ['x-kde-passwordManagerHint', { name: 'org.nspasteboard.ConcealedType', isOnlyWritten: true }],
    [ownFlavour, form(ownFlavour)],
  ]),
};
