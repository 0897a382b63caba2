/** Brings an index up to date: from the newest message back until it meets what it knows. */
import { listSent, type SentMessage } from '@under-lock/contract/outgoing';
import { type IncomingMail, listReceived, type Received, receivedId } from '@under-lock/contract/received';
import { fetchWords } from '@under-lock/contract/search';
import { openFrom, openSummary, shareContext } from '@under-lock/core/account/key-pair';
import { type Bytes, fromBase64Url } from '@under-lock/core/bytes';
import { openIncomingKey, openIncomingSummary, openIncomingWords } from '@under-lock/core/incoming/incoming';
import { summarySchema } from '@under-lock/core/outgoing/draft';
import { SealError } from '@under-lock/core/sealing';
import { walkBack } from '@under-lock/core/search/walk';
import { defined } from '@under-lock/core/defined';
import { type SearchRecord } from '@under-lock/core/search/scan';
import { type Words, wordsSchema } from '@under-lock/core/search/words';
import { openKept } from '@under-lock/core/submission/owner';
import { z } from 'zod';
import { client, shelf } from '../opened/vault';
import { type OpenVault } from '../vault-key';
import { type KeptIndex } from './kept';

const PAGE = 100;
const NO_WORDS: Words = { text: '', files: [] };

const inChunks = <T>(all: readonly T[]): T[][] =>
  Array.from({ length: Math.ceil(all.length / PAGE) }, (_, at) => all.slice(at * PAGE, (at + 1) * PAGE));

type Own = Parameters<typeof openKept>[0];
/** For what the door for mail programs sealed in the sender’s name. */
const ownOf = (vault: OpenVault): Own => {
  let found: Promise<Bytes> | undefined;
  return {
    key: vault.key,
    privateKey: () =>
      (found ??= privateKey(vault).then((key) => {
        if (key === undefined) throw new SealError('not-opened');
        return key;
      })),
  };
};

async function wordsOfSent(own: Own, ids: string[]): Promise<Map<string, Words>> {
  const { sent } = await client(fetchWords, { body: { sent: ids, mails: [], held: [] } });
  const opened = await Promise.all(
    sent.map(async ({ id, sealed }) => {
      const parsed = wordsSchema.safeParse(await openKept(own, 'words', id, sealed).catch(() => undefined));
      return [id, parsed.success ? parsed.data : NO_WORDS] as const;
    }),
  );
  return new Map(opened);
}

async function recordOfSent(own: Own, message: SentMessage, words: Words | undefined): Promise<SearchRecord> {
  const { id, sentAt, reference, grants, copies } = message;
  const summary = summarySchema.safeParse(await openKept(own, 'sent', id, message.summary).catch(() => undefined));
  return {
    id,
    kind: 'sent',
    at: sentAt.getTime(),
    subject: summary.success ? summary.data.subject : '',
    people: [...grants, ...copies].map(({ name, address }) => ({ name, address })),
    reference,
    files: words?.files ?? (summary.success ? summary.data.files.map(({ name }) => name) : []),
    text: words?.text ?? '',
    worded: true,
  };
}

const addressesOf = (people: readonly { address: string }[]): string => people.map(({ address }) => address).join('\n');

async function renewSent(vault: OpenVault, kept: KeptIndex, told: () => void): Promise<void> {
  const { index, put, flush, whole, noteWhole } = kept;
  const own = ownOf(vault);
  await walkBack(
    (before) => client(listSent, { query: { limit: PAGE, ...defined({ before }) } }),
    async ({ messages }) => {
      const known = messages.some(({ id }) => index.get(id) !== undefined);
      // Somebody may have been let in or corrected since.
      const fresh = messages.filter(({ id, grants, copies }) => {
        const before = index.get(id);
        return before === undefined || addressesOf(before.people) !== addressesOf([...grants, ...copies]);
      });
      if (fresh.length > 0) {
        const words = await wordsOfSent(
          own,
          fresh.map(({ id }) => id),
        );
        for (const message of fresh) put(await recordOfSent(own, message, words.get(message.id)));
        await flush();
        told();
      }
      return { fresh: fresh.length > 0, known };
    },
    whole.has('sent'),
  );
  await noteWhole('sent');
}

const keySchema = z.object({ privateKey: z.string() });

async function privateKey({ accountId }: OpenVault): Promise<Bytes | undefined> {
  const item = await (await shelf()).read('account-key', accountId);
  const parsed = keySchema.safeParse(item?.value);
  return parsed.success ? fromBase64Url(parsed.data.privateKey) : undefined;
}

async function recordOfHeld(key: Bytes, { grantId, from, arrivedAt, closesAt, reference, sealed }: Received) {
  // Its access has ended: nothing of it is kept.
  if (sealed === undefined) return undefined;
  const share = await openFrom(key, sealed.share, shareContext(grantId));
  const { subject } = await openSummary(sealed.summary, share, grantId);
  const record: SearchRecord = {
    id: grantId,
    kind: 'held',
    at: arrivedAt.getTime(),
    subject,
    people: [from],
    reference,
    files: [],
    text: '',
    worded: true,
    closesAt: closesAt.getTime(),
  };
  return record;
}

async function recordOfMail(key: Bytes, { id, arrivedAt, sealedKey, sealedSummary }: IncomingMail) {
  const { subject, from } = await openIncomingSummary(sealedSummary, await openIncomingKey(key, sealedKey, id), id);
  const record: SearchRecord = {
    id,
    kind: 'mail',
    at: arrivedAt.getTime(),
    subject,
    people: [from],
    reference: '',
    files: [],
    text: '',
    worded: false,
  };
  return record;
}

/** What comes encrypted has words only once it was opened somewhere: asked for each time, the newest first. */
async function addWordsOfMails(key: Bytes, mails: readonly IncomingMail[], { index, put }: KeptIndex): Promise<void> {
  for (const chunk of inChunks(mails.filter(({ id }) => index.get(id)?.worded === false))) {
    const { mails: found } = await client(fetchWords, {
      body: { sent: [], mails: chunk.map(({ id }) => id), held: [] },
    });
    for (const { id, sealed } of found) {
      const { sealedKey, sealedSummary } = chunk.find((one) => one.id === id)!;
      const own = await openIncomingKey(key, sealedKey, id);
      const [words, { subject, from }] = await Promise.all([
        openIncomingWords(sealed, own, id).catch(() => NO_WORDS),
        openIncomingSummary(sealedSummary, own, id),
      ]);
      put({ ...index.get(id)!, subject, people: [from], ...words, worded: true });
    }
  }
}

/** What does not open with this account's key is not found. */
const recordOfReceived = (key: Bytes, one: Received | IncomingMail): Promise<SearchRecord | undefined> =>
  (one.kind === 'held' ? recordOfHeld(key, one) : recordOfMail(key, one)).catch(() => undefined);

async function renewReceived(vault: OpenVault, kept: KeptIndex, told: () => void): Promise<void> {
  const key = await privateKey(vault);
  if (key === undefined) return;
  const { index, put, flush, whole, noteWhole } = kept;
  await walkBack(
    (before) => client(listReceived, { query: defined({ before }) }),
    async ({ messages }) => {
      const unmet = messages.filter((one) => index.get(receivedId(one)) === undefined);
      const records = await Promise.all(unmet.map((one) => recordOfReceived(key, one)));
      const fresh = records.filter((record) => record !== undefined);
      for (const record of fresh) put(record);
      await addWordsOfMails(
        key,
        messages.flatMap((one) => (one.kind === 'mail' ? [one] : [])),
        kept,
      );
      await flush();
      told();
      return { fresh: fresh.length > 0, known: unmet.length < messages.length };
    },
    whole.has('received'),
  );
  await noteWhole('received');
}

/** What is held for this account goes from the index with its access. */
export function dropClosed({ index, drop }: KeptIndex, now: number): void {
  for (const { id, closesAt } of [...index.all()]) if (closesAt !== undefined && closesAt <= now) drop(id);
}

async function dropEnded({ index, drop, flush }: KeptIndex): Promise<void> {
  const ids = [...index.all()].filter(({ kind }) => kind === 'held').map(({ id }) => id);
  for (const chunk of inChunks(ids)) {
    const { held } = await client(fetchWords, { body: { sent: [], mails: [], held: chunk } });
    for (const id of chunk) if (!held.includes(id)) drop(id);
  }
  await flush();
}

/** `told` after each page. @throws ApiProblem, VaultLockedError */
export async function renewIndex(vault: OpenVault, kept: KeptIndex, told: () => void): Promise<void> {
  dropClosed(kept, Date.now());
  await renewSent(vault, kept, told);
  await renewReceived(vault, kept, told);
  await dropEnded(kept);
  told();
}
