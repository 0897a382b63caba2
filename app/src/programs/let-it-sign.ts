/**
 * Makes a certificate or key for the door, as one of the worker's own that signs nothing here, and seals it to the door.
 * What an earlier try began is gone on with: a certificate whose answer did not come, and an OpenPGP key that the page
 * has made and nobody has taken yet.
 */
import { type Account } from '@under-lock/contract/account';
import { publishKey } from '@under-lock/contract/openpgp';
import { putSigner } from '@under-lock/contract/submission';
import { type PublicKey } from '@under-lock/core/account/key-pair';
import { type Bytes } from '@under-lock/core/bytes';
import { markedName, type SignerKind } from '@under-lock/core/submission/signer';
import { api } from '../api';
import { openPgpChanged } from '../keys/openpgp/useOpenPgpKeys';
import { keysChanged } from '../keys/useKeys';
import { keysDoor } from '../threads/keys/door';

async function certificateId({ name, address }: Account, now: Date): Promise<string> {
  const begun = (await keysDoor().own.list()).find(
    ({ forPrograms, retiredAt, certificate }) =>
      forPrograms === true && retiredAt === undefined && certificate === undefined,
  );
  const id = begun?.id ?? crypto.randomUUID();
  if (begun === undefined)
    await keysDoor().own.make(id, 'p-256', 'sign', { name: markedName(name), addresses: [address] }, now, true);
  await keysDoor().own.ask(id);
  await keysChanged();
  return id;
}

/** What a page has made, until somebody has taken it. */
export interface Begun {
  openpgp?: { id: string; fingerprint: string; key: Bytes };
}

async function openPgpId({ name, address }: Account, begun: Begun, now: Date): Promise<string> {
  if (begun.openpgp === undefined) {
    const id = crypto.randomUUID();
    const holder = { name: markedName(name), addresses: [address] };
    const { view } = await keysDoor().openpgp.make(id, 'wide', holder, undefined, 'programs', now);
    begun.openpgp = { id, fingerprint: view.fingerprint, key: view.bytes };
  }
  const { id, fingerprint, key } = begun.openpgp;
  await api(publishKey, { params: { fingerprint }, body: { key } });
  await openPgpChanged();
  return id;
}

/** @throws ApiProblem */
export async function letItSign(
  kind: SignerKind,
  account: Account,
  door: PublicKey & { publicKey: Bytes },
  begun: Begun,
): Promise<void> {
  const now = new Date();
  const id = kind === 'certificate' ? await certificateId(account, now) : await openPgpId(account, begun, now);
  const { sealed, fingerprint } = await keysDoor().lent.seal(kind, id, door, account.id);
  await api(putSigner, { params: { kind }, body: { publicKey: door.publicKey, sealed, fingerprint } });
  if (kind === 'openpgp') delete begun.openpgp;
}
