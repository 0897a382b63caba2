/** As much as anybody has: many people, many mails, many files, long names. For looking at, not for the demo. */
import { randomUUID } from 'node:crypto';
import { type Bytes, utf8 } from '@under-lock/core/bytes';
import { type Context } from '../context';
import { keepIncoming } from '../incoming/incoming';
import { type Filling } from './seed';

const DAY = 86_400_000;
const PEOPLE = 200;
const FILES = 60;
const MAILS = 1000;

const LONG = 'Wilhelmina-Alexandrina von Ostersunderhavn-Lillemarksdatter, deputy head of the harbour authority';
const WITHOUT_A_BREAK = 'Donaudampfschifffahrtselektrizitaetenhauptbetriebswerkbauunterbeamtengesellschaft';

const personOf = (index: number) => ({
  name: index % 10 === 0 ? `${LONG} ${index}` : `Deckhand ${index}`,
  address: `crew.${index}@${index % 10 === 0 ? 'a-very-long-name-of-a-firm-that-nobody-can-remember.' : ''}islandferry.example`,
  phone: `+447700${900500 + index}`,
});

const letter = (index: number): Bytes =>
  utf8(
    [
      `From: ${index % 7 === 0 ? `"${LONG}"` : `Deckhand ${index}`} <crew.${index % PEOPLE}@islandferry.example>`,
      'To: <tobias.quill@larkmoor.example>',
      `Subject: ${index % 5 === 0 ? `${WITHOUT_A_BREAK} ${index}` : `Time sheet ${index}`}`,
      `Message-ID: <${index}@islandferry.example>`,
      '',
      `Hours of week ${index}.`,
      '',
    ].join('\r\n'),
  );

export async function seedCrowd(context: Context, { account, shelf, send }: Filling): Promise<void> {
  const crowd = Array.from({ length: PEOPLE }, (_, index) => personOf(index));
  for (const one of crowd) await shelf.keep('person', randomUUID(), 0, one);
  await send({
    subject: `${LONG}: ${WITHOUT_A_BREAK}`,
    reference: 'PY-2611-999-LONG-REFERENCE-NUMBER',
    ago: DAY,
    told: false,
    closesAt: new Date(context.clock().getTime() + 9 * DAY),
    to: crowd,
    text: `${WITHOUT_A_BREAK} `.repeat(20),
    files: Array.from({ length: FILES }, (_, index) => ({
      name: `${index % 3 === 0 ? WITHOUT_A_BREAK : 'Time sheet of the night boats, week'} ${index}.txt`,
      type: 'text/plain',
      bytes: utf8(`Sheet ${index}`),
    })),
  });
  for (let index = 0; index < MAILS; index++)
    await keepIncoming(context, account, letter(index), { from: `crew.${index % PEOPLE}@islandferry.example` });
}
