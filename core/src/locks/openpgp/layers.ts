/** The layers OpenPGP puts around mail, opened: RFC 3156, and the forms that were there before it. */
import { type Bytes, concat, fromUtf8, utf8 } from '../../bytes';
import { base64Lines } from '../../message/base64';
import { multipart, type Part } from '../../message/build';
import { wholePart } from '../../message/protected';
import { decodeText } from '../../message/charset';
import { decodedBody, type Entity, partsOf, readEntity, withWireLineEnds } from '../../message/entity';
import { safeFileName } from '../../file-name';
import { blockAlone, onlyBlock } from '../../openpgp/armour';
import { readCleartext } from '../../openpgp/cleartext';
import { OpenPgpError } from '../../openpgp/errors';
import { type PrivateKey } from '../../openpgp/library';
import {
  checkApart,
  isOldCipher,
  type Keyring,
  type OpenedMessage,
  openMessage,
  type OpenPgpCheck,
} from '../../openpgp/message';
import { type Layer, type OpenedLayers } from '../layer';
import { asMixed } from '../as-mixed';
import { encryptedParts, nameOf, type OpenPgpForm } from './form';

export interface OpenPgpKeys {
  /** Ours, without passphrases; old ones too. */
  secret: readonly PrivateKey[];
  /** Whoever may have signed. */
  known: Keyring;
}

type Looked = Pick<Entity, 'bytes' | 'body' | 'contentType' | 'fields'>;

function layersOf({ encrypted, checks }: OpenedMessage): Layer[] {
  return [
    ...(encrypted === undefined
      ? []
      : [
          {
            kind: 'encrypted',
            by: 'openpgp',
            cipher: encrypted.cipher,
            authenticated: true,
            old: isOldCipher(encrypted.cipher),
            openedWith: encrypted.openedWith,
            recipients: encrypted.recipients,
          } as const,
        ]),
    ...(checks.length === 0 ? [] : [{ kind: 'signed', by: 'openpgp', checks, apart: false } as const]),
  ];
}

const blockIn = (body: Uint8Array, kind: 'MESSAGE' | 'SIGNATURE'): Bytes =>
  onlyBlock(body, kind) ?? (body.slice() as Bytes);

/** Two parts, of which the first says version 1 and the second is the message. */
async function openEncrypted(entity: Looked, { secret, known }: OpenPgpKeys): Promise<OpenedLayers> {
  const sealed = encryptedParts(entity)?.sealed;
  if (sealed === undefined) throw new OpenPgpError('malformed');
  const opened = await openMessage(blockIn(decodedBody(sealed), 'MESSAGE'), secret, known);
  return { layers: layersOf(opened), inner: opened.content };
}

const unreadable: Layer = { kind: 'signed', by: 'openpgp', checks: [{ kind: 'unreadable' }], apart: false };

/** A signature that can't be read keeps nobody from reading what it stands under. */
function damaged(error: unknown): undefined {
  if (!(error instanceof OpenPgpError)) throw error;
}

const anySigned = (checks: readonly OpenPgpCheck[]): boolean => checks.some(({ kind }) => kind === 'signed');

/** RFC 3156 §5: over exactly the first part's octets; files on disk may have lost the wire's line ends. */
async function openSigned(entity: Looked, { known }: OpenPgpKeys): Promise<OpenedLayers> {
  const parts = partsOf(entity as Entity);
  const [content, beside] = parts;
  if (content === undefined) throw new OpenPgpError('malformed');
  // Less or more than the two parts there have to be: whatever was signed, it was not this.
  if (beside === undefined || parts.length !== 2) return { layers: [unreadable], inner: asMixed(entity) };
  const signature = readEntity(beside);
  const bytes = blockIn(decodedBody(signature), 'SIGNATURE');
  const signed = async (form: Uint8Array): Promise<OpenPgpCheck[]> => checkApart(bytes, form.slice() as Bytes, known);
  const checks = await signed(content).catch(damaged);
  // What is left of a signature is shown to nobody; what a gateway put in its place is.
  if (checks === undefined)
    return {
      layers: [unreadable],
      inner: signature.contentType.type === 'application/pgp-signature' ? content : asMixed(entity),
    };
  const wire = withWireLineEnds(content);
  const again = wire !== content && checks.some(({ kind }) => kind === 'changed') ? await signed(wire) : undefined;
  return again !== undefined && anySigned(again)
    ? { layers: [{ kind: 'signed', by: 'openpgp', checks: again, apart: false }], inner: wire }
    : { layers: [{ kind: 'signed', by: 'openpgp', checks, apart: false }], inner: content };
}

const textEntity = (text: Uint8Array): Part => ({
  headers: 'Content-Type: text/plain; charset=utf-8\r\nContent-Transfer-Encoding: base64\r\n',
  body: [base64Lines(text)],
});
const fileEntity = (name: string, bytes: Uint8Array): Part => ({
  headers: `Content-Type: application/octet-stream\r\nContent-Transfer-Encoding: base64\r\nContent-Disposition: attachment;\r\n filename*=utf-8''${encodeURIComponent(safeFileName(name)).replace(/['()*!]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`)}\r\n`,
  body: [base64Lines(bytes)],
});

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

const BLANK = 32;
/** Character sets in which the letters of ASCII stay what they are: no label can make other words of them. */
const ASCII_BASED =
  /^(?:us-ascii|utf-?8|iso-8859-\d{1,2}|windows-125\d|cp125\d|koi8-[ru]|macintosh|gbk|gb18030|gb2312|big5|euc-(?:jp|kr))$/i;

/** Text that is UTF-8 stays so, whatever is said of it outside; the rest is what its head says, or the mail's. */
function inUtf8(text: Bytes, charset: string | undefined): Bytes {
  return asText(text)
    ? text
    : utf8(decodeText(text, charset !== undefined && ASCII_BASED.test(charset) ? charset : undefined));
}

/** What a message on its own holds: a mail, a text, or a file. */
function held(content: Bytes, fileName: string, charset: string | undefined): Bytes {
  if (MIME_START.test(new TextDecoder('latin1').decode(content.subarray(0, 8192)))) return content;
  const isText = asText(content) || (charset !== undefined && !content.includes(0));
  return wholePart(
    fileName === '' && isText
      ? textEntity(inUtf8(content, charset))
      : fileEntity(fileName === '' ? 'file' : fileName, content),
  );
}

async function openInline(
  body: Uint8Array,
  { secret, known }: OpenPgpKeys,
  text: boolean,
  said?: string,
): Promise<OpenedLayers> {
  const opened = await openMessage(blockIn(body, 'MESSAGE'), secret, known);
  const charset = blockAlone(body, 'MESSAGE')?.charset ?? said;
  return {
    layers: layersOf(opened),
    inner: text
      ? wholePart(textEntity(inUtf8(opened.content, charset)))
      : held(opened.content, opened.fileName, charset),
  };
}

async function openClear(body: Uint8Array, { known }: OpenPgpKeys, said: string | undefined): Promise<OpenedLayers> {
  const read = readCleartext(body);
  if (read === undefined) throw new OpenPgpError('malformed');
  const { signed, signature, after } = read;
  const charset = read.charset ?? said;
  const isWhole = after.every((octet) => octet <= BLANK);
  const checks =
    signature === undefined || !isWhole ? undefined : await checkApart(signature, signed, known).catch(damaged);
  const text = isWhole ? signed : concat(signed, utf8('\r\n\r\n'), after);
  return {
    layers: [checks === undefined ? unreadable : { kind: 'signed', by: 'openpgp', checks, apart: false }],
    inner: wholePart(textEntity(inUtf8(text, charset))),
  };
}

/**
 * A signature on every part by one key vouches for each part; one that is missing anywhere vouches for nothing, one
 * that is wrong anywhere is said.
 */
function checksOfAll(opened: readonly OpenedMessage[]): readonly OpenPgpCheck[] {
  const wrong = opened.flatMap(({ checks }) => checks).find(({ kind }) => kind !== 'signed');
  if (wrong !== undefined) return [wrong];
  const [first] = opened[0]!.checks;
  if (first?.kind !== 'signed') return [];
  return opened.every(({ checks }) =>
    checks.some((one) => one.kind === 'signed' && one.key.fingerprint === first.key.fingerprint),
  )
    ? [first]
    : [];
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
    return index === 0 && part.contentType.type === 'text/plain' && asText(content)
      ? textEntity(content)
      : fileEntity(fileName || name || 'file', content);
  });
  const [{ encrypted }] = opened as [OpenedMessage];
  const checks = checksOfAll(opened);
  return {
    layers: [
      ...layersOf({ encrypted, checks: [], content: new Uint8Array(0), fileName: '' }),
      ...(checks.length === 0 ? [] : [{ kind: 'signed', by: 'openpgp', checks, apart: true } as const]),
    ],
    inner: wholePart(multipart('mixed', `opened-${parts.length}`, inside)),
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
      return openInline(decodedBody(entity as Entity), keys, true, entity.contentType.parameters.get('charset'));
    case 'cleartext':
      return openClear(
        entity.fields.length === 0 ? entity.body : decodedBody(entity as Entity),
        keys,
        entity.contentType.parameters.get('charset'),
      );
    case 'attachments':
      return openAttachments(entity, keys);
    case 'bare':
      return openInline(entity.body, keys, false);
  }
}
