/**
 * The mail programs of people outside: open what is encrypted to them, look at signatures, write to the office, with
 * the same S/MIME and OpenPGP as ours.
 */
import { readCertificate } from '@under-lock/core/certificate/certificate';
import { nameInWords } from '@under-lock/core/certificate/name';
import { fieldsNamed, readEntity } from '@under-lock/core/message/entity';
import { type Layer, type OpenPgpOpener, type Unwrapped, UnwrapError, unwrapMail } from '@under-lock/core/locks/unwrap';
import { formOf } from '@under-lock/core/locks/openpgp/form';
import { openOpenPgp } from '@under-lock/core/locks/openpgp/layers';
import { sealForOpenPgp } from '@under-lock/core/locks/openpgp/seal';
import { sealForCertificates } from '@under-lock/core/locks/certificate/seal';
import { buildMessage } from '@under-lock/core/message/build';
import { type MessageContent } from '@under-lock/core/message/content';
import { armoured } from '@under-lock/core/openpgp/armour';
import { readAutocrypt } from '@under-lock/core/openpgp/discovery';
import { openPgpKeysIn } from '@under-lock/core/openpgp/in-file';
import { factsOf, nameOfKey, type OpenPgpKey, readSecretKey, userAt } from '@under-lock/core/openpgp/key';
import { randomUUID } from 'node:crypto';
import { type Authorities } from './authority/authorities';
import { type Keyring, unpacked } from './openpgp/keyring';
import { type Store } from './store';

/** What a mail program outside has at hand. */
export interface ProgramMeans {
  authorities: () => Promise<Authorities>;
  keyring: () => Promise<Keyring>;
  store: Store;
}

export interface OpenedOutside {
  opened: Unwrapped;
  encrypted: boolean;
  by: Layer['by'];
  signedBy: string[];
}

const isCms = (raw: Uint8Array): boolean =>
  /^(application\/(x-)?pkcs7-mime|multipart\/signed)$/.test(readEntity(raw).contentType.type);
const bytesOf = (base64: string): Uint8Array<ArrayBuffer> => new Uint8Array(Buffer.from(base64, 'base64'));

/** Keys this program has met: in the head of mail, in files that came, in the text. */
async function metKeys({ store }: ProgramMeans): Promise<OpenPgpKey[]> {
  const raws = store.mails
    .slice(-100)
    .reverse()
    .map(({ raw }) => bytesOf(raw));
  const found = await Promise.all(
    raws.map(async (raw) => [
      ...(
        await Promise.all(
          fieldsNamed(readEntity(raw), 'autocrypt')
            .flatMap(({ value }) => readAutocrypt(value) ?? [])
            .map(({ key }) => openPgpKeysIn(key)),
        )
      ).flat(),
      ...(raw.length < 200_000 ? await openPgpKeysIn(raw) : []),
    ]),
  );
  return found.flat();
}

async function openPgpOpener(mailbox: string, means: ProgramMeans): Promise<OpenPgpOpener> {
  const holder = (await means.keyring()).holder(mailbox);
  const secret = holder === undefined ? [] : [await readSecretKey(unpacked(holder.secret))];
  const met = await metKeys(means);
  return (form, entity) =>
    openOpenPgp(form, entity, {
      secret,
      known: async (keyId) => met.filter(({ material }) => material.getKeyIDs().some((id) => id.toHex() === keyId)),
    });
}

const signersOf = (layer: Layer): string[] => {
  if (layer.kind !== 'signed') return [];
  if (layer.by === 'openpgp')
    return layer.checks.flatMap((check) => (check.kind === 'signed' ? [nameOfKey(check.key)] : []));
  return layer.checks.flatMap((check) => (check.kind === 'signed' ? [nameInWords(check.certificate.subject)] : []));
};

/** Undefined for mail without a lock, and for what this mailbox can't open. */
export async function openedOutside(
  raw: Uint8Array,
  mailbox: string,
  means: ProgramMeans,
): Promise<OpenedOutside | undefined> {
  const openpgp = formOf(readEntity(raw)) !== undefined;
  if (!openpgp && !isCms(raw)) return undefined;
  const holder = openpgp ? undefined : (await means.authorities()).correspondent(mailbox);
  const held =
    holder === undefined
      ? []
      : [{ certificate: readCertificate(bytesOf(holder.certificate)), privateKey: bytesOf(holder.key) }];
  try {
    const opened = await unwrapMail(raw, held, openpgp ? await openPgpOpener(mailbox, means) : undefined);
    return {
      opened,
      by: openpgp ? 'openpgp' : 'certificate',
      encrypted: opened.layers.some(({ kind }) => kind === 'encrypted'),
      signedBy: opened.layers.flatMap(signersOf),
    };
  } catch (error) {
    if (!(error instanceof UnwrapError)) throw error;
    return undefined;
  }
}

export interface Letter {
  from: string;
  to: string;
  subject: string;
  text: string;
  sign: boolean;
  encrypt: boolean;
  /** With their certificate or with their key. */ by: Layer['by'];
  /** Their public key goes along as a file. */ key: boolean;
  /** Message-IDs of what it answers. */ answers: readonly string[];
}

/** What this mailbox can't do. */
export class LetterError extends Error {}

async function withCertificate(
  { from, to, sign, encrypt }: Letter,
  message: MessageContent,
  { authorities }: ProgramMeans,
): Promise<Uint8Array<ArrayBuffer>> {
  const all = await authorities();
  const holder = all.correspondent(from);
  if (holder === undefined) throw new LetterError(`${from} has no certificate`);
  const own = readCertificate(bytesOf(holder.certificate));
  // Like a program that asks its company's directory.
  const theirs = encrypt
    ? all.office.state.issued.findLast(
        ({ addresses, revoked }) => revoked === undefined && addresses.includes(to.toLowerCase()),
      )
    : undefined;
  if (encrypt && theirs === undefined) throw new LetterError(`${to} has no certificate anybody knows of`);
  return sealForCertificates({
    message: { ...message, from: { name: holder.name, address: from } },
    signer: sign
      ? { certificate: own, privateKey: bytesOf(holder.key), chain: [readCertificate(all.foreign.issuingCertificate)] }
      : undefined,
    recipients:
      theirs === undefined ? [] : [{ certificate: readCertificate(bytesOf(theirs.certificate)) }, { certificate: own }],
    neutralSubject: 'Encrypted mail',
  });
}

async function withKey(
  { from, to, sign, encrypt, key }: Letter,
  message: MessageContent,
  means: ProgramMeans,
): Promise<Uint8Array<ArrayBuffer>> {
  const holder = (await means.keyring()).holder(from);
  if (holder === undefined) throw new LetterError(`${from} has no OpenPGP key`);
  const secret = await readSecretKey(unpacked(holder.secret));
  const own = await factsOf(secret.toPublic());
  const named = { ...message, from: { name: holder.name, address: from } };
  if (!sign && !encrypt)
    return buildMessage({
      ...named,
      files: [{ name: 'my-key.asc', type: 'application/pgp-keys', bytes: armoured('PUBLIC KEY BLOCK', own.bytes) }],
    });
  // Like a program that keeps the keys it meets in mail.
  const theirs = encrypt
    ? (await metKeys(means)).find((one) => userAt(one, to) !== undefined && one.revocation === undefined)
    : undefined;
  if (encrypt && theirs === undefined) throw new LetterError(`no mail from ${to} has brought their key yet`);
  return sealForOpenPgp({
    message: named,
    signer: sign ? secret : undefined,
    recipients: theirs === undefined ? [] : [theirs],
    own,
    form: 'mime',
    signedAt: new Date(),
    neutralSubject: 'Encrypted mail',
    carried: { key: own, field: sign, file: key },
  });
}

/** RFC 5322 bytes as this person's program writes them. @throws LetterError when it lacks what it takes */
export async function writeLetter(letter: Letter, means: ProgramMeans): Promise<Uint8Array<ArrayBuffer>> {
  const { from, to, subject, text, sign, encrypt, answers } = letter;
  const message: MessageContent = {
    messageId: `${randomUUID()}@${from.slice(from.lastIndexOf('@') + 1)}`,
    from: { name: '', address: from },
    to: [{ name: '', address: to }],
    cc: [],
    subject,
    date: new Date(),
    reference: '',
    text,
    html: '',
    files: [],
    ...(answers.length === 0 ? {} : { answers }),
  };
  if (!sign && !encrypt && !letter.key) return buildMessage(message);
  return letter.by === 'openpgp' ? withKey(letter, message, means) : withCertificate(letter, message, means);
}
