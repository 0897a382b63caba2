/** What is still to be told once a mail has left: passwords to those who get locked files, and to its writer what it did. */
import { permitText } from '@under-lock/contract/phone';
import { reportLeft } from '@under-lock/contract/submission';
import { coverWords } from '@under-lock/core/locks/file/cover';
import { type DispatchBody } from '@under-lock/core/outgoing/dispatch';
import { type Summary } from '@under-lock/core/outgoing/draft';
import { type Known } from '@under-lock/core/outgoing/known';
import { personAt } from '@under-lock/core/people/find';
import { sealForOwner } from '@under-lock/core/submission/owner';
import { type Owner } from './house';

const TEXT_MS = 10_000;

/** Handed in at the gateway itself: the office's server never sees it. Resolves with whether it was taken. */
async function sendText({ client }: Owner, to: string, text: string): Promise<boolean> {
  try {
    const { url, permit } = await client(permitText, { body: { to } });
    const response = await fetch(url, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ permit, text }),
      signal: AbortSignal.timeout(TEXT_MS),
    });
    return response.ok;
  } catch {
    return false; // its writer is asked to tell it
  }
}

/** What was handed over, as it was handed over. */
export interface Left {
  id: string;
  summary: Summary;
  body: Pick<DispatchBody, 'copies'>;
}

type Passwords = NonNullable<Summary['passwords']>;

/** Sends what goes as a text. Resolves with the passwords as they stand then, and with whom their writer has to tell. */
async function tellByText(
  owner: Owner,
  { summary, body }: Left,
  { people, office }: Known,
): Promise<{ passwords: Passwords; toTell: string[]; isTold: boolean }> {
  const passwords: Passwords = { ...summary.passwords };
  const toTell: string[] = [];
  let isTold = false;
  for (const { id, address } of (body.copies ?? []).flatMap(({ recipients }) => recipients)) {
    const kept = passwords[id];
    if (kept === undefined || kept.told) continue;
    const person = personAt(people, address)?.value;
    const words = coverWords(person?.language ?? 'en');
    const went =
      kept.telling === 'text' &&
      person?.phone !== undefined &&
      (await sendText(owner, person.phone, words.text(owner.account.name, office.name, kept.password)));
    if (!went) toTell.push(address);
    else {
      passwords[id] = { ...kept, told: true };
      isTold = true;
    }
  }
  return { passwords, toTell, isTold };
}

/** @throws ApiProblem */
export async function report(owner: Owner, left: Left, known: Known): Promise<void> {
  const { id, summary } = left;
  const { passwords, toTell, isTold } = await tellByText(owner, left, known);
  const kept = isTold ? { summary: await sealForOwner(owner.key, 'sent', id, { ...summary, passwords }) } : {};
  await owner.client(reportLeft, {
    params: { id },
    body: { toTell, asWritten: known.asItCame !== undefined, ...kept },
  });
}
