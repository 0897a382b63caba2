/**
 * Certificates of the office's own people: asked for in the name of an account, written down, revoked. Only public
 * halves are here.
 */
import { endSigning } from '../data/signing';
import { createHash } from 'node:crypto';
import { type RevokeReason } from '@under-lock/contract/certificate';
import { isOwnAddress } from '../account/addresses';
import { type Context } from '../context';
import { rows, run } from '../data/database';
import { type AccountRow } from '../data/models';
import { invalid, notFound, Problem } from '../problem';
import { byAccount, telling } from '../log/log';
import { unread } from '../thread/pool';
import { httpAuthority, type IssuedChain } from './authority';

export const fingerprintOf = (certificate: Uint8Array): string =>
  createHash('sha256').update(certificate).digest('hex');
const asBytes = (buffer: Buffer): Uint8Array<ArrayBuffer> => new Uint8Array(buffer);

/** The addresses that a request is for. @throws Problem `invalid-input` */
export const requestedIn = (context: Context, request: Uint8Array): Promise<readonly string[]> =>
  context.threads
    .run('requestedAddresses', { request })
    .catch(unread(() => invalid('This is not a certificate request.')));

/**
 * What the authority answers, and the certificate as it was read. An authority that answers with somebody else's must
 * not have it put down as theirs. @throws Problem `invalid-input`, `unreachable`
 */
export async function issuedFor(
  context: Context,
  request: Uint8Array,
  purpose: 'sign' | 'encrypt' | 'both',
  isTheirs: (address: string) => boolean,
) {
  const issued = await httpAuthority(context).issue(request, purpose);
  const certificate = await context.threads
    .run('certificate', { bytes: issued.certificate })
    .catch(
      unread(() => new Problem('unreachable', 502, 'The authority answered with something that is not a certificate')),
    );
  if (!certificate.addresses.every(isTheirs))
    throw new Problem('unreachable', 502, 'The authority issued a certificate for another address');
  return { issued, certificate };
}

/** @throws Problem `invalid-input`, `unreachable` */
export async function requestCertificate(
  context: Context,
  account: AccountRow,
  request: Uint8Array,
  purpose: 'sign' | 'encrypt' | 'both',
): Promise<IssuedChain> {
  const asked = await requestedIn(context, request);
  const foreign = asked.find((address) => !isOwnAddress(account, address));
  if (asked.length === 0 || foreign !== undefined)
    throw invalid(foreign === undefined ? 'The request names no address.' : `${foreign} is not your address.`);
  const { issued, certificate } = await issuedFor(context, request, purpose, (address) =>
    isOwnAddress(account, address),
  );
  await telling(
    context,
    {
      kind: 'certificate-requested',
      actor: byAccount(account.id),
      about: { fingerprint: fingerprintOf(issued.certificate), purpose },
    },
    (transaction) =>
      run(
        context.db,
        'INSERT INTO certificates (fingerprint, account_id, certificate, serial, not_after, issued_at, purpose) VALUES ($1, $2, $3, $4, $5, $6, $7) ON CONFLICT DO NOTHING',
        [
          fingerprintOf(issued.certificate),
          account.id,
          Buffer.from(issued.certificate),
          serialHex(certificate.serial),
          certificate.notAfter,
          context.clock(),
          purpose,
        ],
        transaction,
      ),
  );
  return issued;
}

function serialHex(serial: bigint): string {
  const hex = serial.toString(16);
  return hex.length % 2 === 0 ? hex : `0${hex}`;
}

interface IssuedRow {
  fingerprint: string;
  certificate: Buffer;
  serial: string;
  not_after: Date;
  revoked_at: Date | null;
}

export async function listIssued(context: Context, account: AccountRow) {
  const found = await rows<IssuedRow>(
    context.db,
    'SELECT fingerprint, certificate, serial, not_after, revoked_at FROM certificates WHERE account_id = $1 ORDER BY issued_at DESC LIMIT 200',
    [account.id],
  );
  return found.map((row) => ({
    fingerprint: row.fingerprint,
    certificate: asBytes(row.certificate),
    address: account.address,
    notAfter: row.not_after,
    ...(row.revoked_at === null ? {} : { revokedAt: row.revoked_at }),
  }));
}

/** @throws Problem `not-found`, `conflict`, `unreachable` */
export async function revokeCertificate(
  context: Context,
  account: AccountRow,
  fingerprint: string,
  reason: RevokeReason,
): Promise<void> {
  const [row] = await rows<IssuedRow>(
    context.db,
    'SELECT * FROM certificates WHERE fingerprint = $1 AND account_id = $2',
    [fingerprint, account.id],
  );
  if (row === undefined) throw notFound('This certificate');
  if (row.revoked_at !== null) throw new Problem('conflict', 409, 'It has been revoked already');
  await httpAuthority(context).revoke(row.serial, reason);
  await telling(
    context,
    { kind: 'certificate-revoked', actor: byAccount(account.id), about: { fingerprint, reason } },
    async (transaction) => {
      await run(
        context.db,
        'UPDATE certificates SET revoked_at = $2, revoke_reason = $3 WHERE fingerprint = $1',
        [fingerprint, context.clock(), reason],
        transaction,
      );
      await endSigning(context, account.id, fingerprint, transaction);
    },
  );
  // What was fetched before doesn't know of it.
  await run(context.db, 'DELETE FROM evidence WHERE kind <> $1', ['issuer']);
}
