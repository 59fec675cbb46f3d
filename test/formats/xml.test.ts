import * as fc from 'fast-check';
import { type Namespaces, readXml } from '../../src/formats/xml/read-xml.ts';
import { xmlPart, xmlText } from '../../src/formats/xml/write-xml.ts';

const namespaces: Namespaces = new Map([
  ['urn:words', 'w'],
  ['urn:cells', ''],
]);

/** What is heard of a document that comes in pieces of these lengths. */
async function heard(xml: string | Uint8Array, lengths: readonly number[] = []): Promise<string[]> {
  const bytes = typeof xml === 'string' ? new TextEncoder().encode(xml) : xml;
  const events: string[] = [];
  let words = '';
  const flush = (): void => {
    if (words !== '') events.push(`"${words}"`);
    words = '';
  };
  const chunks = async function* () {
    let at = 0;
    for (const length of lengths) {
      yield bytes.subarray(at, at + length);
      at += length;
    }
    yield bytes.subarray(at);
  };
  await readXml(chunks(), 'part.xml', namespaces, {
    open: (name, attributes) => {
      flush();
      const shown = Object.entries(attributes).filter(([key]) => !key.startsWith('xmlns'));
      events.push(`<${name}${shown.map(([key, value]) => ` ${key}=${value}`).join('')}>`);
    },
    close: (name) => {
      flush();
      events.push(`</${name}>`);
    },
    text: (text) => {
      words += text;
    },
  });
  return events;
}

describe('XML as events', () => {
  it.each<[string, string, string[]]>([
    ['our own prefixes', '<w:a xmlns:w="urn:words" w:b="1">x</w:a>', ['<w:a w:b=1>', '"x"', '</w:a>']],
    ['other prefixes for the same', '<q:a xmlns:q="urn:words" q:b="1" c="2"/>', ['<w:a w:b=1 c=2>', '</w:a>']],
    ['a default namespace', '<a xmlns="urn:words"><b/></a>', ['<w:a>', '<w:b>', '</w:b>', '</w:a>']],
    ['a prefix where we have none', '<x:row xmlns:x="urn:cells" r="1"/>', ['<row r=1>', '</row>']],
    ['our prefix for something foreign', '<w:a xmlns:w="urn:other"/>', ['<foreign-w:a>', '</foreign-w:a>']],
    [
      'declarations that hold only inside',
      '<w:a xmlns:w="urn:words"><q:b xmlns:q="urn:words"/><w:c xmlns:w="urn:other"/><w:d/></w:a>',
      ['<w:a>', '<w:b>', '</w:b>', '<foreign-w:c>', '</foreign-w:c>', '<w:d>', '</w:d>', '</w:a>'],
    ],
    [
      'sections that are not marked up',
      '<a xmlns="urn:cells"><![CDATA[<b>]]>&amp;&#x41;</a>',
      ['<a>', '"<b>&A"', '</a>'],
    ],
  ])('knows %s', async (_, xml, events) => {
    expect(await heard(xml)).toEqual(events);
  });

  it('hears the same however the bytes are cut, in the middle of a letter or of a declaration', async () => {
    const xml =
      '<?xml version="1.0"?><q:a xmlns:q="urn:words" long="a > b"><q:b c="é漢👩‍🚀"><x xmlns="urn:cells" y=">"/>t漢&lt;</q:b><w:c xmlns:w="urn:other"/>é</q:a>';
    const whole = await heard(xml);
    expect(whole).toContain('<w:b c=é漢👩‍🚀>');
    await fc.assert(
      fc.asyncProperty(fc.array(fc.integer({ min: 0, max: 25 }), { maxLength: 30 }), async (lengths) =>
        expect(await heard(xml, lengths)).toEqual(whole),
      ),
      { numRuns: 400 },
    );
    for (let at = 1; at < 130; at++) expect(await heard(xml, [at])).toEqual(whole);
  });

  it('reads UTF-16 by its byte order mark', async () => {
    expect(await heard(Uint8Array.from([0xff, 0xfe, ...Buffer.from('<a xmlns="urn:cells">é</a>', 'utf16le')]))).toEqual(
      ['<a>', '"é"', '</a>'],
    );
  });

  it('stops when enough was heard', async () => {
    let asked = 0;
    const endless = async function* () {
      yield new TextEncoder().encode('<a>');
      for (;;) yield new TextEncoder().encode('<b/>');
    };
    await readXml(endless(), 'x', namespaces, { open: () => {}, close: () => {}, done: () => ++asked > 50 });
    expect(asked).toBe(51);
  });

  it.each([
    ['an entity of its own', '<!DOCTYPE a [<!ENTITY x "y">]><a>&x;</a>', 'unreadable'],
    ['an unknown entity', '<a>&x;</a>', 'unreadable'],
    ['an element left open', '<a><b></a>', 'unreadable'],
    ['two roots', '<a/><a/>', 'unreadable'],
    ['nothing', '', 'unreadable'],
    ['elements nested without end', '<a>'.repeat(5_000), 'too-large'],
  ])('refuses %s', async (_, xml, code) => {
    await expect(heard(xml)).rejects.toMatchObject({
      name: 'DrawerError',
      code,
      message: expect.stringContaining('part.xml'),
    });
  });
});

it('writes any text so that it is read as it was, but for what XML cannot hold', async () => {
  await fc.assert(
    fc.asyncProperty(fc.string({ unit: 'binary' }), fc.string({ unit: 'grapheme' }), async (text, attribute) => {
      const clean = xmlText(text);
      const value = xmlText(attribute).replace(/[\t\n\r]/g, ' ');
      const bytes = xmlPart({
        type: 'element',
        name: 'a',
        attributes: { b: value },
        children: clean === '' ? [] : [{ type: 'text', value: clean }],
      });
      const expected = new TextDecoder().decode(new TextEncoder().encode(clean));
      expect((await heard(bytes)).slice(2, -1).join('')).toBe(expected === '' ? '' : `"${expected}"`);
    }),
    { numRuns: 500 },
  );
});
