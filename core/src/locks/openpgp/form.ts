/**
 * In which of its forms mail carries OpenPGP: as MIME has it (RFC 3156), as armour in the text, or as armoured
 * attachments. Looks only; opens nothing, and needs no library.
 */
import { decodedBody, type Entity, EntityError, partsOf, readEntity } from '../../message/entity';
import { readParameters } from '../../message/parameters';
import { onlyBlock } from '../../openpgp/armour';
import { beginsAsCleartext } from '../../openpgp/cleartext';
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
const protocolOf = ({ contentType: { parameters } }: Looked): string =>
  (parameters.get('protocol') ?? '').toLowerCase();

/**
 * It begins as a text signed in the clear, and holds no other. What gateways did to its end is seen when it is opened.
 */
export const isOnlyCleartext = (bytes: Uint8Array): boolean =>
  beginsAsCleartext(bytes) && latin1.decode(bytes).split(CLEARTEXT).length === 2;

/** Text and the most files a message of ours has, with room. */
export const MAX_ATTACHMENTS = 500;

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
  const { parameters } = readParameters(fields.find(({ name }) => name === 'content-disposition')?.value);
  return parameters.get('filename') ?? contentType.parameters.get('name') ?? '';
}

/** By its name a file that OpenPGP made. */
export const isMessageNamed = (part: Looked): boolean => /\.(?:asc|pgp|gpg)$/i.test(nameOf(part));

const isBlankText = (part: Looked): boolean =>
  /^text\/(?:plain|html)$/.test(part.contentType.type) &&
  nameOf(part) === '' &&
  latin1.decode(decodedBody(part as Entity).subarray(0, 4096)).replace(/<[^<>]*>|&nbsp;|\s/g, '') === '';

/**
 * The parts of `multipart/encrypted` (RFC 3156 §4); also where a gateway made it `multipart/mixed` and put an empty
 * text in front. @throws EntityError
 */
export function encryptedParts(entity: Looked): { control: Entity; sealed: Entity } | undefined {
  const parts = partsOf(entity as Entity)
    .map(readEntity)
    .filter((part) => entity.contentType.type === 'multipart/encrypted' || !isBlankText(part));
  const [control, sealed] = parts;
  return parts.length === 2 && control!.contentType.type === 'application/pgp-encrypted'
    ? { control: control!, sealed: sealed! }
    : undefined;
}

/**
 * What was made `multipart/mixed` on its way, or was always: an encrypted or a signed message, or files that are
 * messages each.
 */
function formOfMixed(entity: Looked): OpenPgpForm | undefined {
  try {
    if (encryptedParts(entity) !== undefined) return 'encrypted';
    const parts = partsOf(entity as Entity);
    if (parts.length > MAX_ATTACHMENTS) return undefined;
    const read = parts.map(readEntity);
    if (read.length === 2 && read[1]!.contentType.type === 'application/pgp-signature') return 'signed';
    return read.length > 0 && read.every(isMessagePart) ? 'attachments' : undefined;
  } catch (error) {
    if (!(error instanceof EntityError)) throw error;
    return undefined;
  }
}

/** Some gateways lose the parameter; the parts say it, too. */
function isOpenPgpSigned(entity: Looked): boolean {
  const protocol = protocolOf(entity);
  if (protocol !== '') return protocol === 'application/pgp-signature';
  try {
    return partsOf(entity as Entity).some((part) => readEntity(part).contentType.type === 'application/pgp-signature');
  } catch (error) {
    if (!(error instanceof EntityError)) throw error;
    return false;
  }
}

export function formOf(entity: Looked): OpenPgpForm | undefined {
  const { type } = entity.contentType;
  if (type === 'multipart/encrypted')
    return protocolOf(entity) === 'application/pgp-encrypted' ||
      (protocolOf(entity) === '' && formOfMixed(entity) === 'encrypted')
      ? 'encrypted'
      : undefined;
  if (type === 'multipart/signed') return isOpenPgpSigned(entity) ? 'signed' : undefined;
  if (type === 'multipart/mixed') return formOfMixed(entity);
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
  return (
    LOCKED_BLOCK.test(latin1.decode(decodedBody(entity as Entity).subarray(0, 256 * 1024))) &&
    formOf(entity) === undefined
  );
}

/** A file that is a message: packets as they are, or armoured with nothing around. */
export function bareForm(bytes: Uint8Array): OpenPgpForm | undefined {
  if (looksLikePackets(bytes) || onlyBlock(bytes, 'MESSAGE') !== undefined) return 'bare';
  return isOnlyCleartext(bytes) ? 'cleartext' : undefined;
}
