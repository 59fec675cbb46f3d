import { parseFragment } from 'drawer';
import { type Format, formatNamed, type Slot, type SlotValue, type Source, sourceOf } from 'drawer/formats';
import * as fc from 'fast-check';
import { strFromU8, unzipSync } from 'fflate';
import { documentSource, openDocument, workbookSource } from '../support/office.ts';

type Form = Required<Pick<Format, 'slots' | 'fill' | 'read'>>;
const load = async (name: 'docx' | 'odt' | 'xlsx' | 'ods' | 'html'): Promise<Form> =>
  (await formatNamed(name).load()) as Required<Format>;
const names = (slots: readonly Slot[]): string[] => slots.map(({ names: [first = ''] }) => first);
const fill = async (
  name: Parameters<typeof load>[0],
  source: Source,
  values: Record<string, SlotValue>,
): Promise<Uint8Array> => (await (await load(name)).fill(source, new Map(Object.entries(values)))).bytes;

describe('a document', () => {
  const control = (properties: string, inside: string): string =>
    `<w:sdt><w:sdtPr>${properties}</w:sdtPr><w:sdtContent>${inside}</w:sdtContent></w:sdt>`;
  const run = (words: string, properties = ''): string => `<w:r>${properties}<w:t>${words}</w:t></w:r>`;
  const body = async (inside: string, values: Record<string, SlotValue>): Promise<string> =>
    /<w:body>(.*)<\/w:body>/s.exec(
      strFromU8(
        unzipSync(await fill('docx', documentSource({ body: inside }), values))['word/document.xml'] as Uint8Array,
      ),
    )?.[1] ?? '';
  const t = (words: string): string => `<w:t xml:space="preserve">${words}</w:t>`;

  it.each<[string, string, Record<string, SlotValue>, string]>([
    [
      'a content control, its placeholder’s look gone',
      `<w:p>${control('<w:alias w:val="Name"/><w:showingPlcHdr/>', run('here', '<w:rPr><w:rStyle w:val="PlaceholderText"/><w:b/></w:rPr>'))}</w:p>`,
      { Name: 'Ada & Co' },
      `<w:p>${control('<w:alias w:val="Name"/>', `<w:r><w:rPr><w:b/></w:rPr>${t('Ada &amp; Co')}</w:r>`)}</w:p>`,
    ],
    [
      'a date as its control writes dates',
      `<w:p>${control('<w:tag w:val="Day"/><w:date><w:dateFormat w:val="d MMMM yyyy"/><w:lid w:val="fr-FR"/></w:date>', run('x'))}</w:p>`,
      { Day: '2026-05-03' },
      `<w:p>${control('<w:tag w:val="Day"/><w:date><w:dateFormat w:val="d MMMM yyyy"/><w:lid w:val="fr-FR"/></w:date>', `<w:r>${t('3 mai 2026')}</w:r>`)}</w:p>`,
    ],
    [
      'a paragraph, with line breaks',
      control('<w:alias w:val="Text"/>', `<w:p><w:pPr><w:jc w:val="right"/></w:pPr>${run('x')}</w:p><w:p/>`),
      { Text: 'a\nb' },
      control(
        '<w:alias w:val="Text"/>',
        `<w:p><w:pPr><w:jc w:val="right"/></w:pPr><w:r>${t('a')}<w:br/>${t('b')}</w:r></w:p>`,
      ),
    ],
    [
      'a bookmark',
      `<w:p>${run('To ')}<w:bookmarkStart w:id="0" w:name="who"/>${run('x')}<w:bookmarkEnd w:id="0"/></w:p>`,
      { who: 'Ada' },
      `<w:p>${run('To ')}<w:bookmarkStart w:id="0" w:name="who"/><w:r>${t('Ada')}</w:r><w:bookmarkEnd w:id="0"/></w:p>`,
    ],
  ])('fills %s', async (_, before, values, after) => {
    expect(await body(before, values)).toBe(after);
  });

  it('tells what its controls ask for', async () => {
    const inside = `<w:p>${control('<w:alias w:val="Part"/><w:dropDownList><w:listItem w:displayText="Hull"/><w:listItem w:value="Deck"/></w:dropDownList>', run('x'))}<w:bookmarkStart w:id="1" w:name="_GoBack"/><w:bookmarkEnd w:id="1"/></w:p>`;
    expect(await (await load('docx')).slots(documentSource({ body: inside }))).toEqual([
      { key: 'Part', names: ['Part'], kind: 'choice', choices: ['Hull', 'Deck'] },
    ]);
  });

  it.each(['-1', '110000', '0', 'none', ''])(
    'ticks a box whose sign is damaged (%s) with a usual one',
    async (sign) => {
      const box = `<w:p>${control(`<w:alias w:val="Yes"/><w14:checkbox xmlns:w14="http://schemas.microsoft.com/office/word/2010/wordml"><w14:checked w14:val="0"/><w14:checkedState w14:val="${sign}"/><w14:uncheckedState w14:val="2610"/></w14:checkbox>`, run('☐'))}</w:p>`;
      expect(await body(box, { Yes: true })).toContain('☒');
    },
  );

  it('fills the older form fields', async () => {
    const field = (inside: string): string =>
      `<w:p><w:r><w:fldChar w:fldCharType="begin"><w:ffData><w:name w:val="Old"/></w:ffData></w:fldChar></w:r><w:r><w:instrText>FORMTEXT</w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r>${inside}<w:r><w:fldChar w:fldCharType="end"/></w:r></w:p>`;
    expect(await body(field(run('     ')), { Old: 'new' })).toBe(field(`<w:r>${t('new')}</w:r>`));
  });
});

describe('fields of a document keep their structure', () => {
  const mark = (type: string, data = ''): string =>
    `<w:r><w:fldChar w:fldCharType="${type}"${data === '' ? '/' : `>${data}</w:fldChar`}></w:r>`;
  const code = (words: string): string => `<w:r><w:instrText xml:space="preserve"> ${words} </w:instrText></w:r>`;
  const words = (text: string): string => `<w:r><w:t>${text}</w:t></w:r>`;
  const data = (name: string, inside: string): string =>
    `<w:ffData><w:name w:val="${name}"/><w:enabled/>${inside}</w:ffData>`;
  /** As Word writes them: a bookmark of the same name around the whole field. */
  const named = (id: number, name: string, field: string): string =>
    `<w:bookmarkStart w:id="${id}" w:name="${name}"/>${field}<w:bookmarkEnd w:id="${id}"/>`;
  const kinds = {
    text: (name: string) =>
      `${mark('begin', data(name, '<w:textInput/>'))}${code('FORMTEXT')}${mark('separate')}${words('old')}${mark('end')}`,
    check: (name: string) =>
      `${mark('begin', data(name, '<w:checkBox><w:sizeAuto/><w:default w:val="0"/></w:checkBox>'))}${code('FORMCHECKBOX')}${mark('end')}`,
    list: (name: string) =>
      `${mark('begin', data(name, '<w:ddList><w:listEntry w:val="Hull"/><w:listEntry w:val="Deck"/></w:ddList>'))}${code('FORMDROPDOWN')}${mark('end')}`,
    page: () => `${mark('begin')}${code('PAGE')}${mark('separate')}${words('1')}${mark('end')}`,
    control: (name: string) =>
      `<w:sdt><w:sdtPr><w:alias w:val="${name}"/></w:sdtPr><w:sdtContent>${words('old')}</w:sdtContent></w:sdt>`,
    nested: (name: string) =>
      `<w:sdt><w:sdtPr><w:alias w:val="around ${name}"/></w:sdtPr><w:sdtContent>${words('a')}<w:sdt><w:sdtPr><w:alias w:val="${name}"/></w:sdtPr><w:sdtContent>${words('old')}</w:sdtContent></w:sdt></w:sdtContent></w:sdt>`,
    within: (name: string) =>
      `<w:sdt><w:sdtPr><w:alias w:val="${name}"/></w:sdtPr><w:sdtContent>${mark('begin')}${code('DATE')}${mark('separate')}${words('1 May')}${mark('end')}</w:sdtContent></w:sdt>`,
  } as const;
  type Kind = keyof typeof kinds;

  const marksOf = (xml: string): Record<string, number> => {
    const counts: Record<string, number> = {};
    for (const [found] of xml.matchAll(
      /fldCharType="\w+"|<\/?w:(?:sdt|sdtContent|bookmarkStart|bookmarkEnd|instrText|ffData)\b/g,
    ))
      counts[found] = (counts[found] ?? 0) + 1;
    return counts;
  };
  const valueFor = ({ kind, choices = [] }: Slot): SlotValue =>
    kind === 'check' ? true : kind === 'choice' ? (choices.at(-1) ?? '') : kind === 'number' ? 12 : 'new words';

  it('whatever they are, nested and named as they may be; each is listed once', async () => {
    const form = await load('docx');
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.record({ kind: fc.constantFrom(...(Object.keys(kinds) as Kind[])), isNamed: fc.boolean() }), {
          minLength: 1,
          maxLength: 8,
        }),
        async (fields) => {
          const paragraphs = fields.map(({ kind, isNamed }, at) => {
            const field = kinds[kind](`F${at}`);
            return `<w:p>${words(`Label ${at}: `)}${isNamed ? named(at, `F${at}`, field) : field}</w:p>`;
          });
          const source = documentSource({ body: paragraphs.join('') });
          const slots = await form.slots(source);
          expect(new Set(slots.flatMap((slot) => slot.names)).size).toBe(slots.length);
          const bytes = (await form.fill(source, new Map(slots.map((slot) => [slot.key, valueFor(slot)])))).bytes;
          const xml = strFromU8(unzipSync(bytes)['word/document.xml'] as Uint8Array);
          expect(marksOf(xml)).toEqual(marksOf(paragraphs.join('')));
          expect((await form.slots(sourceOf(bytes, 'x.docx'))).map(({ key }) => key)).toEqual(
            slots.map(({ key }) => key),
          );
          for (const at of fields.keys()) expect(xml).toContain(`Label ${at}: `);
          const filled = fields.filter(({ kind }) => /^(?:text|control|nested)$/.test(kind)).length;
          expect(xml.match(/new words/g)?.length ?? 0).toBe(filled);
        },
      ),
      { numRuns: 150 },
    );
  });

  it('boxes and lists take their own values only', async () => {
    const form = await load('docx');
    const source = documentSource({ body: `<w:p>${kinds.check('Yes')}${kinds.list('Part')}</w:p>` });
    expect((await form.slots(source)).map(({ kind, choices }) => [kind, choices])).toEqual([
      ['check', undefined],
      ['choice', ['Hull', 'Deck']],
    ]);
    const filled = await form.fill(
      source,
      new Map<string, SlotValue>([
        ['Yes', true],
        ['Part', 'Deck'],
      ]),
    );
    const xml = strFromU8(unzipSync(filled.bytes)['word/document.xml'] as Uint8Array);
    expect(xml).toContain('<w:default w:val="0"/><w:checked w:val="1"/></w:checkBox>');
    expect(xml).toContain('<w:ddList><w:result w:val="1"/><w:listEntry');
    for (const [key, value] of [
      ['Yes', 'no'],
      ['Part', 'Mast'],
    ] as const)
      await expect(form.fill(source, new Map([[key, value]]))).rejects.toMatchObject({ code: 'invalid' });
  });

  it('those that an office program keeps in an open text, too', async () => {
    const inside =
      '<text:p>Name: <text:bookmark-start text:name="Text1"/><field:fieldmark-start xmlns:field="urn:openoffice:names:experimental:ooo-ms-interop:xmlns:field:1.0" text:name="Text1" field:type="vnd.oasis.opendocument.field.FORMTEXT"><field:param field:name="Description" field:value="x"/></field:fieldmark-start>old<field:fieldmark-end xmlns:field="urn:openoffice:names:experimental:ooo-ms-interop:xmlns:field:1.0"/><text:bookmark-end text:name="Text1"/></text:p>';
    const source = openDocument('text', { body: inside });
    expect(names(await (await load('odt')).slots(source))).toEqual(['Text1']);
    const xml = strFromU8(unzipSync(await fill('odt', source, { Text1: 'Ada' }))['content.xml'] as Uint8Array);
    expect(xml).toContain(inside.replace('>old<', '>Ada<'));
  });
});

it('an open text: placeholders, input fields and bookmarks', async () => {
  const inside =
    '<text:p><text:placeholder text:placeholder-type="text">&lt;Name&gt;</text:placeholder> <text:text-input text:description="Sum">0</text:text-input> <text:bookmark-start text:name="who"/>x<text:bookmark-end text:name="who"/></text:p>';
  const source = openDocument('text', { body: inside });
  expect(names(await (await load('odt')).slots(source))).toEqual(['Name', 'Sum', 'who']);
  const bytes = await fill('odt', source, { Name: 'A<b', Sum: 12, who: 'Ada' });
  expect(strFromU8(unzipSync(bytes)['content.xml'] as Uint8Array)).toContain(
    '<text:p>A&lt;b <text:text-input text:description="Sum">12</text:text-input> <text:bookmark-start text:name="who"/>Ada<text:bookmark-end text:name="who"/></text:p>',
  );
});

it.each(['xlsx', 'ods'] as const)('%s: named cells, and cells beside labels', async (name) => {
  const source =
    name === 'xlsx'
      ? workbookSource({
          sheets: {
            S: '<sheetData><row r="1"><c r="A1" t="inlineStr"><is><t>Name:</t></is></c></row><row r="2"><c r="A2" t="inlineStr"><is><t>Notes</t></is></c></row></sheetData>',
          },
          names: '<definedNames><definedName name="Total">S!$C$9</definedName></definedNames>',
        })
      : openDocument('spreadsheet', {
          body: '<table:table table:name="S"><table:table-row><table:table-cell office:value-type="string"><text:p>Name:</text:p></table:table-cell></table:table-row><table:table-row><table:table-cell office:value-type="string"><text:p>Notes</text:p></table:table-cell></table:table-row></table:table><table:named-expressions><table:named-range table:name="Total" table:cell-range-address="$S.$C$9"/></table:named-expressions>',
        });
  const { slots, read } = await load(name);
  const found = await slots(source);
  expect(found.map(({ key, names: [first], isGuess }) => [key, first, isGuess ?? false])).toEqual([
    ['S!C9', 'Total', false],
    ['S!B1', 'Name:', false],
    ['S!B2', 'Notes', true],
  ]);
  const bytes = await fill(name, source, { 'S!C9': 12.5, 'S!B1': '2026-05-03' });
  const { content } = await read(sourceOf(bytes, `x.${name}`), parseFragment('S!B1:C9'));
  expect(content).toMatchObject({
    rows: [
      [{ type: 'date', value: '2026-05-03' }, {}],
      ...Array(7).fill([{}, {}]),
      [{}, { type: 'number', value: 12.5 }],
    ],
  });
});

it('a page: fields by their labels, each in its own form, and nothing else of it', async () => {
  const page =
    '<form><label for="a">Name</label><input id="a" value=old><label>Text <textarea name="t">x</textarea></label><select name=s><option selected>A<option>B</select><input type=checkbox name=c checked><input type=hidden name=h><input name=r readonly></form>';
  const source = sourceOf(new TextEncoder().encode(page), 'x.html');
  const slots = await (await load('html')).slots(source);
  expect(slots.map(({ key, names: [first], kind }) => [key, first, kind])).toEqual([
    ['a', 'Name', 'text'],
    ['t', 'Text', 'text'],
    ['s', 's', 'choice'],
    ['c', 'c', 'check'],
  ]);
  expect(strFromU8(await fill('html', source, { a: 'say "x"', t: '<b>', s: 'B', c: false }))).toBe(
    page
      .replace(' value=old', ' value="say &quot;x&quot;"')
      .replace('>x</textarea>', '>&lt;b&gt;</textarea>')
      .replace('<option selected>A<option>B', '<option>A<option selected>B')
      .replace(' checked', ''),
  );
});
