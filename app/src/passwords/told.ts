/** Notes that somebody has been told their password: with the message, and in the book when it is the one there. */
import { summarySchema } from '@under-lock/core/outgoing/draft';
import { keepItem, readItem } from '../vault/useVault';
import { type Book, entryFor } from '@under-lock/core/passwords/entry';

/** @throws ApiProblem `conflict` when the record was changed elsewhere at the same moment */
export async function noteTold({
  messageId,
  recipientId,
  address,
  book,
  now,
}: {
  messageId: string;
  recipientId: string;
  address: string;
  book: Book;
  now: Date;
}): Promise<void> {
  const kept = await readItem('sent', messageId, summarySchema);
  const password = kept?.value.passwords?.[recipientId];
  if (kept === undefined || password === undefined) return;
  await keepItem('sent', kept.id, kept.revision, {
    ...kept.value,
    passwords: { ...kept.value.passwords, [recipientId]: { ...password, told: true } },
  });
  const entry = entryFor(book, address, 'out');
  if (entry?.value.password === password.password)
    await keepItem('password', entry.id, entry.revision, { ...entry.value, toldAt: now.toISOString() });
}
