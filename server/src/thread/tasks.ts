/**
 * What is parsed in threads: everything that somebody outside of this house has written, or may have. Values in and out
 * are plain data.
 */
import { addressesOf, readCertificate } from '@under-lock/core/certificate/certificate';
import { readOcspAnswer } from '@under-lock/core/certificate/ocsp';
import { requestedAddresses } from '@under-lock/core/certificate/request';
import { readRevocationList } from '@under-lock/core/certificate/revocation-list';
import { failedDelivery } from '@under-lock/core/message/delivery-report';
import { type Bytes } from '@under-lock/core/bytes';
import { readableWords, readHead } from '@under-lock/core/incoming/incoming';
import { type CopyToJudge, judgeCopy } from './judge-copy';
import { judgeOrigin, type OriginToJudge } from './judge-origin';

export interface KeyFacts {
  fingerprint: string;
  bytes: Uint8Array<ArrayBuffer>;
  addresses: string[];
  revoked: boolean;
  expiresAt: Date | undefined;
}

/** A key as it is; with `kept` joined to it, so that neither a revocation nor a certification is lost. */
async function openPgpKey({ bytes, kept }: { bytes: Uint8Array; kept?: Uint8Array }): Promise<KeyFacts> {
  const { addressesOfKey, mergedKeys, readOpenPgpKey } = await import('@under-lock/core/openpgp/key');
  const key = kept === undefined ? await readOpenPgpKey(bytes) : await mergedKeys(kept, bytes);
  return {
    fingerprint: key.fingerprint,
    bytes: key.bytes,
    addresses: addressesOfKey(key),
    revoked: key.revocation !== undefined,
    expiresAt: key.expiresAt,
  };
}

/** When something fetched says that it is to be fetched again. */
function nextUpdate({ kind, bytes }: { kind: 'list' | 'answer'; bytes: Uint8Array }): Date | undefined {
  if (kind === 'list') return readRevocationList(bytes).nextUpdate;
  return readOcspAnswer(bytes)
    .entries.map((entry) => entry.nextUpdate)
    .find((at) => at !== undefined);
}

function certificate({ bytes }: { bytes: Uint8Array }): {
  addresses: string[];
  authority: boolean;
  notAfter: Date;
  serial: bigint;
} {
  const read = readCertificate(bytes);
  return {
    addresses: [...addressesOf(read)],
    authority: read.basicConstraints?.ca === true,
    notAfter: read.notAfter,
    serial: read.serial,
  };
}

export const tasks = {
  mailHead: ({ raw, from }: { raw: Uint8Array; from: string }) => readHead(raw, from),
  mailWords: ({ raw }: { raw: Uint8Array }) => readableWords(raw as Bytes),
  failedDelivery: ({ raw }: { raw: Uint8Array }) => failedDelivery(raw),
  judgeCopy: (copy: CopyToJudge) => judgeCopy(copy),
  judgeOrigin: (mail: OriginToJudge) => judgeOrigin(mail),
  nextUpdate,
  certificate,
  requestedAddresses: ({ request }: { request: Uint8Array }) => [...requestedAddresses(request)],
  openPgpKey,
};
export type Task = keyof typeof tasks;
export type TaskInput<T extends Task> = Parameters<(typeof tasks)[T]>[0];
export type TaskOutput<T extends Task> = Awaited<ReturnType<(typeof tasks)[T]>>;
