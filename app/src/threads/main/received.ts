/** The account's own key pair, and opening what was sealed to it: in the worker thread, like every secret. */
import { defined } from '@under-lock/core/defined';
import { createClient } from '@under-lock/contract/client';
import { getReceivedPart, type IncomingMail, openReceived } from '@under-lock/contract/received';
import { makeKeyPair, openFrom, openSummary, shareContext } from '@under-lock/core/account/key-pair';
import { type Bytes, fromBase64Url, toBase64Url } from '@under-lock/core/bytes';
import { type Handling } from '@under-lock/core/handling/handling';
import { openContent } from '@under-lock/core/locks/room/content';
import { joinKey } from '@under-lock/core/locks/room/grant';
import { openFromRoom } from '@under-lock/core/locks/room/open';
import { type MessageContent } from '@under-lock/core/message/content';
import {
  type IncomingSummary,
  openIncomingKey,
  openIncomingSummary,
  sealIncomingSummary,
  sealIncomingWords,
} from '@under-lock/core/incoming/incoming';
import { type Words } from '@under-lock/core/search/words';
import { type ForTheAnswer, openForTheAnswer, openSlotProof, type SlotProof } from '@under-lock/core/slot/left';
import { sealItem } from '@under-lock/core/vault/item';
import { z } from 'zod';
import { openedVault } from './account';
import { fetchParts } from './parts';
import { shelfOf } from '../shelf';
import { download } from '../transfer';
import { type OpenVault } from '../vault-key';

const client = createClient(self.location.origin);
const keySchema = z.object({ suite: z.number(), privateKey: z.string() });

/** The private key is in the vault, and something else is wrong: it was made by another program or is damaged. */
class AccountKeyError extends Error {
  constructor() {
    super('The account’s key does not open');
    this.name = 'AccountKeyError';
  }
}

// As long as the vault it came from is open.
const kept = new WeakMap<OpenVault, Promise<Bytes>>();
/** Of the account. @throws AccountKeyError */
export function privateKey(): Promise<Bytes> {
  const vault = openedVault();
  const known = kept.get(vault) ?? fetchPrivateKey(vault);
  kept.set(vault, known);
  known.catch(() => kept.delete(vault));
  return known;
}

async function fetchPrivateKey({ accountId }: OpenVault): Promise<Bytes> {
  const item = await (await shelfOf(async () => openedVault())).read('account-key', accountId);
  const parsed = keySchema.safeParse(item?.value);
  if (!parsed.success) throw new AccountKeyError();
  return fromBase64Url(parsed.data.privateKey);
}

export const received = {
  /** A new key pair, its private half sealed for the vault. */
  async makeAccountKey(): Promise<{ suite: number; publicKey: Bytes; sealedPrivateKey: Bytes }> {
    const { accountId, key } = openedVault();
    const pair = await makeKeyPair();
    return {
      suite: pair.suite,
      publicKey: pair.publicKey,
      sealedPrivateKey: await sealItem(key, 'account-key', accountId, {
        suite: pair.suite,
        privateKey: toBase64Url(pair.privateKey),
      }),
    };
  },
  /** What the list may show; undefined for what does not open. */
  async subjects(
    items: { grantId: string; share: Uint8Array; summary: Uint8Array }[],
  ): Promise<(string | undefined)[]> {
    if (items.length === 0) return [];
    const key = await privateKey();
    return Promise.all(
      items.map(({ grantId, share, summary }) =>
        openFrom(key, share, shareContext(grantId))
          .then((own) => openSummary(summary, own, grantId))
          .then(
            ({ subject }) => subject,
            () => undefined,
          ),
      ),
    );
  },
  /** What the list may show of mail that came in; undefined for what does not open. */
  async incoming(
    mails: Pick<IncomingMail, 'id' | 'sealedKey' | 'sealedSummary'>[],
  ): Promise<(IncomingSummary | undefined)[]> {
    if (mails.length === 0) return [];
    const key = await privateKey();
    return Promise.all(
      mails.map(({ id, sealedKey, sealedSummary }) =>
        openIncomingKey(key, sealedKey, id)
          .then((own) => openIncomingSummary(sealedSummary, own, id))
          .catch(() => undefined),
      ),
    );
  },
  /**
   * Fetches a mail that came in and opens what the door sealed: the mail as it came. @throws ApiProblem, SealError,
   * ContentError
   */
  async openIncoming({ id, sealedKey, blobId }: Pick<IncomingMail, 'id' | 'sealedKey' | 'blobId'>): Promise<Bytes> {
    const key = await openIncomingKey(await privateKey(), sealedKey, id);
    return openContent(await download(blobId), key);
  },
  /** Of a mail that was left in a mail slot, what the server sealed of its sender and what its sender left for the answer. @throws SealError */
  async leftInSlot({
    id,
    sealedKey,
    slot: { sealedProof, sealedAnswer },
  }: Pick<IncomingMail, 'id' | 'sealedKey'> & { slot: NonNullable<IncomingMail['slot']> }): Promise<{
    proof: SlotProof;
    answer: ForTheAnswer;
  }> {
    const own = await privateKey();
    const [proof, answer] = await Promise.all([
      openSlotProof(own, sealedProof, id),
      openIncomingKey(own, sealedKey, id).then((key) => openForTheAnswer(sealedAnswer, key, id)),
    ]);
    return { proof, answer };
  },
  /** What it is found by, as it is kept from now on. */
  async sealIncomingWords({ id, sealedKey }: Pick<IncomingMail, 'id' | 'sealedKey'>, words: Words): Promise<Bytes> {
    return sealIncomingWords(words, await openIncomingKey(await privateKey(), sealedKey, id), id);
  },
  /** A summary as it is kept from now on. */
  async sealIncoming(
    { id, sealedKey, sealedSummary }: Pick<IncomingMail, 'id' | 'sealedKey' | 'sealedSummary'>,
    summary: Omit<IncomingSummary, 'origin'>,
  ): Promise<Bytes> {
    const key = await openIncomingKey(await privateKey(), sealedKey, id);
    // Where it came from was judged at the door, and is nobody's to say anew.
    const { origin } = await openIncomingSummary(sealedSummary, key, id);
    return sealIncomingSummary({ ...summary, ...defined({ origin }) }, key, id);
  },
  /**
   * Fetches and opens a message held for this account; `progress` is told the share fetched. @throws ApiProblem,
   * SealError
   */
  async open(
    grantId: string,
    progress: (done: number) => void,
  ): Promise<{ content: MessageContent; handling: Handling; confirm: { at?: Date | undefined } | undefined }> {
    const released = await client(openReceived, { params: { id: grantId } });
    const share = await openFrom(await privateKey(), released.sealedShare, shareContext(grantId));
    const key = await joinKey(share, released, { grantId, messageId: released.messageId });
    const content = await fetchParts(
      released.size,
      (index) => client(getReceivedPart, { params: { id: grantId, index } }),
      progress,
    );
    return {
      content: await openFromRoom({ content, key }),
      handling: released.handling,
      confirm: released.confirm,
    };
  },
};
