/** The mail program of whoever is outside: opens what is encrypted to their certificate, looks at signatures, writes to the office, with the same S/MIME as ours. */
import { readCertificate } from '@under-lock/core/certificate/certificate';
import { nameInWords } from '@under-lock/core/certificate/name';
import { readEntity } from '@under-lock/core/message/entity';
import { type Unwrapped, UnwrapError, unwrapMail } from '@under-lock/core/locks/certificate/unwrap';
import { sealForCertificates } from '@under-lock/core/locks/certificate/seal';
import { buildMessage } from '@under-lock/core/message/build';
import { type MessageContent } from '@under-lock/core/message/content';
import { randomUUID } from 'node:crypto';
import { type Authorities } from './authority/authorities';

export interface OpenedOutside { opened: Unwrapped; encrypted: boolean; signedBy: string[] }

const isSealed = (raw: Uint8Array): boolean => /^(application\/(x-)?pkcs7-mime|multipart\/signed)$/.test(readEntity(raw).contentType.type);

/** Undefined for mail without a lock, and for what this mailbox can't open. */
export async function openedOutside(raw: Uint8Array, mailbox: string, authorities: () => Promise<Authorities>): Promise<OpenedOutside | undefined> {
  if (!isSealed(raw)) return undefined;
  const holder = (await authorities()).correspondent(mailbox);
  const held = holder === undefined ? [] : [{ certificate: readCertificate(new Uint8Array(Buffer.from(holder.certificate, 'base64'))), privateKey: new Uint8Array(Buffer.from(holder.key, 'base64')) }];
  try {
    const opened = await unwrapMail(raw, held);
    return {
      opened, encrypted: opened.layers.some(({ kind }) => kind === 'encrypted'),
      signedBy: opened.layers.flatMap((layer) => (layer.kind === 'signed' ? layer.checks.flatMap((check) => (check.kind === 'signed' ? [nameInWords(check.certificate.subject)] : [])) : [])),
    };
  } catch (error) {
    if (!(error instanceof UnwrapError)) throw error;
    return undefined;
  }
}

export interface Letter { from: string; to: string; subject: string; text: string; sign: boolean; encrypt: boolean; /** Message-IDs of what it answers. */ answers: readonly string[] }

/** What this mailbox can't do. */
export class LetterError extends Error {}

const bytesOf = (base64: string): Uint8Array<ArrayBuffer> => new Uint8Array(Buffer.from(base64, 'base64'));

/** RFC 5322 bytes as this person's program writes them. @throws LetterError when it lacks a certificate for that */
export async function writeLetter({ from, to, subject, text, sign, encrypt, answers }: Letter, authorities: () => Promise<Authorities>): Promise<Uint8Array<ArrayBuffer>> {
  const message: MessageContent = {
    messageId: `${randomUUID()}@${from.slice(from.lastIndexOf('@') + 1)}`, from: { name: '', address: from }, to: [{ name: '', address: to }], cc: [], subject, date: new Date(), reference: '', text, html: '', files: [],
    ...(answers.length === 0 ? {} : { answers }),
  };
  if (!sign && !encrypt) return buildMessage(message);
  const all = await authorities();
  const holder = all.correspondent(from);
  if (holder === undefined) throw new LetterError(`${from} has no certificate`);
  const own = readCertificate(bytesOf(holder.certificate));
  // Like a program that asks its company's directory.
  const theirs = encrypt ? all.office.state.issued.findLast(({ addresses, revoked }) => revoked === undefined && addresses.includes(to.toLowerCase())) : undefined;
  if (encrypt && theirs === undefined) throw new LetterError(`${to} has no certificate anybody knows of`);
  return sealForCertificates({
    message: { ...message, from: { name: holder.name, address: from } },
    signer: sign ? { certificate: own, privateKey: bytesOf(holder.key), chain: [readCertificate(all.foreign.issuingCertificate)] } : undefined,
    recipients: theirs === undefined ? [] : [{ certificate: readCertificate(bytesOf(theirs.certificate)) }, { certificate: own }],
    neutralSubject: 'Encrypted mail',
  });
}
