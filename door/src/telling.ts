/** What is still to be told once a mail has left: passwords to those who get locked files, and to its writer what it did. */
import { handInText } from '@under-lock/contract/phone-text';
import { reportLeft } from '@under-lock/contract/submission';
import { coverWords } from '@under-lock/core/locks/file/cover';
import { type Summary } from '@under-lock/core/outgoing/draft';
import { type Known } from '@under-lock/core/outgoing/known';
import { type WhatWent } from '@under-lock/core/outgoing/send';
import { personAt } from '@under-lock/core/people/find';
import { sealForOwner } from '@under-lock/core/submission/owner';
import { type Owner } from './house';

/** Whether the gateway took it: where it did not, its writer is asked to tell it. */
const isTexted = ({ client }: Owner, to: string, text: string): Promise<boolean> =>
  handInText(client, to, text).then(
    (outcome) => outcome === 'taken',
    () => false,
  );

type Passwords = NonNullable<Summary['passwords']>;

/** Sends what goes as a text. Resolves with the passwords as they stand then, and with whom their writer has to tell. */
async function tellByText(
  owner: Owner,
  { summary, copies }: WhatWent,
  { people, office }: Known,
): Promise<{ passwords: Passwords; toTell: string[]; isTold: boolean }> {
  const passwords: Passwords = { ...summary.passwords };
  const toTell: string[] = [];
  let isTold = false;
  for (const { id, address } of copies.flatMap(({ recipients }) => recipients)) {
    const kept = passwords[id];
    if (kept === undefined || kept.told) continue;
    const person = personAt(people, address)?.value;
    const words = coverWords(person?.language ?? 'en');
    const went =
      kept.telling === 'text' &&
      person?.phone !== undefined &&
      (await isTexted(owner, person.phone, words.text(owner.account.name, office.name, kept.password)));
    if (!went) toTell.push(address);
    else {
      passwords[id] = { ...kept, told: true };
      isTold = true;
    }
  }
  return { passwords, toTell, isTold };
}

/** @throws ApiProblem */
export async function report(owner: Owner, went: WhatWent, known: Known): Promise<void> {
  const { messageId: id, summary } = went;
  const { passwords, toTell, isTold } = await tellByText(owner, went, known);
  const kept = isTold ? { summary: await sealForOwner(owner.key, 'sent', id, { ...summary, passwords }) } : {};
  await owner.client(reportLeft, {
    params: { id },
    body: { toTell, asWritten: known.asItCame !== undefined, ...kept },
  });
}
