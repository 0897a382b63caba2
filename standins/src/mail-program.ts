/** The mail program of whoever has a certificate outside: opens what is encrypted to it and looks at signatures, with the same reading of S/MIME as ours. */
import { readCertificate } from '@under-lock/core/certificate/certificate';
import { nameInWords } from '@under-lock/core/certificate/name';
import { readEntity } from '@under-lock/core/message/entity';
import { type Unwrapped, UnwrapError, unwrapMail } from '@under-lock/core/locks/certificate/unwrap';
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
