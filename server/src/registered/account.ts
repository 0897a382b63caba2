/**
 * Registered readers: whoever passed the check of an access and owns its mailbox may set a password. What arrives here
 * was derived in their browser.
 */
import { type Language } from '@under-lock/core/language';
import { type Registered, type RegisteredSession } from '@under-lock/contract/registered';
import { type IdentityCheck, isIdentityCheck, stricterCheck } from '@under-lock/core/handling/handling';
import { addressKey } from '@under-lock/core/people/address';
import { type Transaction, UniqueConstraintError } from 'sequelize';
import { hashingOf, sealedBytes } from '../account/credentials';
import {
  confirmPassword,
  madeUpHashing,
  type NewPassword,
  prove,
  storedPassword,
  type Trier,
} from '../account/account';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { GrantRow, MessageRow, ReaderRow } from '../data/models';
import { telling } from '../log/log';
import { record } from '../access/grants';
import { Problem } from '../problem';
import { sendMailboxCode, spendMailboxCode } from './mailbox-code';
import { endOtherSignIns, registeredSession, type SignedInReader, startSignIn } from './sign-in';

interface NewAccount {
  id: string;
  password: NewPassword;
  key: { suite: number; publicKey: Uint8Array; sealedPrivateKey: Uint8Array };
  code: string;
}
/** What the browser that enters is called. */
interface Named {
  device?: string | undefined;
}
export interface Entered {
  session: RegisteredSession;
  token: string;
}

const findByAddress = (address: string): Promise<ReaderRow | null> =>
  ReaderRow.findOne({ where: { addressKey: addressKey(address) } });

const enter = async (
  context: Context,
  reader: ReaderRow,
  device: string | undefined,
  transaction?: Transaction,
): Promise<Entered> => ({
  session: await registeredSession(context, reader),
  token: await startSignIn(context, reader.id, device ?? '', transaction),
});

/** For the access whose check was passed: digits to its own address. */
export async function askMailbox(context: Context, grantId: string) {
  const { address, language } = (await GrantRow.findByPk(grantId))!;
  return {
    ...(await sendMailboxCode(context, address, language, { asker: `grant/${grantId}` })),
    address,
    registered: (await findByAddress(address)) !== null,
  };
}

async function create(
  context: Context,
  { id, password, key }: NewAccount,
  of: { address: string; name: string; language: GrantRow['language']; languageChosen?: boolean },
  knownBy: IdentityCheck | null,
  transaction: Transaction,
): Promise<ReaderRow> {
  const reader = await ReaderRow.create(
    {
      id,
      address: of.address,
      addressKey: addressKey(of.address),
      name: of.name,
      language: of.language,
      languageChosen: of.languageChosen ?? false,
      ...(await storedPassword(context, 'reader', id, password)),
      publicKey: Buffer.from(key.publicKey),
      keySuite: key.suite,
      sealedPrivateKey: await sealedBytes(context, 'reader', id, 'private-key', key.sealedPrivateKey),
      knownBy,
      since: context.clock(),
    },
    { transaction },
  );
  // What is held for the address belongs in the list; what it is sealed to stays as it is.
  await run(
    context.db,
    `UPDATE grants SET reader_id = $2 WHERE lower(address) = lower($1) AND state = 'held' AND reader_kind <> 'account'`,
    [of.address, id],
    transaction,
  );
  return reader;
}

/**
 * The check behind an access, if the office itself named its reader. Whoever passes a message on, and so whoever
 * answers all, chose the phone
 * themselves: somebody who took over a mailbox could have had their own phone named.
 */
export async function vouchedCheck({ checkKind, parentId, messageId }: GrantRow): Promise<IdentityCheck | null> {
  if (!isIdentityCheck(checkKind) || parentId != null) return null;
  const message = await MessageRow.findByPk(messageId, { attributes: ['senderGrantId'] });
  return message?.senderGrantId == null ? checkKind : null;
}

/** @throws Problem `wrong-code` and its like, `conflict` when somebody is registered under the address already */
export async function register(context: Context, grantId: string, input: NewAccount & Named): Promise<Entered> {
  const grant = (await GrantRow.findByPk(grantId))!;
  if ((await findByAddress(grant.address)) !== null)
    throw new Problem('conflict', 409, 'There is a password for this address already');
  await spendMailboxCode(context, grant.address, input.code, `grant/${grantId}`);
  const knownBy = await vouchedCheck(grant);
  try {
    return await enter(
      context,
      await telling(
        context,
        { kind: 'reader-registered', actor: { kind: 'reader', id: input.id }, about: { access: grantId } },
        (transaction) => create(context, input, grant, knownBy, transaction),
      ),
      input.device,
    );
  } catch (error) {
    if (error instanceof UniqueConstraintError)
      throw new Problem('conflict', 409, 'There is a password for this address already');
    throw error;
  }
}

export const readerHashing = async (context: Context, address: string) =>
  (await hashingOf(context, 'reader', await findByAddress(address))) ?? madeUpHashing(context, 'reader', address);

/** @throws Problem `wrong-password` (also when there is no such reader), `too-many-tries` */
export async function signInReader(
  context: Context,
  { deviceName, ...input }: Trier & { address: string; authKey: Uint8Array; deviceName?: string | undefined },
): Promise<Entered> {
  const reader = await prove(context, 'reader', 'reader-sign-in', input, findByAddress);
  return telling(context, { kind: 'reader-signed-in', actor: { kind: 'reader', id: reader.id } }, (transaction) =>
    enter(context, reader, deviceName, transaction),
  );
}

/** Changes the password and signs every other device out. The key pair stays, so everything stays readable. */
export async function changeReaderPassword(
  context: Context,
  who: SignedInReader,
  currentAuthKey: Uint8Array,
  password: NewPassword,
): Promise<void> {
  await confirmPassword(context, 'reader', who.reader, currentAuthKey);
  const stored = await storedPassword(context, 'reader', who.reader.id, password);
  await telling(
    context,
    { kind: 'reader-password-changed', actor: { kind: 'reader', id: who.reader.id } },
    (transaction) => who.reader.update(stored, { transaction }),
  );
  await endOtherSignIns(context, who);
}

/** What was sealed to a key that is going opens for nobody; links work as before. */
async function lose(context: Context, reader: ReaderRow, transaction: Transaction): Promise<void> {
  const lost = await rows<{ id: string; message_id: string }>(
    context.db,
    `UPDATE grants SET lost_at = $2, sealed_share = NULL, sealed_summary = NULL WHERE reader_id = $1 AND reader_kind = 'registered' AND state = 'held' AND lost_at IS NULL RETURNING id, message_id`,
    [reader.id, context.clock()],
    transaction,
  );
  for (const { id, message_id } of lost)
    await record(context, { messageId: message_id, grantId: id, kind: 'password-lost' }, transaction);
  await run(
    context.db,
    `UPDATE grants SET sealed_share = NULL, sealed_summary = NULL WHERE reader_id = $1 AND reader_kind = 'link'`,
    [reader.id],
    transaction,
  );
  await run(
    context.db,
    'UPDATE messages SET own_key = NULL, own_summary = NULL WHERE sender_reader_id = $1',
    [reader.id],
    transaction,
  );
  await reader.destroy({ transaction });
}

export async function forgetReader(
  context: Context,
  { reader }: SignedInReader,
  currentAuthKey: Uint8Array,
): Promise<void> {
  await confirmPassword(context, 'reader', reader, currentAuthKey);
  await telling(context, { kind: 'reader-forgotten', actor: { kind: 'reader', id: reader.id } }, (transaction) =>
    lose(context, reader, transaction),
  );
}

/** `ticket`: of the browser that asks, in which alone the digits will work. */
export async function startReset(
  context: Context,
  address: string,
  { ticket, ...trier }: Trier & { ticket: string },
): Promise<{ resendAt: Date }> {
  const reader = await findByAddress(address);
  return sendMailboxCode(context, address, reader?.language ?? 'en', {
    asker: `browser/${ticket}`,
    trier,
    really: reader !== null,
  });
}

/**
 * A new password, a new key and nothing proven but the mailbox: until an identity check is passed again it opens
 * nothing on its own. @throws Problem `wrong-code` and its like
 */
export async function finishReset(
  context: Context,
  input: NewAccount & Named & { address: string },
  ticket: string | undefined,
): Promise<Entered> {
  await spendMailboxCode(context, input.address, input.code, `browser/${ticket ?? ''}`);
  const old = await findByAddress(input.address);
  if (old === null) throw new Problem('wrong-code', 403, 'These digits are not right');
  const reader = await telling(
    context,
    { kind: 'reader-password-reset', actor: { kind: 'nobody' }, about: { reader: old.id } },
    async (transaction) => {
      await lose(context, old, transaction);
      return create(context, input, old, null, transaction);
    },
  );
  return enter(context, reader, input.device);
}

/** From now on, and for what is held already; whoever writes to them keeps their own note of it. */
export async function setReaderLanguage(
  context: Context,
  { reader }: SignedInReader,
  language: Language,
): Promise<void> {
  await context.db.transaction(async (transaction) => {
    await reader.update({ language, languageChosen: true }, { transaction });
    await run(
      context.db,
      "UPDATE grants SET language = $2 WHERE reader_id = $1 AND state = 'held'",
      [reader.id, language],
      transaction,
    );
  });
}

const stronger = (a: IdentityCheck | null, b: IdentityCheck): IdentityCheck => (a === null ? b : stricterCheck(a, b));

/** The reader has just passed the check of an access: their sign-in is worth as much from now on. */
export async function recordCheckPassed(reader: ReaderRow, grant: GrantRow): Promise<void> {
  const check = await vouchedCheck(grant);
  if (check !== null) await reader.update({ knownBy: stronger(reader.knownBy, check) });
}

export async function findRegistered(addresses: string[]): Promise<Registered[]> {
  const found = await ReaderRow.findAll({ where: { addressKey: addresses.map(addressKey) } });
  return found.map(({ id, address, publicKey, keySuite, since, knownBy }) => ({
    id,
    address,
    since,
    key: { suite: keySuite, publicKey: new Uint8Array(publicKey) },
    ...(knownBy === null ? {} : { knownBy }),
  }));
}
