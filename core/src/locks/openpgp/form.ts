/** In which of its forms mail carries OpenPGP: as MIME has it (RFC 3156), as armour in the text, or as armoured attachments. Looks only; opens nothing, and needs no library. */
import { decodedBody, type Entity, EntityError, partsOf, readEntity } from '../../message/entity';
import { onlyBlock } from '../../openpgp/armour';
import { looksLikePackets } from '../../openpgp/packets';

export type OpenPgpForm =
  /** `multipart/encrypted` (RFC 3156 §4). */
  | 'encrypted'
  /** `multipart/signed` (§5). */
  | 'signed'
  /** The text is one armoured message and nothing else. */
  | 'inline'
  /** The text is signed in the clear (RFC 9580 §7) and nothing stands around it. */
  | 'cleartext'
  /** Text and files are each an armoured message. */
  | 'attachments'
  /** A message on its own, as a file. */
  | 'bare';

type Looked = Pick<Entity, 'bytes' | 'body' | 'contentType' | 'fields'>;

const CLEARTEXT = '-----BEGIN PGP SIGNED MESSAGE-----';
const latin1 = new TextDecoder('latin1');
const protocolOf = ({ contentType: { parameters } }: Looked): string => (parameters.get('protocol') ?? '').toLowerCase();

/** From its first line to its end one text signed in the clear. */
export function isOnlyCleartext(bytes: Uint8Array): boolean {
  const start = latin1.decode(bytes.subarray(0, 200)).trimStart();
  return start.startsWith(CLEARTEXT) && latin1.decode(bytes.subarray(Math.max(0, bytes.length - 200))).trimEnd().endsWith('-----END PGP SIGNATURE-----') && latin1.decode(bytes).split(CLEARTEXT).length === 2;
}

export const MAX_ATTACHMENTS = 100;

/** A part that is an encrypted message whole: armoured, or its octets as they are. */
export function isMessagePart(part: Looked): boolean {
  try {
    const body = decodedBody(part as Entity);
    return onlyBlock(body, 'MESSAGE') !== undefined || (/\.(?:pgp|gpg)$/i.test(nameOf(part)) && looksLikePackets(body));
  } catch (error) {
    if (!(error instanceof EntityError)) throw error;
    return false;
  }
}

export function nameOf({ contentType, fields }: Looked): string {
  const disposition = fields.find(({ name }) => name === 'content-disposition')?.value ?? '';
  return /filename\s*=\s*"([^"]*)"/i.exec(disposition)?.[1] ?? /filename\s*=\s*([^\s;]+)/i.exec(disposition)?.[1] ?? contentType.parameters.get('name') ?? '';
}

function areMessages(entity: Looked): boolean {
  try {
    const parts = partsOf(entity as Entity);
    return parts.length > 0 && parts.length <= MAX_ATTACHMENTS && parts.every((part) => isMessagePart(readEntity(part)));
  } catch (error) {
    if (!(error instanceof EntityError)) throw error;
    return false;
  }
}

export function formOf(entity: Looked): OpenPgpForm | undefined {
  const { type } = entity.contentType;
  if (type === 'multipart/encrypted') return protocolOf(entity) === 'application/pgp-encrypted' ? 'encrypted' : undefined;
  if (type === 'multipart/signed') return protocolOf(entity) === 'application/pgp-signature' ? 'signed' : undefined;
  if (type === 'multipart/mixed') return areMessages(entity) ? 'attachments' : undefined;
  if (type !== 'text/plain' || !mentions(entity)) return undefined;
  const text = decodedBody(entity as Entity);
  return onlyBlock(text, 'MESSAGE') !== undefined ? 'inline' : isOnlyCleartext(text) ? 'cleartext' : undefined;
}

/** A cheap look, before anything is decoded: plain text is mostly plain. */
const mentions = (entity: Looked): boolean => {
  try {
    return latin1.decode(decodedBody(entity as Entity).subarray(0, 64 * 1024)).includes('-----BEGIN PGP ');
  } catch (error) {
    if (!(error instanceof EntityError)) throw error;
    return false;
  }
};

const LOCKED_BLOCK = /^-----BEGIN PGP (?:SIGNED )?MESSAGE-----/m;

/** Text with something locked or signed in it, and other words around that. */
export function holdsArmour(entity: Looked): boolean {
  const { type } = entity.contentType;
  if ((type !== 'text/plain' && type !== 'text/html') || !mentions(entity)) return false;
  return LOCKED_BLOCK.test(latin1.decode(decodedBody(entity as Entity).subarray(0, 256 * 1024))) && formOf(entity) === undefined;
}

/** A file that is a message: packets as they are, or armoured with nothing around. */
export function bareForm(bytes: Uint8Array): OpenPgpForm | undefined {
  if (looksLikePackets(bytes) || onlyBlock(bytes, 'MESSAGE') !== undefined) return 'bare';
  return isOnlyCleartext(bytes) ? 'cleartext' : undefined;
}
