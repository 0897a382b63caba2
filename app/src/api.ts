/** The one client of the office's application. */
import { createClient, KeptAnswers } from '@under-lock/contract/client';

const answers = new KeptAnswers();

export const api = createClient(typeof window === 'undefined' ? '' : window.location.origin, undefined, answers);

/** What was answered to whoever was signed in is not kept for whoever is next. */
export const forgetAnswers = (): void => answers.forget();
