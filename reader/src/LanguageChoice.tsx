/** Whoever can't read the page finds their own language at its foot, by its own name. */
import { LANGUAGES, type Language, OWN_NAMES } from '@under-lock/core/language';
import { Select } from '@under-lock/ui';
import { chooseForGood } from './spoken';

export const ownLanguages = LANGUAGES.map((value) => ({ value, label: OWN_NAMES[value], lang: value }));
const NARROW = { maxWidth: 240 };

export const LanguageChoice = ({ language, label }: { language: Language; label: string }) => (
  <Select label={label} value={language} onChange={chooseForGood} options={ownLanguages} style={NARROW} />
);
