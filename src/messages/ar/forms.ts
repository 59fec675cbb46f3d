import type { Plural } from '../catalogue.ts';

/** صيغ العدد لاسم: بلا شيء، واحد، اثنان، جمع، تمييز. */
export const counted = (none: string, one: string, two: string, few: string, many: string): Plural => ({
  zero: none,
  one,
  two,
  few: `{count} ${few}`,
  many: `{count} ${many}`,
  other: `{count} ${many}`,
});

/** جملة فيها عدد من القصاصات مكان `{n}`؛ `two` مرفوعة أو منصوبة، و`none` الجملة كلها بلا شيء. */
export function snippets(sentence: string, two: string, none: string): Plural {
  const forms = counted('', 'قصاصة واحدة', two, 'قصاصات', 'قصاصة');
  const said = Object.entries(forms).map(([way, noun]) => [way, sentence.replace('{n}', noun)]);
  return { ...forms, ...Object.fromEntries(said), zero: none };
}
