/** What the self-opening page says, by language: it carries them all, since it can fetch none. */
import { type Language } from '@under-lock/core/language';
import { catalogue as en, type LockedPageWords } from '../words/locked-page/en';
import { catalogue as de } from '../words/locked-page/de';
import { catalogue as pt } from '../words/locked-page/pt';
import { catalogue as fr } from '../words/locked-page/fr';
import { catalogue as es } from '../words/locked-page/es';
import { catalogue as it } from '../words/locked-page/it';
import { catalogue as nl } from '../words/locked-page/nl';
import { catalogue as pl } from '../words/locked-page/pl';
import { catalogue as ar } from '../words/locked-page/ar';

export const lockedPageWords: Record<Language, LockedPageWords> = { en, de, pt, fr, es, it, nl, pl, ar };
