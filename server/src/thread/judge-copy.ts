/**
 * What a mail that is to leave as a copy is by its octets: whether it is really under the lock it is said to be, and
 * what its head says. Pure, because it is run where everything that was sent to us is parsed (thread/).
 */
import { createHash } from 'node:crypto';
import { isRequest } from '@under-lock/core/locks/certificate/request-mail';
import { copyLock, type CopyLockName } from '@under-lock/core/locks/index';
import { type Leaving, type Recognised } from '@under-lock/core/locks/lock';
import { type Entity, fieldsNamed, partsOf, readEntity } from '@under-lock/core/message/entity';
import { messageIdOf } from '@under-lock/core/incoming/incoming';
import { addressesInHeader, readMessage } from '@under-lock/core/message/read';

export interface CopyToJudge {
  raw: Uint8Array;
  lock: CopyLockName;
  about: Leaving;
  /** Whether it is to be a request for a signed message, and nothing else. */
  asks: boolean;
}

export interface JudgedCopy {
  /** Undefined for a mail that is not under its lock. */
  recognised: Recognised | undefined;
  /** Its Message-ID; empty without one. */
  mailId: string;
  /** Every address in its From fields; undefined unless there is one such field. */
  from: string[] | undefined;
  /** Everybody its head names as a recipient. */
  named: string[];
  /** It says the fixed words of a request and nothing else. */
  isRequest: boolean;
  sha256: Uint8Array;
}

async function saysRequest(
  entity: Entity,
  { sender, recipients: [recipient, ...others], officeName }: Leaving,
): Promise<boolean> {
  const [signed] = entity.contentType.type === 'multipart/signed' ? partsOf(entity) : [];
  if (signed === undefined || recipient === undefined || others.length > 0) return false;
  return isRequest(await readMessage(new Uint8Array(signed)), { sender, recipient, officeName });
}

/** @throws EntityError, MessageReadError when it is no mail */
export async function judgeCopy({ raw, lock, about, asks }: CopyToJudge): Promise<JudgedCopy> {
  const entity = readEntity(raw);
  const froms = fieldsNamed(entity, 'from');
  return {
    recognised: await copyLock(lock).recognise(entity, about),
    mailId: messageIdOf(entity) ?? '',
    from: froms.length === 1 ? addressesInHeader(froms[0]!.value) : undefined,
    named: [...fieldsNamed(entity, 'to'), ...fieldsNamed(entity, 'cc')].flatMap(({ value }) =>
      addressesInHeader(value),
    ),
    isRequest: asks && (await saysRequest(entity, about)),
    sha256: createHash('sha256').update(raw).digest(),
  };
}
