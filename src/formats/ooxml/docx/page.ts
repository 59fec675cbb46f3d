/** A page's size and margins in points. */
export interface Page {
  readonly width: number;
  readonly height: number;
  readonly margin: number;
}

/** Countries whose paper is US Letter (Unicode CLDR, paper size). */
const letterRegions = new Set([
  'US',
  'CA',
  'MX',
  'PH',
  'CL',
  'CO',
  'VE',
  'GT',
  'CR',
  'PA',
  'PR',
  'SV',
  'NI',
  'DO',
  'BZ',
]);

/** The paper of the language's country: US Letter or A4. */
export function pageFor(language: string): Page {
  const region = new Intl.Locale(language).maximize().region ?? '';
  return letterRegions.has(region)
    ? { width: 612, height: 792, margin: 72 }
    : { width: 595.3, height: 841.9, margin: 70.9 };
}

export const textWidth = ({ width, margin }: Page): number => width - 2 * margin;
export const twips = (points: number): string => String(Math.round(points * 20));
