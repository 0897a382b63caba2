/** Whether a mail is OpenPGP, by its packets: encrypted whole, or each part of it, and nothing beside. */
import { decodedBody, type Entity, partsOf, readEntity } from '../../message/entity';
import { onlyBlock } from '../../openpgp/armour';
import { OpenPgpError } from '../../openpgp/errors';
import { messageKind } from '../../openpgp/packets';
import { type Recognised } from '../lock';

/** RFC 3156 §4: the part that only says the version. */
const LONGEST_VERSION = 100;

export function recogniseOpenPgp(mail: Entity): Recognised | undefined {
  const { type, parameters } = mail.contentType;
  const protocol = parameters.get('protocol');
  if (type === 'multipart/signed')
    return protocol === 'application/pgp-signature' ? { keeps: 'origin', weak: false } : undefined;
  const isMime = type === 'multipart/encrypted' && protocol === 'application/pgp-encrypted';
  if (!isMime && type !== 'multipart/mixed') return undefined;
  const parts = partsOf(mail).map(readEntity);
  const [version] = parts;
  const isVersion = version?.contentType.type === 'application/pgp-encrypted' && version.body.length <= LONGEST_VERSION;
  if (isMime && (parts.length !== 2 || !isVersion)) return undefined;
  const sealed = isMime ? parts.slice(1) : parts;
  return sealed.length > 0 && sealed.every(isEncryptedPart) ? { keeps: 'all', weak: false } : undefined;
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
