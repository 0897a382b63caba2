/**
 * How readers choose to be written to. What they chose comes sealed to the office book's key; only the way, the check it
 * was made under and who chose are known here (docs/decisions/29).
 */
import { createHash, randomBytes } from 'node:crypto';
import {
  type getChoosing,
  type listChoices,
  type listKeyGivers,
  MOST_KEY_GIVERS,
  type putChoice,
  type settleChoice as settling,
} from '@under-lock/contract/choice';
import { type Reply } from '@under-lock/contract/client';
import { TAKE_BACK_OCTETS, takeBackLink } from '@under-lock/core/choosing/link';
import { CERTIFIED_A_DAY } from '@under-lock/core/choosing/limits';
import {
  IDENTITY_CHECKS,
  type IdentityCheck,
  isIdentityCheck,
  type WayKnown,
} from '@under-lock/core/handling/handling';
import { isLanguage } from '@under-lock/core/language';
import { buildChoiceMail } from '@under-lock/core/notice/notice';
import { addressKey, type Correspondent } from '@under-lock/core/people/address';
import { type z } from 'zod';
import { record } from '../access/grants';
import { type HeldGrant } from '../access/release';
import { fingerprintOf, issuedFor, requestedIn } from '../certificate/own';
import { type IssuedChain } from '../certificate/authority';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { takeTry } from '../limits/throttle';
import { officeMail, sendUnfollowed } from '../mail/office-mail';
import { currentFileRules } from '../office/file-rules';
import { currentKey, requireMember } from '../office-book/members';
import { invalid, notFound, Problem } from '../problem';
import { type ReaderSession } from './room';

const DAY_MS = 86_400_000;
/** Each is told by mail. */
const CHOICES_FREE = 10;

/** What is kept of the link that takes a choice back. */
export const linkHash = (token: Uint8Array): Buffer => createHash('sha256').update(token).digest();

type Reading = Pick<ReaderSession, 'held'>;

function chooserOf(reading: Reading): HeldGrant {
  const grant = reading.held();
  if (!grant.choose) throw new Problem('conflict', 409, 'Readers of this message are not asked how they want it');
  return grant;
}

export async function choosing(context: Context, reading: Reading): Promise<Reply<typeof getChoosing>> {
  const { name, address } = chooserOf(reading);
  const office = await currentKey(context);
  if (office === undefined) throw new Problem('conflict', 409, 'This office keeps no office book yet');
  const [chosen] = await rows<{ way: z.output<typeof putChoice.body>['way']; at: Date }>(
    context.db,
    "SELECT way, chosen_at AS at FROM choices WHERE address_key = $1 AND way <> 'none'",
    [addressKey(address)],
  );
  return {
    office,
    name,
    address,
    leastGuesses: (await currentFileRules(context)).leastGuesses,
    ...(chosen === undefined ? {} : { chosen }),
  };
}

/** What whoever holds this access had to pass: their own check, or the strongest behind a registered reader's password. */
async function passedCheck({ db }: Context, grantId: string): Promise<IdentityCheck> {
  const [found] = await rows<{ kind: WayKnown; known: IdentityCheck | null }>(
    db,
    `SELECT g.check_kind AS kind, r.known_by AS known
      FROM grants g LEFT JOIN readers r ON r.address_key = lower(g.address) WHERE g.id = $1`,
    [grantId],
  );
  const { kind, known } = found!;
  return isIdentityCheck(kind) ? kind : (known ?? IDENTITY_CHECKS[0]);
}

/** They are told by mail: whoever chose for somebody else is found out. Without it the choice stands all the same. */
export async function tellOfChoice(
  context: Context,
  to: Correspondent,
  about: { language: string; takeBack?: string },
): Promise<void> {
  const raw = buildChoiceMail({ ...officeMail(context, to), ...about });
  const { outcome } = await sendUnfollowed(context, to.address, raw);
  if (outcome !== 'accepted') context.log.error('choice-not-told', outcome);
}

/** @throws Problem `conflict`, `key-renewed`, `too-many-tries` */
export async function choose(
  context: Context,
  reading: Reading,
  { id, epoch, way, language, sealed }: z.output<typeof putChoice.body>,
): Promise<Reply<typeof putChoice>> {
  const grant = chooserOf(reading);
  const { name, address } = grant;
  await takeTry(context, [{ purpose: 'choice', who: addressKey(address), free: CHOICES_FREE, firstWaitMs: 60_000 }]);
  const check = await passedCheck(context, grant.id);
  const at = context.clock();
  const token = way === 'none' ? undefined : randomBytes(TAKE_BACK_OCTETS);
  await context.db.transaction(async (transaction) => {
    // Held until the transaction ends, so that no renewal is finished over it.
    if ((await currentKey(context, transaction))?.epoch !== epoch)
      throw new Problem('key-renewed', 409, 'The office book has a new key');
    await run(
      context.db,
      `INSERT INTO choices (address_key, id, grant_id, name, address, language, way, check_kind, epoch, sealed, chosen_at, link_hash)
        VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)
        ON CONFLICT (address_key) DO UPDATE SET id = $2, grant_id = $3, name = $4, address = $5, language = $6, way = $7,
          check_kind = $8, epoch = $9, sealed = $10, chosen_at = $11, settled_by = NULL, kept_as = NULL, link_hash = $12`,
      [
        addressKey(address),
        id,
        grant.id,
        name,
        address,
        language,
        way,
        check,
        epoch,
        Buffer.from(sealed),
        at,
        token === undefined ? null : linkHash(token),
      ],
      transaction,
    );
    await record(
      context,
      { messageId: grant.message_id, grantId: grant.id, kind: 'chose', data: { way } },
      transaction,
    );
  });
  await tellOfChoice(
    context,
    { name, address },
    { language, ...(token === undefined ? {} : { takeBack: takeBackLink(context.config.roomOrigin, id, token) }) },
  );
  return { at };
}

/** @throws Problem `invalid-input`, `too-many-tries`, `unreachable` */
export async function certifyReader(context: Context, reading: Reading, request: Uint8Array): Promise<IssuedChain> {
  const { address } = chooserOf(reading);
  const key = addressKey(address);
  const asked = await requestedIn(context, request);
  if (asked.length !== 1 || addressKey(asked[0]!) !== key)
    throw invalid('The request has to name the address this message went to, and no other.');
  const now = context.clock().getTime();
  const [made] = await rows<{ count: number }>(
    context.db,
    'SELECT count(*)::int AS count FROM reader_certificates WHERE address_key = $1 AND issued_at > $2',
    [key, new Date(now - DAY_MS)],
  );
  if (made!.count >= CERTIFIED_A_DAY)
    throw new Problem('too-many-tries', 429, 'Enough certificates were made for this address today', {
      until: new Date(now + DAY_MS).toISOString(),
    });
  const { issued } = await issuedFor(context, request, 'both', (one) => addressKey(one) === key);
  await run(
    context.db,
    'INSERT INTO reader_certificates (fingerprint, address_key, certificate, issued_at) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING',
    [fingerprintOf(issued.certificate), key, Buffer.from(issued.certificate), context.clock()],
  );
  return issued;
}

const MOST_AT_ONCE = 50;

/** @throws Problem `not-member` */
export async function waitingChoices(context: Context, account: AccountRow): Promise<Reply<typeof listChoices>> {
  await requireMember(context, account.id);
  const found = await rows<{
    id: string;
    name: string;
    address: string;
    language: string;
    way: Reply<typeof listChoices>['choices'][number]['way'];
    check: IdentityCheck;
    at: Date;
    epoch: number;
    sealed: Buffer;
  }>(
    context.db,
    `SELECT id, name, address, language, way, check_kind AS check, chosen_at AS at, epoch, sealed
      FROM choices WHERE sealed IS NOT NULL ORDER BY chosen_at, id LIMIT $1`,
    [MOST_AT_ONCE],
  );
  return {
    choices: found.map(({ language, sealed, ...one }) => ({
      ...one,
      language: isLanguage(language) ? language : 'en',
      sealed: new Uint8Array(sealed),
    })),
  };
}

/** @throws Problem `not-member`, `not-found` when another one took its place */
export async function settleChoice(
  context: Context,
  account: AccountRow,
  id: string,
  { keptAs }: z.output<typeof settling.body>,
): Promise<void> {
  await requireMember(context, account.id);
  const settled = await run(
    context.db,
    'UPDATE choices SET sealed = NULL, settled_by = $2, kept_as = $3 WHERE id = $1 AND sealed IS NOT NULL',
    [id, account.id, keptAs ?? null],
  );
  if (settled === 0) throw notFound('This choice');
}

/** @throws Problem `not-member` */
export async function keyGivers(context: Context, account: AccountRow): Promise<Reply<typeof listKeyGivers>> {
  await requireMember(context, account.id);
  const found = await rows<{ kept: string }>(
    context.db,
    `SELECT kept_as AS kept FROM choices
      WHERE kept_as IS NOT NULL AND sealed IS NULL AND way IN ('certificate', 'openpgp')
      ORDER BY chosen_at DESC, id LIMIT $1`,
    [MOST_KEY_GIVERS],
  );
  return { people: found.map(({ kept }) => kept) };
}
