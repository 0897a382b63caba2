/** Numbers with the form their noun takes, and lists, by the rules of Unicode’s CLDR, which every browser and Node has. */
import { type Language, REGIONS } from './language';

/** Two forms serve where CLDR has a third for whole millions: it reads like the last of them. */
const TWO = ['one', 'other'] as const;
/** The forms each language needs. */
export const PLURAL_FORMS = {
  en: TWO,
  de: TWO,
  pt: TWO,
  fr: TWO,
  es: TWO,
  it: TWO,
  nl: TWO,
  pl: ['one', 'few', 'many'],
  ar: ['zero', 'one', 'two', 'few', 'many', 'other'],
} as const satisfies Record<Language, readonly Intl.LDMLPluralRule[]>;
type PluralForm<L extends Language> = (typeof PLURAL_FORMS)[L][number];

/** Puts a count into the form it takes; `#` in a form is the number. Pure. */
export type Counted<L extends Language> = (count: number, forms: Record<PluralForm<L>, string>) => string;

export function counting<L extends Language>(language: L): Counted<L> {
  const rules = new Intl.PluralRules(REGIONS[language]);
  const last = PLURAL_FORMS[language].at(-1)!;
  return (count, forms) => {
    const all: Partial<Record<Intl.LDMLPluralRule, string>> = forms;
    return (all[rules.select(count)] ?? all[last]!).replace('#', String(count));
  };
}

/** "a, b and c", as the language joins them. Pure. */
export function listing(language: Language): (parts: readonly string[]) => string {
  const format = new Intl.ListFormat(REGIONS[language], { type: 'conjunction' });
  return (parts) => format.format(parts);
}
