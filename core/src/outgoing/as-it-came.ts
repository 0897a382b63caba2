/**
 * A mail that leaves as it was handed in, octet for octet: locked already by the program it was written in, or open
 * where the office lets that be.
 */
import { certificateLock } from '../locks/certificate/index';
import { broken, forStaff } from '../locks/copy';
import { openPgpLock } from '../locks/openpgp/index';
import { type Leaving } from '../locks/lock';
import { type Bytes, concat, utf8 } from '../bytes';
import { rfc5322Date } from '../message/build';
import { type Entity, EntityError, fieldNamed, readEntity, withWireLineEnds } from '../message/entity';
import { type Assessor } from './delivery-plan';

export type LockBefore = 'certificate' | 'openpgp';

/** What its own program did to it. */
export type OwnState = { is: 'locked'; by: LockBefore } | { is: 'signed' } | { is: 'readable' };

async function keptBy({ recognise }: typeof certificateLock | typeof openPgpLock, mail: Entity) {
  try {
    // Neither of the two asks for whom it leaves.
    return (await recognise(mail, {} as Leaving))?.keeps;
  } catch (error) {
    // What can't be read as locked is not locked.
    if (error instanceof EntityError) return undefined;
    throw error;
  }
}

/** By its octets, whatever its head says. */
export async function ownStateOf(mail: Entity): Promise<OwnState> {
  for (const kind of [certificateLock, openPgpLock]) {
    const { lock } = kind;
    const keeps = await keptBy(kind, mail);
    if (keeps === 'all') return { is: 'locked', by: lock };
    if (keeps === 'origin') return { is: 'signed' };
  }
  return { is: 'readable' };
}

/** The only way for what is locked already: to everybody, as it is. */
export const lockedBefore = (lock: LockBefore): Assessor => ({
  assess: ({ colleague }, handling) => ({
    lock,
    available: true,
    missing: [
      ...(handling.copies || handling.clear ? [] : [{ code: 'copies-not-allowed' } as const]),
      ...(colleague === undefined ? forStaff(handling) : []),
    ],
    warnings: [],
    cannotHonour: broken(handling),
    reasons: [{ code: 'opens-in-their-program' }, { code: 'stays-with-them' }],
  }),
});

/** Of its head, what is not for whoever gets it, or is set where it arrives (RFC 5322 §3.6.3, RFC 5321 §4.4). */
const STAYS = new Set(['bcc', 'resent-bcc', 'return-path']);

/** That it came by here, by whose program is nobody's business (RFC 5321 §4.4): a mail that goes round is known by it. */
function traceOf({ messageId, date }: { messageId: string; date: Date }): string {
  const [id, host] = messageId.split('@');
  return `Received: by ${host} with ESMTPSA id ${id};\r\n ${rfc5322Date(date)}\r\n`;
}

/** The mail as it leaves the house. @throws EntityError */
export const asItLeaves = (raw: Bytes, about: { messageId: string; date: Date }): Bytes =>
  concat(utf8(traceOf(about)), asItWas(raw, about));

/**
 * The mail for others' eyes: unseen recipients stay unseen, and what every mail has to say is put before it where its
 * program did not (RFC 6409 §8). Everything else is as it came. @throws EntityError
 */
export function asItWas(raw: Bytes, { messageId, date }: { messageId: string; date: Date }): Bytes {
  const bytes = withWireLineEnds(raw);
  const { fields, body } = readEntity(bytes);
  const added = [
    ...(fieldNamed({ fields }, 'message-id') === undefined ? [`Message-ID: <${messageId}>\r\n`] : []),
    ...(fieldNamed({ fields }, 'date') === undefined ? [`Date: ${rfc5322Date(date)}\r\n`] : []),
  ];
  const kept = fields.filter(({ name }) => !STAYS.has(name)).map((field) => field.raw);
  return concat(utf8(added.join('')), ...kept, utf8('\r\n'), body);
}
