import { ownFlavour } from '../../clipboard/index.ts';
import type { FormHere, ScriptedSystem } from './scripted-clipboard.ts';

/** In Windows PowerShell, which every Windows since 7 has: a line of JSON answers each that is read. Text is UTF-16 there. */
const script = `
$ErrorActionPreference = 'Stop'
[Console]::InputEncoding = [Console]::OutputEncoding = New-Object System.Text.UTF8Encoding $false
Add-Type -AssemblyName System.Windows.Forms
Add-Type -Namespace Drawer -Name User -MemberDefinition @'
[DllImport("user32.dll")] public static extern uint GetClipboardSequenceNumber();
[DllImport("user32.dll")] public static extern IntPtr GetForegroundWindow();
[DllImport("user32.dll")] public static extern uint GetWindowThreadProcessId(IntPtr window, out uint process);
'@
$board = [System.Windows.Forms.Clipboard]
function Count { [Drawer.User]::GetClipboardSequenceNumber() }
function Front {
  $process = 0
  [void][Drawer.User]::GetWindowThreadProcessId([Drawer.User]::GetForegroundWindow(), [ref]$process)
  $program = Get-Process -Id $process
  @{ name = $program.ProcessName; title = [string]$program.MainWindowTitle }
}
function Answer($question) {
  if ($question.ask -eq 'count') { return @{ count = Count } }
  if ($question.ask -eq 'forms') {
    $data = $board::GetDataObject()
    return @{ forms = @(if ($data) { $data.GetFormats($false) }); program = Front }
  }
  if ($question.ask -eq 'offer') {
    $data = New-Object System.Windows.Forms.DataObject
    $names = @($question.forms.PSObject.Properties)
    foreach ($each in $names) {
      $bytes = [Convert]::FromBase64String($each.Value)
      if ($each.Name -eq 'UnicodeText') { $data.SetText([Text.Encoding]::UTF8.GetString($bytes), 'UnicodeText') }
      else { $data.SetData($each.Name, $false, (New-Object IO.MemoryStream (, $bytes))) }
    }
    if ($names.Count -eq 0) { $board::Clear() } else { $board::SetDataObject($data, $true, 10, 100) }
    return @{ count = Count }
  }
  if ($question.form -eq 'UnicodeText') {
    if (-not $board::ContainsText()) { return @{} }
    return @{ bytes = [Convert]::ToBase64String([Text.Encoding]::UTF8.GetBytes($board::GetText('UnicodeText'))) }
  }
  $held = $board::GetData($question.form)
  if ($held -is [string]) { return @{ bytes = [Convert]::ToBase64String([Text.Encoding]::UTF8.GetBytes($held)) } }
  if ($held -is [IO.MemoryStream]) { return @{ bytes = [Convert]::ToBase64String($held.ToArray()) } }
  @{}
}
while ($null -ne ($line = [Console]::In.ReadLine())) {
  try { $told = Answer (ConvertFrom-Json $line) } catch { $told = @{ problem = [string]$_ } }
  [Console]::Out.WriteLine((ConvertTo-Json $told -Compress -Depth 4))
}
`;

const form = (name: string): FormHere => ({ name });
const [startMark, endMark] = ['<!--StartFragment-->', '<!--EndFragment-->'];

/** A page as Windows has it on the clipboard ("HTML Clipboard Format"): offsets in bytes, ten digits each, and the fragment between marks. */
export function toClipboardHtml(html: Uint8Array): Uint8Array {
  const before = Buffer.from(`<html><body>\r\n${startMark}`);
  const after = Buffer.from(`${endMark}\r\n</body></html>`);
  const digits = (at: number): string => String(at).padStart(10, '0');
  const head = (start: number, from: number, to: number, end: number): Buffer =>
    Buffer.from(
      `Version:0.9\r\nStartHTML:${digits(start)}\r\nEndHTML:${digits(end)}\r\nStartFragment:${digits(from)}\r\nEndFragment:${digits(to)}\r\n`,
    );
  const start = head(0, 0, 0, 0).length;
  const from = start + before.length;
  const to = from + html.length;
  return Buffer.concat([head(start, from, to, to + after.length), before, html, after]);
}

/** The page of it, whole where it says where that starts, else the fragment; as it is where it is none of that form. */
export function fromClipboardHtml(bytes: Uint8Array): Uint8Array {
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 1_000));
  const at = (name: string): number => Number(new RegExp(`^${name}:(-?\\d+)`, 'm').exec(head)?.[1] ?? -1);
  for (const [start, end] of [
    [at('StartHTML'), at('EndHTML')],
    [at('StartFragment'), at('EndFragment')],
  ] as const)
    if (start >= 0 && end > start) return bytes.subarray(start, end);
  return bytes;
}

/** The names of Windows' own forms, and those that Chromium and password programs have registered there. */
export const windows: ScriptedSystem = {
  name: 'Windows',
  command: [
    'powershell',
    '-NoProfile',
    '-NonInteractive',
    '-STA',
    '-EncodedCommand',
    Buffer.from(script, 'utf16le').toString('base64'),
  ],
  forms: new Map([
    ['UTF8_STRING', form('UnicodeText')],
    ['text/html', { name: 'HTML Format', read: fromClipboardHtml, write: toClipboardHtml }],
    ['image/png', form('PNG')],
    ['chromium/x-source-url', form('Chromium internal source URL')],
    ['chromium/x-web-custom-data', form('Chromium Web Custom MIME Data Format')],
    ['x-kde-passwordManagerHint', { name: 'ExcludeClipboardContentFromMonitorProcessing', isOnlyWritten: true }],
    [ownFlavour, form(ownFlavour)],
  ]),
};
