/** What the self-opening page says, by language: it carries them all, since it can fetch none. */
import { type Language } from '@under-lock/core/language';
import { catalogue as english, type LockedPageWords } from '../words/locked-page/en';
import { catalogue as german } from '../words/locked-page/de';
import { catalogue as portuguese } from '../words/locked-page/pt';
import { catalogue as french } from '../words/locked-page/fr';
import { catalogue as spanish } from '../words/locked-page/es';
import { catalogue as italian } from '../words/locked-page/it';
import { catalogue as dutch } from '../words/locked-page/nl';
import { catalogue as polish } from '../words/locked-page/pl';
import { catalogue as arabic } from '../words/locked-page/ar';

export const lockedPageWords: Record<Language, LockedPageWords> = {
  en: english,
  de: german,
  pt: portuguese,
  fr: french,
  es: spanish,
  it: italian,
  nl: dutch,
  pl: polish,
  ar: arabic,
};
