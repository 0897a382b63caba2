/**
 * A password as a text message: our server gives leave, and this browser hands it in at the phone door, so that the
 * server never sees it.
 */
import { ApiProblem } from '@under-lock/contract/problem';
import { handInText } from '@under-lock/contract/phone-text';
import { api } from '../api';

const notSent = (detail: string): ApiProblem =>
  new ApiProblem({ type: 'about:blank', title: 'The password was not sent', status: 502, code: 'unreachable', detail });

/** @throws ApiProblem with a sentence */
export async function sendPasswordText(to: string, text: string): Promise<void> {
  const outcome = await handInText(api, to, text);
  if (outcome === 'unreachable')
    throw notSent(
      'The gateway for text messages can’t be reached, so the password was not sent. Try again, or tell them on the phone.',
    );
  if (outcome === 'refused')
    throw notSent(
      'The gateway for text messages did not take it: perhaps the number is wrong. Look at it under People, or tell them the password on the phone.',
    );
}
