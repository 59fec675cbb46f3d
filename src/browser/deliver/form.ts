import type { MatchableSlot, MatchableSnippet, Matching } from '../../compose/index.ts';
import { type Content, DrawerError } from '../../content/index.ts';
import { isTag } from '../dom.ts';
import { type Field, fillWhole, isField, kindOf, nameOf } from './field.ts';

/** A field of a form, or a group of radio buttons, as something to be filled. */
export interface FormSlot extends MatchableSlot {
  readonly field: Field;
}

/** What became of a form. */
export interface FormReport {
  readonly filled: readonly { readonly slot: FormSlot; readonly snippet: MatchableSnippet }[];
  /** Fields that nothing was found for, and those that more than one snippet would fit. */
  readonly empty: readonly FormSlot[];
  readonly ambiguous: Matching<FormSlot>['ambiguous'];
  /** Fields that did not take what was found for them. */
  readonly refused: readonly { readonly slot: FormSlot; readonly error: DrawerError }[];
  readonly unused: readonly MatchableSnippet[];
}

const slotKinds: Readonly<Record<string, MatchableSlot['kind']>> = {
  date: 'date',
  number: 'number',
  email: 'email',
  check: 'check',
  choice: 'choice',
  text: 'text',
};

/** The fields of a form in order, each radio group once; those that take nothing are left out. */
export function slotsOf(form: ParentNode): FormSlot[] {
  const groups = new Set<string>();
  return [...form.querySelectorAll('input, textarea, select')].flatMap((field, index): FormSlot[] => {
    if (!isField(field) || field.disabled || ('readOnly' in field && field.readOnly)) return [];
    if (isTag(field, 'input') && /^(?:hidden|button|submit|reset|image|file|password)$/.test(field.type)) return [];
    const isRadio = isTag(field, 'input') && field.type === 'radio';
    if (isRadio && groups.has(field.name)) return [];
    if (isRadio) groups.add(field.name);
    const legend = isRadio ? field.closest('fieldset')?.querySelector('legend')?.textContent?.trim() : undefined;
    const names = [legend ?? nameOf(field), field.name].filter((name) => name !== '');
    const choices = choicesOf(field, form);
    return [
      {
        field,
        key: field.name || field.id || `field ${index + 1}`,
        names,
        kind:
          isTag(field, 'input') && field.type === 'tel'
            ? 'phone'
            : field.type === 'url'
              ? 'url'
              : (slotKinds[kindOf(field) ?? 'text'] ?? 'text'),
        ...(choices && { choices }),
      },
    ];
  });
}

function choicesOf(field: Field, form: ParentNode): string[] | undefined {
  if (isTag(field, 'select')) return [...field.options].map(({ text }) => text);
  if (!isTag(field, 'input') || field.type !== 'radio') return undefined;
  return [...form.querySelectorAll<HTMLInputElement>('input[type="radio"]')]
    .filter(({ name }) => name === field.name)
    .map((each) => nameOf(each));
}

/**
 * Fills a form of the page by label, then by trait (the one date into the one field for a date); nothing is guessed between
 * two. Each field gets the value in its own form; one that does not take it stays as it was, and is reported.
 */
export async function fillPageForm(
  form: ParentNode,
  snippets: readonly (MatchableSnippet & { readonly content: Content })[],
  language = document.documentElement.lang || 'en-GB',
): Promise<FormReport> {
  const { matchSlots } = await import('../../compose/index.ts');
  const { matches, empty, ambiguous, unused } = matchSlots(slotsOf(form), snippets);
  const filled: FormReport['filled'][number][] = [];
  const refused: FormReport['refused'][number][] = [];
  for (const { slot, snippet } of matches) {
    try {
      await fillWhole(slot.field, snippet.content, language);
      filled.push({ slot, snippet });
    } catch (error) {
      if (!DrawerError.is(error)) throw error;
      refused.push({ slot, error });
    }
  }
  return { filled, empty, ambiguous, refused, unused };
}
