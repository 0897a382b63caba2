/**
 * The one place where an access comes to be: at dispatch, given again, added later, passed on, and with whatever
 * readers write. Each is judged before it is made, by what its message and the office demand.
 */
import { createHash, randomUUID } from 'node:crypto';
import { type Bytes } from '@under-lock/core/bytes';
import { grantHolds, type ReaderKnown, type Unheld } from '@under-lock/core/access/holds';
import { type HandlingTerms } from '@under-lock/core/handling/handling';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { checkAddress } from '@under-lock/core/people/address';
import { type Language } from '@under-lock/core/language';
import { type Transaction } from 'sequelize';
import { type Context } from '../context';
import { type AccountRow, GrantRow, OutboxRow, type ReaderRow } from '../data/models';
import { type KeptChannel } from './channel';
import { houseShareContext, readerShareContext } from './grants';
import { invalid, Problem } from '../problem';

interface SealedForReader {
  sealedShare: Uint8Array;
  sealedSummary: Uint8Array;
}

export type AccessReader =
  /** Finds it in Received; no notice is sent. */
  | ({ kind: 'account'; account: AccountRow } & SealedForReader)
  /** Is told by a notice whose link carries no share. */
  | ({ kind: 'registered'; reader: ReaderRow; language: Language } & SealedForReader)
  /**
   * Is told by a notice with their share. `registeredId`: of the account they have besides, in whose list it will lie
   * once it is opened.
   */
  | { kind: 'link'; readerShare: Uint8Array; way: KeptChannel; language: Language; registeredId: string | null };

export interface NewAccess {
  id: string;
  messageId: string;
  /** Whose message it hangs on. */
  owner: AccountRow;
  /** What its message demands, and what the office demands of it. */
  handling: HandlingTerms;
  floor: HandlingTerms;
  position: number;
  address: string;
  name: string;
  role: GrantRow['role'];
  closesAt: Date;
  /** When its reader finds it: now, or when the message leaves. */
  arrivesAt: Date;
  parentId?: string;
  carried?: boolean;
  houseShare: Uint8Array;
  wrappedKey: Uint8Array;
  reader: AccessReader;
}

const known = (reader: AccessReader): ReaderKnown => {
  switch (reader.kind) {
    case 'account':
      return { kind: 'account' };
    case 'registered':
      return { kind: 'registered', knownBy: reader.reader.knownBy ?? undefined };
    case 'link':
      return { kind: 'link', check: reader.way.checkKind, question: reader.way.question !== null };
  }
};

const UNHELD: Record<Unheld, (address: string) => Problem> = {
  audience: (address) => new Problem('audience', 400, `This handling does not allow ${address} to be written to`),
  check: (address) => new Problem('below-preset', 400, `The handling demands a stronger identity check of ${address}`),
  question: (address) => new Problem('below-preset', 400, `The handling demands that ${address} is asked a question`),
};

/** @throws Problem `audience`, `below-preset` */
export function requireHeld(
  { handling, floor }: Pick<NewAccess, 'handling' | 'floor'>,
  reader: ReaderKnown,
  address: string,
): void {
  const unheld = grantHolds(handling, floor, reader);
  if (unheld !== undefined) throw UNHELD[unheld](address);
}

async function readerFields(reader: AccessReader, arrivesAt: Date) {
  switch (reader.kind) {
    case 'account':
      return {
        readerKind: reader.kind,
        readerAccountId: reader.account.id,
        sealedShare: Buffer.from(reader.sealedShare),
        sealedSummary: Buffer.from(reader.sealedSummary),
        checkKind: 'account' as const,
        checkHint: '',
        noticeState: 'accepted' as const,
        noticeAt: arrivesAt,
      };
    case 'registered':
      return {
        readerKind: reader.kind,
        readerId: reader.reader.id,
        sealedShare: Buffer.from(reader.sealedShare),
        sealedSummary: Buffer.from(reader.sealedSummary),
        checkKind: 'password' as const,
        checkHint: '',
        language: reader.language,
      };
    case 'link':
      return {
        readerKind: reader.kind,
        readerId: reader.registeredId,
        language: reader.language,
        proofHash: createHash('sha256')
          .update(await shareProof(reader.readerShare as Bytes))
          .digest(),
        ...reader.way,
      };
  }
}

/**
 * Makes an access, and the outbox row of its notice where there is one. @throws Problem `audience`, `below-preset`,
 * `invalid-input`
 */
export async function makeAccess(context: Context, access: NewAccess, transaction: Transaction): Promise<void> {
  const {
    id,
    messageId,
    owner,
    position,
    name,
    role,
    closesAt,
    arrivesAt,
    parentId = null,
    carried = false,
    reader,
  } = access;
  const checked = checkAddress(access.address);
  if (!checked.ok) throw invalid(`“${access.address}” is not a mail address.`);
  if (carried && reader.kind === 'account') throw invalid('A colleague gets no notice that could bring a file along.');
  requireHeld(access, known(reader), checked.address);
  await GrantRow.create(
    {
      id,
      messageId,
      accountId: owner.id,
      position,
      address: checked.address,
      name,
      role,
      state: 'held',
      closesAt,
      arrivedAt: arrivesAt,
      parentId,
      carried,
      houseShare: await context.secrets.sealBytes(access.houseShare, houseShareContext(id)),
      wrappedKey: Buffer.from(access.wrappedKey),
      ...(await readerFields(reader, arrivesAt)),
    },
    { transaction },
  );
  if (reader.kind !== 'account')
    await addNotice(
      context,
      { grantId: id, readerShare: reader.kind === 'link' ? reader.readerShare : NO_SHARE, leavesAt: arrivesAt },
      transaction,
    );
}

/** What a registered reader's notice carries: their share lies in their account. */
export const NO_SHARE = new Uint8Array(0);

export async function addNotice(
  context: Context,
  { grantId, readerShare, leavesAt = context.clock() }: { grantId: string; readerShare: Uint8Array; leavesAt?: Date },
  transaction: Transaction,
): Promise<void> {
  const outboxId = randomUUID();
  await OutboxRow.create(
    {
      id: outboxId,
      grantId,
      createdAt: leavesAt,
      state: 'waiting',
      messageIdHeader: `${outboxId}@${context.config.office.mailDomain}`,
      sealedShare: await context.secrets.sealBytes(readerShare, readerShareContext(outboxId)),
    },
    { transaction },
  );
  await context.jobs.deliverNotice(outboxId, transaction, leavesAt);
}
