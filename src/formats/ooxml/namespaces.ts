import type { Namespaces } from '../xml/read-xml.ts';

const transitional = 'http://schemas.openxmlformats.org';
const strict = 'http://purl.oclc.org/ooxml';

/** The namespaces of ISO/IEC 29500, Transitional (part 4) and Strict (part 1), by the prefixes we know them under. */
export const namespaces: Namespaces = new Map([
  [`${transitional}/wordprocessingml/2006/main`, 'w'],
  [`${strict}/wordprocessingml/main`, 'w'],
  [`${transitional}/spreadsheetml/2006/main`, ''],
  [`${strict}/spreadsheetml/main`, ''],
  [`${transitional}/officeDocument/2006/relationships`, 'r'],
  [`${strict}/officeDocument/relationships`, 'r'],
  [`${transitional}/officeDocument/2006/math`, 'm'],
  [`${strict}/officeDocument/math`, 'm'],
  [`${transitional}/drawingml/2006/main`, 'a'],
  [`${strict}/drawingml/main`, 'a'],
  [`${transitional}/drawingml/2006/wordprocessingDrawing`, 'wp'],
  [`${strict}/drawingml/wordprocessingDrawing`, 'wp'],
  [`${transitional}/drawingml/2006/picture`, 'pic'],
  [`${transitional}/drawingml/2006/spreadsheetDrawing`, 'xdr'],
  [`${strict}/drawingml/spreadsheetDrawing`, 'xdr'],
  [`${strict}/drawingml/picture`, 'pic'],
  [`${transitional}/markup-compatibility/2006`, 'mc'],
  ['http://schemas.microsoft.com/office/word/2010/wordml', 'w14'],
  [`${transitional}/drawingml/2006/chart`, 'c'],
  [`${strict}/drawingml/chart`, 'c'],
  [`${transitional}/drawingml/2006/diagram`, 'dgm'],
  [`${strict}/drawingml/diagram`, 'dgm'],
  ['urn:schemas-microsoft-com:vml', 'v'],
  ['urn:schemas-microsoft-com:office:office', 'o'],
]);
