import { bullets, type Content, doc, numbers, paragraph, parseFragment, plainText } from 'drawer';
import { type ReadTools, sourceOf } from 'drawer/formats';
import { html } from 'drawer/formats/html';
import { bold, footnote, link } from '../../src/content/index.ts';

const take = async (page: string, place = '', tools?: ReadTools): Promise<Content> =>
  (await html.read(sourceOf(new TextEncoder().encode(page), 'x.html'), parseFragment(place), tools)).content;

/** What programs put on a clipboard, each in its own way. */
describe('from a clipboard', () => {
  it('only what stands between the marks of a fragment counts, and the lines in front are none of it', async () => {
    const page =
      'Version:0.9\r\nStartHTML:00000097\r\nEndHTML:00000200\r\n<html><body>around<!--StartFragment--><p>in <b>it</b></p><!--EndFragment--> behind</body></html>';
    expect(await take(page)).toEqual(doc(paragraph('in ', bold('it'))));
  });

  it('paragraphs that are list items in disguise are lists', async () => {
    const item = (level: number, sign: string, words: string, list = 'l0'): string =>
      `<p class=MsoListParagraph style='margin-left:${level * 36}pt;mso-list:${list} level${level} lfo1'><![if !supportLists]><span style='mso-list:Ignore'>${sign}<span style='font:7.0pt "Times New Roman"'>&nbsp;&nbsp; </span></span><![endif]>${words}<o:p></o:p></p>`;
    const page =
      item(1, '1.', 'first') +
      item(2, '·', 'inner') +
      item(1, '2.', 'second') +
      '<p>after<o:p></o:p></p><p><o:p>&nbsp;</o:p></p>' +
      item(1, 'b)', 'lettered', 'l1');
    expect(await take(page)).toEqual(
      doc(
        {
          ...numbers('first', 'second'),
          items: [{ blocks: [paragraph('first'), bullets('inner')] }, { blocks: [paragraph('second')] }],
        },
        'after',
        { ...numbers('lettered'), start: 2, marker: 'lower-alpha' },
      ),
    );
  });

  it('a wrapper that switches weight off is not bold', async () => {
    expect(
      await take('<b style="font-weight:normal"><p>plain <span style="font-weight:700">bold</span></p></b>'),
    ).toEqual(doc(paragraph('plain ', bold('bold'))));
  });

  it.each([
    [
      'x:num and a format in the style',
      '<td x:num="1250" style=\'mso-number-format:"\\#\\,\\#\\#0\\.00"\'>1,250.00</td>',
      { type: 'number', value: 1250, text: '1,250.00', format: '#,##0.00' },
    ],
    ['x:num alone', '<td x:num>1,250</td>', { type: 'number', value: 1250, text: '1,250' }],
    [
      'sdval and sdnum',
      '<td sdval="0.4" sdnum="2057;2057;0%">40%</td>',
      { type: 'number', value: 0.4, text: '40%', format: '0%' },
    ],
    [
      'data-sheets-value',
      '<td data-sheets-value="{&quot;1&quot;:3,&quot;3&quot;:7}" data-sheets-numberformat="{&quot;1&quot;:2,&quot;2&quot;:&quot;0.0&quot;}">7.0</td>',
      { type: 'number', value: 7, text: '7.0', format: '0.0' },
    ],
    [
      'data-sheets-value for a truth',
      '<td data-sheets-value="{&quot;1&quot;:4,&quot;4&quot;:1}">TRUE</td>',
      { type: 'boolean', value: true, text: 'TRUE' },
    ],
  ])('cells are the values behind them: %s', async (_, cell, expected) => {
    expect(await take(`<table><tr>${cell}<td>oak</td></tr></table>`)).toEqual({
      shape: 'cells',
      rows: [[expected, { type: 'text', value: 'oak' }]],
    });
  });

  it('cells keep how all of their words look, whether they hold words or values', async () => {
    const page = `<table><tr>
      <td sdval="0.4" sdnum="2057;2057;0%"><b><font color="#c00000">40%</font></b></td>
      <td align=left><font color="#c00000">oak</font></td><td><i>ash</i> and elm</td></tr></table>`;
    expect(await take(page)).toEqual({
      shape: 'cells',
      rows: [
        [
          { type: 'number', value: 0.4, text: '40%', format: '0%', marks: { bold: true, colour: '#c00000' } },
          { type: 'text', value: 'oak', marks: { colour: '#c00000' } },
          { type: 'text', value: 'ash and elm' },
        ],
      ],
    });
  });

  it('footnotes are notes, as word processors mark them', async () => {
    const office =
      "<p>a<a style='mso-footnote-id:ftn1' href='#_ftn1' name='_ftnref1'>[1]</a></p><div style='mso-element:footnote-list'><div style='mso-element:footnote' id=ftn1><p><a href='#_ftnref1'>[1]</a> noted</p></div></div>";
    const suite =
      '<p>a<a class="sdfootnoteanc" href="#sdfootnote1sym"><sup>1</sup></a></p><div id="sdfootnote1"><p><a href="#sdfootnote1anc">1</a>noted</p></div>';
    for (const page of [office, suite]) expect(await take(page)).toEqual(doc(paragraph('a', footnote('noted'))));
  });

  it('scripts, styles, hidden elements and pictures that count readers are dropped', async () => {
    const page =
      '<p>a<script>x()</script><span style="display:none">b</span><span hidden>c</span><img src="https://t.example/p.gif" width=1 height=1>d</p><style>p{}</style>';
    expect(plainText(await take(page))).toBe('ad');
  });

  it('links and bases are made whole from the page’s address, where it is known', async () => {
    const page = '<p><a href="plan.html">plan</a> <a href="javascript:x()">no</a></p>';
    expect(await take(page)).toEqual(doc('plan no'));
    expect(await take(page, '', { address: 'https://marigold.example/hull/index.html' })).toEqual(
      doc(paragraph(link('plan', 'https://marigold.example/hull/plan.html'), ' no')),
    );
  });

  it('elements with a name are bookmarks', async () => {
    const page = '<h2 id="hull">Hull</h2><p>of <em id="wood">oak</em> and elm</p><a name="end"></a><p>end</p>';
    expect(plainText(await take(page, 'bookmark=wood'))).toBe('oak');
    expect(plainText(await take(page, 'bookmark=hull'))).toBe('Hull');
    expect(plainText(await take(page, 'bookmark=end'))).toBe('end');
  });
});
