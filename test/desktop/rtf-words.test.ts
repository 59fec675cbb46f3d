import { plainText } from 'drawer';
import { readCopied, SimulatedDesktop } from 'drawer/desktop';
import * as fc from 'fast-check';

/** What is kept where a program puts these forms on the clipboard. */
async function kept(forms: Readonly<Record<string, string>>) {
  const desktop = new SimulatedDesktop();
  desktop.copy(new Map(Object.entries(forms).map(([name, words]) => [name, Buffer.from(words, 'latin1')])));
  const copied = await desktop.copied();
  if (!copied) throw new Error('nothing was copied');
  return (await readCopied(copied)).content;
}
const wordsOf = async (rtf: string): Promise<string> => plainText(await kept({ 'text/rtf': rtf }));

/** Text as control words of version 1.9.1: braces escaped, and what is not ASCII by its UTF-16 units with a stand-in. */
const escaped = (text: string): string =>
  [...text.split('')]
    .map((unit) => {
      const code = unit.charCodeAt(0);
      if (/[\\{}]/.test(unit)) return `\\${unit}`;
      return code < 0x80 ? unit : `\\u${code > 0x7fff ? code - 0x10000 : code}?`;
    })
    .join('');

it.each([
  [
    'groups and looks',
    String.raw`{\rtf1\ansi\deff0{\fonttbl{\f0 Serif;}}{\colortbl;\red0;}\pard This is {\b bold\b0} text.\par}`,
    'This is bold text.',
  ],
  ['a code page', String.raw`{\rtf1\ansi\ansicpg1252 \'93Caf\'e9\'94 \endash  50\~\'80\par}`, '“Café” – 50\u00a0€'],
  ['one of two bytes a sign', String.raw`{\rtf1\ansi\ansicpg932 \'83A\'93\'fa\par}`, 'ア日'],
  ['a code page that nobody knows', String.raw`{\rtf1\ansi\ansicpg4711 caf\'e9}`, 'café'],
  ['several signs that stand in for one', String.raw`{\rtf1\ansi{\uc2\u8364\'a2\'e3 a}\u8364 ?b}`, '€ a€b'],
  ['a result of a field', String.raw`{\rtf1{\field{\*\fldinst HYPERLINK "https://a.example"}{\fldrslt here}}}`, 'here'],
  ['hidden words', String.raw`{\rtf1 seen {\v hidden {\b too}} \v gone\v0 again \v x\plain y}`, 'seen  again y'],
  ['a picture in bytes', `{\\rtf1 a{\\pict\\bin5 }{}\\\\}b}`, 'ab'],
  ['braces', String.raw`{\rtf1 \{oak\} \\ ash}`, '{oak} \\ ash'],
])('reads the words of rich text: %s', async (_, rtf, words) => {
  expect(await wordsOf(rtf)).toBe(words);
});

it('reads any words', async () => {
  await fc.assert(
    fc.asyncProperty(fc.string({ unit: 'grapheme', minLength: 1 }), async (text) => {
      const words = `oak ${text.replace(/\s/g, ' ')} ash`;
      expect(await wordsOf(`{\\rtf1\\ansi ${escaped(words)}\\par}`)).toBe(words);
    }),
  );
});

it('reads rows as cells, and only where there is nothing better', async () => {
  const rtf = String.raw`{\rtf1\trowd Oak\cell 1\cell\row\trowd Ash\cell 2\cell\row}`;
  expect(await kept({ 'text/rtf': rtf, 'image/png': 'x' })).toMatchObject({
    shape: 'cells',
    rows: [
      [{ value: 'Oak' }, { value: 1 }],
      [{ value: 'Ash' }, { value: 2 }],
    ],
  });
  expect(plainText(await kept({ 'text/rtf': rtf, UTF8_STRING: 'better' }))).toBe('better');
});
