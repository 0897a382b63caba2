/**
 * What a mail that is to leave as a copy is by its octets: encrypted, signed over what everybody can read, locked, or
 * nothing of it. Pure, because it is run where everything that was sent to us is parsed (thread/).
 */
import { createHash } from 'node:crypto';
import { kindFromStart } from '@under-lock/core/cms/content-info';
import { isRequest } from '@under-lock/core/locks/certificate/request-mail';
import { type CopyLock } from '@under-lock/core/locks/lock';
import { decodedBody, type Entity, fieldsNamed, partsOf, readEntity } from '@under-lock/core/message/entity';
import { messageIdOf } from '@under-lock/core/message/incoming';
import { addressesInHeader, readMessage } from '@under-lock/core/message/read';
import { onlyBlock } from '@under-lock/core/openpgp/armour';
import { OpenPgpError } from '@under-lock/core/openpgp/errors';
import { messageKind } from '@under-lock/core/openpgp/packets';
import { type Correspondent } from '@under-lock/core/people/address';
import { type AboutFile, type FileSeal, fileSealOf } from './locked-file';

export type Seal = 'encrypted' | 'signed' | FileSeal;

export interface CopyToJudge {
  raw: Uint8Array;
  lock: CopyLock;
  /** What a locked file's mail is held against. */
  file?: AboutFile;
  /** What a request for a signed message must say. */
  request?: { sender: Correspondent; recipient: Correspondent; officeName: string };
}

export interface JudgedCopy {
  /** Undefined for a mail that nothing keeps. */
  seal: Seal | undefined;
  /** Only the legacy cipher of its container locks it. */
  legacy: boolean;
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

/** What keeps it: encryption, a signature over what everybody can read, or nothing. */
function sealOf(entity: Entity): 'encrypted' | 'signed' | undefined {
  const {
    contentType: { type, parameters },
    body,
  } = entity;
  if (type === 'application/pkcs7-mime') {
    // By what it is, not by what its head says: base64 in lines, of which the first octets are enough.
    const kind = kindFromStart(
      Buffer.from(Buffer.from(body.subarray(0, 120)).toString('latin1').replace(/\s/g, ''), 'base64'),
    );
    return kind === 'enveloped' || kind === 'authEnveloped' ? 'encrypted' : kind === 'signed' ? 'signed' : undefined;
  }
  if (type === 'multipart/signed') return SIGNATURES.includes(parameters.get('protocol') ?? '') ? 'signed' : undefined;
  return openPgpSeal(entity);
}

const SIGNATURES: readonly string[] = ['application/pkcs7-signature', 'application/pgp-signature'];

/** An OpenPGP mail by its packets: encrypted whole, or each part of it. Nothing may stand beside. */
function openPgpSeal(entity: Entity): 'encrypted' | undefined {
  const { type, parameters } = entity.contentType;
  const isMime = type === 'multipart/encrypted' && parameters.get('protocol') === 'application/pgp-encrypted';
  if (!isMime && type !== 'multipart/mixed') return undefined;
  const parts = partsOf(entity).map(readEntity);
  const sealed = isMime ? parts.slice(1) : parts;
  if (
    isMime &&
    (parts.length !== 2 || parts[0]!.contentType.type !== 'application/pgp-encrypted' || parts[0]!.body.length > 100)
  )
    return undefined;
  return sealed.length > 0 && sealed.every(isEncryptedPart) ? 'encrypted' : undefined;
}

function isEncryptedPart(part: Entity): boolean {
  try {
    const message = onlyBlock(decodedBody(part), 'MESSAGE');
    return message !== undefined && messageKind(message) === 'encrypted';
  } catch (error) {
    if (!(error instanceof OpenPgpError)) throw error;
    return false;
  }
}

async function saysRequest(entity: Entity, about: NonNullable<CopyToJudge['request']>): Promise<boolean> {
  const [signed] = entity.contentType.type === 'multipart/signed' ? partsOf(entity) : [];
  return signed !== undefined && isRequest(await readMessage(new Uint8Array(signed)), about);
}

/** @throws EntityError, MessageReadError when it is no mail */
export async function judgeCopy({ raw, lock, file, request }: CopyToJudge): Promise<JudgedCopy> {
  const entity = readEntity(raw);
  const froms = fieldsNamed(entity, 'from');
  const sealed =
    lock === 'file'
      ? file === undefined
        ? undefined
        : await fileSealOf(entity, file)
      : { seal: sealOf(entity), legacy: false };
  return {
    seal: sealed?.seal,
    legacy: sealed?.legacy ?? false,
    mailId: messageIdOf(entity) ?? '',
    from: froms.length === 1 ? addressesInHeader(froms[0]!.value) : undefined,
    named: [...fieldsNamed(entity, 'to'), ...fieldsNamed(entity, 'cc')].flatMap(({ value }) =>
      addressesInHeader(value),
    ),
    isRequest: request !== undefined && (await saysRequest(entity, request)),
    sha256: createHash('sha256').update(raw).digest(),
  };
}
