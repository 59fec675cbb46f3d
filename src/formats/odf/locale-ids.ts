/** The identifiers that number formats have for languages (ISO/IEC 29500-1, 18.8.31), of those with a currency of their own. */
const identifiers: readonly (readonly [id: string, tag: string])[] = [
  ['401', 'ar-SA'],
  ['402', 'bg-BG'],
  ['404', 'zh-TW'],
  ['405', 'cs-CZ'],
  ['406', 'da-DK'],
  ['407', 'de-DE'],
  ['408', 'el-GR'],
  ['409', 'en-US'],
  ['40A', 'es-ES'],
  ['40B', 'fi-FI'],
  ['40C', 'fr-FR'],
  ['40D', 'he-IL'],
  ['40E', 'hu-HU'],
  ['40F', 'is-IS'],
  ['410', 'it-IT'],
  ['411', 'ja-JP'],
  ['412', 'ko-KR'],
  ['413', 'nl-NL'],
  ['414', 'nb-NO'],
  ['415', 'pl-PL'],
  ['416', 'pt-BR'],
  ['418', 'ro-RO'],
  ['419', 'ru-RU'],
  ['41A', 'hr-HR'],
  ['41B', 'sk-SK'],
  ['41D', 'sv-SE'],
  ['41E', 'th-TH'],
  ['41F', 'tr-TR'],
  ['421', 'id-ID'],
  ['422', 'uk-UA'],
  ['424', 'sl-SI'],
  ['425', 'et-EE'],
  ['426', 'lv-LV'],
  ['427', 'lt-LT'],
  ['42A', 'vi-VN'],
  ['439', 'hi-IN'],
  ['804', 'zh-CN'],
  ['807', 'de-CH'],
  ['809', 'en-GB'],
  ['80A', 'es-MX'],
  ['80C', 'fr-BE'],
  ['810', 'it-CH'],
  ['813', 'nl-BE'],
  ['816', 'pt-PT'],
  ['C01', 'ar-EG'],
  ['C07', 'de-AT'],
  ['C09', 'en-AU'],
  ['C0A', 'es-ES'],
  ['C0C', 'fr-CA'],
  ['1009', 'en-CA'],
  ['100C', 'fr-CH'],
  ['1407', 'de-LI'],
  ['1409', 'en-NZ'],
  ['1809', 'en-IE'],
  ['1C09', 'en-ZA'],
  ['2C0A', 'es-AR'],
  ['3801', 'ar-AE'],
  ['4009', 'en-IN'],
];

const tags = new Map(identifiers);
const ids = new Map(identifiers.toReversed().map(([id, tag]) => [tag, id]));

/** The language and country of an identifier, such as `407`: de and DE. */
export function localeOf(id: string): { readonly language: string; readonly country: string } | undefined {
  const [language, country] = tags.get(id.replace(/^0+/, '').toUpperCase())?.split('-') ?? [];
  return language === undefined || country === undefined ? undefined : { language, country };
}

/** The identifier of a language and country; `undefined` where there is none. */
export const localeId = (language = '', country = ''): string | undefined => ids.get(`${language}-${country}`);
