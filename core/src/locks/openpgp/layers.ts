/** The layers OpenPGP puts around mail, opened: RFC 3156, and the forms that were there before it. */
import { type Bytes, concat, fromUtf8, utf8 } from '../../bytes';
import { base64Lines } from '../../message/base64';
import { multipart, type Part } from '../../message/build';
import { decodedBody, type Entity, partsOf, readEntity, withWireLineEnds } from '../../message/entity';
import { safeFileName } from '../../message/file-name';
import { onlyBlock } from '../../openpgp/armour';
import { OpenPgpError } from '../../openpgp/errors';
import { type PrivateKey } from '../../openpgp/library';
import { checkApart, isOldCipher, type Keyring, openCleartext, type OpenedMessage, openMessage, type OpenPgpCheck } from '../../openpgp/message';
import { type Layer, type OpenedLayers } from '../layer';
import { nameOf, type OpenPgpForm } from './form';

export interface OpenPgpKeys {
  /** Ours, without passphrases; old ones too. */
  secret: readonly PrivateKey[];
  /** Whoever may have signed. */
  known: Keyring;
}

type Looked = Pick<Entity, 'bytes' | 'body' | 'contentType' | 'fields'>;

function layersOf({ encrypted, checks }: OpenedMessage): Layer[] {
  return [
    ...(encrypted === undefined ? [] : [{ kind: 'encrypted', by: 'openpgp', cipher: encrypted.cipher, authenticated: true, old: isOldCipher(encrypted.cipher), openedWith: encrypted.openedWith, recipients: encrypted.recipients } as const]),
    ...(checks.length === 0 ? [] : [{ kind: 'signed', by: 'openpgp', checks, apart: false } as const]),
  ];
}

const blockIn = (body: Uint8Array, kind: 'MESSAGE' | 'SIGNATURE'): Bytes => onlyBlock(body, kind) ?? (body.slice() as Bytes);

/** RFC 3156 §4: two parts, of which the first says version 1 and the second is the message. */
async function openEncrypted(entity: Looked, { secret, known }: OpenPgpKeys): Promise<OpenedLayers> {
  const parts = partsOf(entity as Entity).map(readEntity);
  const [control, sealed] = parts;
  if (control === undefined || sealed === undefined || parts.length !== 2 || control.contentType.type !== 'application/pgp-encrypted') throw new OpenPgpError('malformed');
  const opened = await openMessage(blockIn(decodedBody(sealed), 'MESSAGE'), secret, known);
  return { layers: layersOf(opened), inner: opened.content };
}

const anySigned = (checks: readonly OpenPgpCheck[]): boolean => checks.some(({ kind }) => kind === 'signed');

/** RFC 3156 §5: over exactly the first part's octets; files on disk may have lost the wire's line ends. */
async function openSigned(entity: Looked, { known }: OpenPgpKeys): Promise<OpenedLayers> {
  const parts = partsOf(entity as Entity);
  const [content, beside] = parts;
  if (content === undefined || beside === undefined || parts.length !== 2) throw new OpenPgpError('malformed');
  const signature = readEntity(beside);
  if (signature.contentType.type !== 'application/pgp-signature') throw new OpenPgpError('malformed');
  const bytes = blockIn(decodedBody(signature), 'SIGNATURE');
  const signed = async (form: Uint8Array): Promise<OpenPgpCheck[]> => checkApart(bytes, form.slice() as Bytes, known);
  const checks = await signed(content);
  const wire = withWireLineEnds(content);
  const again = wire !== content && checks.some(({ kind }) => kind === 'changed') ? await signed(wire) : undefined;
  return again !== undefined && anySigned(again) ? { layers: [{ kind: 'signed', by: 'openpgp', checks: again, apart: false }], inner: wire } : { layers: [{ kind: 'signed', by: 'openpgp', checks, apart: false }], inner: content };
}

const textEntity = (text: Uint8Array): Part => ({ headers: 'Content-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: base64\r\n', body: base64Lines(text) });
const fileEntity = (name: string, bytes: Uint8Array): Part => ({
  headers: `Content-Type: application/octet-stream\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: attachment;\r\n filename*=utf-8''${encodeURIComponent(safeFileName(name)).replace(/['()*!]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`)}\r\n`,
  body: base64Lines(bytes),
});
const whole = ({ headers, body }: Part): Bytes => concat(utf8(`${headers}\r\n`), body);

const MIME_START = /^(?:[A-Za-z][A-Za-z0-9-]*:[^\n]*\n(?:[ \t][^\n]*\n)*)*?content-type:/i;
const asText = (bytes: Uint8Array): boolean => {
  if (bytes.includes(0)) return false;
  try {
    fromUtf8(bytes);
    return true;
  } catch {
    return false;
  }
};

/** What a message on its own holds: a mail, a text, or a file. */
function held(content: Bytes, fileName: string): Bytes {
  if (MIME_START.test(new TextDecoder('latin1').decode(content.subarray(0, 8192)))) return content;
  return whole(fileName === '' && asText(content) ? textEntity(content) : fileEntity(fileName === '' ? 'file' : fileName, content));
}

async function openInline(body: Uint8Array, { secret, known }: OpenPgpKeys, text: boolean): Promise<OpenedLayers> {
  const opened = await openMessage(blockIn(body, 'MESSAGE'), secret, known);
  return { layers: layersOf(opened), inner: text ? whole(textEntity(opened.content)) : held(opened.content, opened.fileName) };
}

async function openClear(body: Uint8Array, { known }: OpenPgpKeys): Promise<OpenedLayers> {
  const { text, checks } = await openCleartext(new TextDecoder().decode(body), known);
  return { layers: [{ kind: 'signed', by: 'openpgp', checks, apart: false }], inner: whole(textEntity(utf8(text))) };
}

/** A signature on every part by one key vouches for each part; one that is missing anywhere vouches for nothing, one that is wrong anywhere is said. */
function checksOfAll(opened: readonly OpenedMessage[]): readonly OpenPgpCheck[] {
  const wrong = opened.flatMap(({ checks }) => checks).find(({ kind }) => kind !== 'signed');
  if (wrong !== undefined) return [wrong];
  const [first] = opened[0]!.checks;
  if (first?.kind !== 'signed') return [];
  return opened.every(({ checks }) => checks.some((one) => one.kind === 'signed' && one.key.fingerprint === first.key.fingerprint)) ? [first] : [];
}

async function openAttachments(entity: Looked, { secret, known }: OpenPgpKeys): Promise<OpenedLayers> {
  const parts = partsOf(entity as Entity).map(readEntity);
  const opened: OpenedMessage[] = [];
  for (const part of parts) {
    const one = await openMessage(blockIn(decodedBody(part), 'MESSAGE'), secret, known);
    if (one.encrypted === undefined) throw new OpenPgpError('malformed');
    opened.push(one);
  }
  const inside = parts.map((part, index): Part => {
    const { content, fileName } = opened[index]!;
    const name = nameOf(part).replace(/\.(?:asc|pgp|gpg)$/i, '');
    return index === 0 && part.contentType.type === 'text/plain' && asText(content) ? textEntity(content) : fileEntity(fileName || name || 'file', content);
  });
  const [{ encrypted }] = opened as [OpenedMessage];
  const checks = checksOfAll(opened);
  return {
    layers: [...layersOf({ encrypted, checks: [], content: new Uint8Array(0), fileName: '' }), ...(checks.length === 0 ? [] : [{ kind: 'signed', by: 'openpgp', checks, apart: true } as const])],
    inner: whole(multipart('mixed', `opened-${parts.length}`, inside)),
  };
}

/** @throws OpenPgpError, EntityError */
export function openOpenPgp(form: OpenPgpForm, entity: Looked, keys: OpenPgpKeys): Promise<OpenedLayers> {
  switch (form) {
    case 'encrypted':
      return openEncrypted(entity, keys);
    case 'signed':
      return openSigned(entity, keys);
    case 'inline':
      return openInline(decodedBody(entity as Entity), keys, true);
    case 'cleartext':
      return openClear(entity.fields.length === 0 ? entity.body : decodedBody(entity as Entity), keys);
    case 'attachments':
      return openAttachments(entity, keys);
    case 'bare':
      return openInline(entity.body, keys, false);
  }
}
