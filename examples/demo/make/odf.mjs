// Flat OpenDocument sources, which an office program then saves in its own way.
import { readFileSync } from 'node:fs';

export const escapeXml = (text) =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');

const namespaces = [
  ['office', 'office:1.0'],
  ['text', 'text:1.0'],
  ['table', 'table:1.0'],
  ['style', 'style:1.0'],
  ['draw', 'drawing:1.0'],
  ['fo', 'xsl-fo-compatible:1.0'],
  ['svg', 'svg-compatible:1.0'],
  ['number', 'datastyle:1.0'],
  ['meta', 'meta:1.0'],
]
  .map(([prefix, urn]) => `xmlns:${prefix}="urn:oasis:names:tc:opendocument:xmlns:${urn}"`)
  .join(' ');

const header = (mimetype) => `<?xml version="1.0" encoding="UTF-8"?>
<office:document ${namespaces} xmlns:xlink="http://www.w3.org/1999/xlink" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:loext="urn:org:documentfoundation:names:experimental:office:xmlns:loext:1.0" xmlns:of="urn:oasis:names:tc:opendocument:xmlns:of:1.2" office:version="1.3" office:mimetype="application/vnd.oasis.opendocument.${mimetype}">`;

// --- Text documents ---

const textStyles = `
<office:font-face-decls><style:font-face style:name="Liberation Serif" svg:font-family="'Liberation Serif'"/><style:font-face style:name="Liberation Sans" svg:font-family="'Liberation Sans'"/></office:font-face-decls>
<office:styles>
  <style:default-style style:family="paragraph"><style:text-properties style:font-name="Liberation Serif" fo:font-size="11pt" fo:language="en" fo:country="GB"/></style:default-style>
  <style:style style:name="Standard" style:family="paragraph" style:class="text"/>
  <style:style style:name="Text_20_body" style:display-name="Text body" style:family="paragraph" style:parent-style-name="Standard" style:class="text"><style:paragraph-properties fo:margin-top="0cm" fo:margin-bottom="0.25cm" fo:line-height="115%"/></style:style>
  <style:style style:name="Title" style:family="paragraph" style:parent-style-name="Standard" style:class="chapter"><style:paragraph-properties fo:margin-bottom="0.4cm"/><style:text-properties style:font-name="Liberation Sans" fo:font-size="22pt" fo:font-weight="bold"/></style:style>
  ${[17, 14, 12].map((size, index) => `<style:style style:name="Heading_20_${index + 1}" style:display-name="Heading ${index + 1}" style:family="paragraph" style:parent-style-name="Standard" style:next-style-name="Text_20_body" style:default-outline-level="${index + 1}" style:class="text"><style:paragraph-properties fo:margin-top="0.5cm" fo:margin-bottom="0.2cm" fo:keep-with-next="always"/><style:text-properties style:font-name="Liberation Sans" fo:font-size="${size}pt" fo:font-weight="bold" fo:color="#1f3a4d"/></style:style>`).join('\n  ')}
  <style:style style:name="Quotations" style:family="paragraph" style:parent-style-name="Standard" style:class="html"><style:paragraph-properties fo:margin-left="1cm" fo:margin-right="1cm" fo:margin-bottom="0.25cm"/><style:text-properties fo:font-style="italic"/></style:style>
  <style:style style:name="Footnote" style:family="paragraph" style:parent-style-name="Standard"><style:text-properties fo:font-size="9pt"/></style:style>
  <style:style style:name="Internet_20_link" style:display-name="Internet link" style:family="text"><style:text-properties fo:color="#000080" style:text-underline-style="solid"/></style:style>
  <text:list-style style:name="Bullets">${['•', '◦', '▪'].map((sign, index) => `<text:list-level-style-bullet text:level="${index + 1}" text:bullet-char="${sign}"><style:list-level-properties text:list-level-position-and-space-mode="label-alignment"><style:list-level-label-alignment text:label-followed-by="listtab" fo:text-indent="-0.5cm" fo:margin-left="${index + 1}cm"/></style:list-level-properties></text:list-level-style-bullet>`).join('')}</text:list-style>
  <text:list-style style:name="Numbers">${['1', 'a', 'i'].map((format, index) => `<text:list-level-style-number text:level="${index + 1}" style:num-format="${format}" style:num-suffix="."><style:list-level-properties text:list-level-position-and-space-mode="label-alignment"><style:list-level-label-alignment text:label-followed-by="listtab" fo:text-indent="-0.5cm" fo:margin-left="${index + 1}cm"/></style:list-level-properties></text:list-level-style-number>`).join('')}</text:list-style>
  <text:notes-configuration text:note-class="footnote" style:num-format="1" text:start-value="0" text:footnotes-position="page"/>
</office:styles>
<office:automatic-styles>
  <style:style style:name="B" style:family="text"><style:text-properties fo:font-weight="bold"/></style:style>
  <style:style style:name="I" style:family="text"><style:text-properties fo:font-style="italic"/></style:style>
  <style:style style:name="Sup" style:family="text"><style:text-properties style:text-position="super 58%"/></style:style>
  <style:style style:name="Mark" style:family="text"><style:text-properties fo:background-color="#ffff00"/></style:style>
  <style:style style:name="Cell" style:family="table-cell"><style:table-cell-properties fo:border="0.5pt solid #808080" fo:padding="0.1cm"/></style:style>
  <style:style style:name="HeadCell" style:family="table-cell"><style:table-cell-properties fo:border="0.5pt solid #808080" fo:padding="0.1cm" fo:background-color="#e6ecef"/></style:style>
  <style:style style:name="End" style:family="paragraph" style:parent-style-name="Standard"><style:paragraph-properties fo:text-align="end"/></style:style>
  <style:style style:name="Inline" style:family="graphic"><style:graphic-properties style:vertical-pos="top" style:vertical-rel="baseline"/></style:style>
  <style:page-layout style:name="A4"><style:page-layout-properties fo:page-width="21cm" fo:page-height="29.7cm" fo:margin-top="2.2cm" fo:margin-bottom="2.2cm" fo:margin-left="2.4cm" fo:margin-right="2.4cm"/></style:page-layout>
</office:automatic-styles>
<office:master-styles><style:master-page style:name="Standard" style:page-layout-name="A4"/></office:master-styles>`;

export const textDocument = (title, body, changes = '') =>
  `${header('text')}<office:meta><dc:title>${escapeXml(title)}</dc:title></office:meta>${textStyles}<office:body><office:text>${changes}${body.join('\n')}</office:text></office:body></office:document>`;

export const title = (text) => `<text:p text:style-name="Title">${text}</text:p>`;
export const heading = (level, text) =>
  `<text:h text:style-name="Heading_20_${level}" text:outline-level="${level}">${text}</text:h>`;
export const paragraph = (text, style = 'Text_20_body') => `<text:p text:style-name="${style}">${text}</text:p>`;
export const quotation = (text) => paragraph(text, 'Quotations');
export const bold = (text) => `<text:span text:style-name="B">${text}</text:span>`;
export const italic = (text) => `<text:span text:style-name="I">${text}</text:span>`;
export const raised = (text) => `<text:span text:style-name="Sup">${text}</text:span>`;
export const marked = (text) => `<text:span text:style-name="Mark">${text}</text:span>`;
export const link = (text, address) =>
  `<text:a xlink:type="simple" xlink:href="${escapeXml(address)}" text:style-name="Internet_20_link">${text}</text:a>`;
export const bookmark = (name, text) =>
  `<text:bookmark-start text:name="${name}"/>${text}<text:bookmark-end text:name="${name}"/>`;

let notes = 0;
export const footnote = (text) =>
  `<text:note text:id="ftn${++notes}" text:note-class="footnote"><text:note-citation>${notes}</text:note-citation><text:note-body><text:p text:style-name="Footnote">${text}</text:p></text:note-body></text:note>`;

/** Items are strings, or [string, nested list]. */
export const list = (style, items, nested = false) =>
  `<text:list${nested ? '' : ` text:style-name="${style}"`}>${items.map((item) => (Array.isArray(item) ? `<text:list-item>${paragraph(item[0], 'Standard')}${item[1]}</text:list-item>` : `<text:list-item>${paragraph(item, 'Standard')}</text:list-item>`)).join('')}</text:list>`;

/** Cells are strings or {text, across, down, end}; `null` is covered. */
export function table(name, rows) {
  const columns = Math.max(...rows.map((row) => row.length));
  const cell = (each, isHead) => {
    if (each === null) return '<table:covered-table-cell/>';
    const { text, across, down, end } = typeof each === 'string' ? { text: each } : each;
    const spans = `${across ? ` table:number-columns-spanned="${across}"` : ''}${down ? ` table:number-rows-spanned="${down}"` : ''}`;
    return `<table:table-cell table:style-name="${isHead ? 'HeadCell' : 'Cell'}" office:value-type="string"${spans}>${paragraph(isHead ? bold(text) : text, end ? 'End' : 'Standard')}</table:table-cell>`;
  };
  const row = (cells, isHead) =>
    `<table:table-row>${cells.map((each) => cell(each, isHead)).join('')}</table:table-row>`;
  return `<table:table table:name="${name}"><table:table-column table:number-columns-repeated="${columns}"/><table:table-header-rows>${row(rows[0], true)}</table:table-header-rows>${rows
    .slice(1)
    .map((each) => row(each, false))
    .join('')}</table:table>`;
}

export function picture(file, name, width, height, description) {
  const data = readFileSync(file).toString('base64');
  return paragraph(
    `<draw:frame draw:name="${name}" draw:style-name="Inline" text:anchor-type="as-char" svg:width="${width}cm" svg:height="${height}cm"><draw:image draw:mime-type="image/png"><office:binary-data>${data}</office:binary-data></draw:image><svg:title>${escapeXml(description)}</svg:title><svg:desc>${escapeXml(description)}</svg:desc></draw:frame>`,
  );
}

/** A content control that is filled in later. */
export const slot = (alias, text) =>
  `<loext:content-control loext:showing-place-holder="true" loext:alias="${alias}" loext:tag="${alias.toLowerCase().replaceAll(' ', '-')}">${text}</loext:content-control>`;
export const box = (alias) =>
  `<loext:content-control loext:checkbox="true" loext:checked="false" loext:checked-state="☒" loext:unchecked-state="☐" loext:alias="${alias}">☐</loext:content-control>`;

/** A tracked change: what `inserted` was added and what `deleted` taken away by the trust's reviewer. */
export const trackedChanges = (deleted) => `<text:tracked-changes>
  <text:changed-region text:id="ct1"><text:insertion><office:change-info><dc:creator>Reviewer</dc:creator><dc:date>2026-05-11T10:00:00</dc:date></office:change-info></text:insertion></text:changed-region>
  <text:changed-region text:id="ct2"><text:deletion><office:change-info><dc:creator>Reviewer</dc:creator><dc:date>2026-05-11T10:01:00</dc:date></office:change-info><text:p text:style-name="Text_20_body">${deleted}</text:p></text:deletion></text:changed-region>
</text:tracked-changes>`;
export const inserted = (text) =>
  `<text:change-start text:change-id="ct1"/>${text}<text:change-end text:change-id="ct1"/>`;
export const deleted = '<text:change text:change-id="ct2"/>';

// --- Spreadsheets ---

const currency = (name, sign, language, country) => `
  <number:currency-style style:name="${name}P" style:volatile="true"><number:currency-symbol number:language="${language}" number:country="${country}">${sign}</number:currency-symbol><number:number number:decimal-places="2" number:min-decimal-places="2" number:min-integer-digits="1" number:grouping="true"/></number:currency-style>
  <number:currency-style style:name="${name}"><style:text-properties fo:color="#c00000"/><number:text>-</number:text><number:currency-symbol number:language="${language}" number:country="${country}">${sign}</number:currency-symbol><number:number number:decimal-places="2" number:min-decimal-places="2" number:min-integer-digits="1" number:grouping="true"/><style:map style:condition="value()&gt;=0" style:apply-style-name="${name}P"/></number:currency-style>`;

const cellStyle = (name, data, extra = '') =>
  `<style:style style:name="${name}" style:family="table-cell" style:parent-style-name="Default"${data ? ` style:data-style-name="${data}"` : ''}>${extra}</style:style>`;

const sheetStyles = `
<office:styles><style:default-style style:family="table-cell"><style:text-properties fo:font-size="10pt" fo:language="en" fo:country="GB"/></style:default-style><style:style style:name="Default" style:family="table-cell"/></office:styles>
<office:automatic-styles>
  ${currency('Pounds', '£', 'en', 'GB')}${currency('Euros', '€', 'de', 'DE')}
  <number:date-style style:name="Day"><number:day/><number:text> </number:text><number:month number:textual="true"/><number:text> </number:text><number:year number:style="long"/></number:date-style>
  <number:percentage-style style:name="Share"><number:number number:decimal-places="1" number:min-integer-digits="1"/><number:text>%</number:text></number:percentage-style>
  <number:number-style style:name="Plain"><number:number number:decimal-places="2" number:min-decimal-places="2" number:min-integer-digits="1" number:grouping="true"/></number:number-style>
  <number:time-style style:name="Clock"><number:hours number:style="long"/><number:text>:</number:text><number:minutes number:style="long"/></number:time-style>
  ${cellStyle('Head', '', '<style:table-cell-properties fo:background-color="#e6ecef"/><style:text-properties fo:font-weight="bold"/>')}
  ${cellStyle('cPounds', 'Pounds')}${cellStyle('cEuros', 'Euros')}${cellStyle('cDay', 'Day')}${cellStyle('cShare', 'Share')}${cellStyle('cPlain', 'Plain')}${cellStyle('cClock', 'Clock')}
  ${cellStyle('Total', 'Pounds', '<style:text-properties fo:font-weight="bold"/>')}
  <style:style style:name="Wide" style:family="table-column"><style:table-column-properties style:column-width="4.4cm"/></style:style>
  <style:style style:name="Middle" style:family="table-column"><style:table-column-properties style:column-width="2.7cm"/></style:style>
</office:automatic-styles>`;

export const spreadsheet = (sheets, names = '') =>
  `${header('spreadsheet')}${sheetStyles}<office:body><office:spreadsheet>${sheets.join('')}${names}</office:spreadsheet></office:body></office:document>`;

export const sheet = (name, rows) =>
  `<table:table table:name="${escapeXml(name)}"><table:table-column table:style-name="Wide"/><table:table-column table:style-name="Middle" table:number-columns-repeated="7"/>${rows.join('')}</table:table>`;
export const row = (cells, { hidden = false } = {}) =>
  `<table:table-row${hidden ? ' table:visibility="collapse"' : ''}>${cells.map((cell) => (cell === '' ? '<table:table-cell/>' : cell === null ? '<table:covered-table-cell/>' : typeof cell === 'string' ? text(cell) : cell.xml)).join('')}</table:table-row>`;
const text = (words, attributes = '') =>
  `<table:table-cell${attributes} office:value-type="string"><text:p>${escapeXml(words)}</text:p></table:table-cell>`;
export const head = (words, across) => ({
  xml: text(words, ` table:style-name="Head"${across ? ` table:number-columns-spanned="${across}"` : ''}`),
});
export const number = (value, style = '') => ({
  xml: `<table:table-cell${style ? ` table:style-name="${style}"` : ''} office:value-type="float" office:value="${value}"/>`,
});
export const pounds = (value, formula) => ({
  xml: `<table:table-cell table:style-name="cPounds" office:value-type="currency" office:currency="GBP"${formula ? ` table:formula="of:=${escapeXml(formula)}"` : ''} office:value="${value}"/>`,
});
export const total = (value, formula) => ({
  xml: `<table:table-cell table:style-name="Total" office:value-type="currency" office:currency="GBP" table:formula="of:=${escapeXml(formula)}" office:value="${value}"/>`,
});
export const euros = (value) => ({
  xml: `<table:table-cell table:style-name="cEuros" office:value-type="currency" office:currency="EUR" office:value="${value}"/>`,
});
export const day = (iso) => ({
  xml: `<table:table-cell table:style-name="cDay" office:value-type="date" office:date-value="${iso}"/>`,
});
export const clock = (hours, minutes) => ({
  xml: `<table:table-cell table:style-name="cClock" office:value-type="time" office:time-value="PT${hours}H${minutes}M00S"/>`,
});
export const share = (value) => ({
  xml: `<table:table-cell table:style-name="cShare" office:value-type="percentage" office:value="${value}"/>`,
});
export const yes = (value) => ({
  xml: `<table:table-cell office:value-type="boolean" office:boolean-value="${value}"/>`,
});
export const namedRange = (name, address) =>
  `<table:named-range table:name="${name}" table:base-cell-address="$Timber.$A$1" table:cell-range-address="${address}"/>`;
