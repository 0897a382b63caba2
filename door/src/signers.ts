/** What somebody has let this door sign with: opened for one mail, kept nowhere. */
import { listSignersForDoor } from '@under-lock/contract/submission';
import { usableCertificates } from '@under-lock/core/certificate/usable';
import { type SealingMeans } from '@under-lock/core/locks/lock';
import { type Known } from '@under-lock/core/outgoing/known';
import { usableOpenPgpKeys } from '@under-lock/core/openpgp/usable';
import { SealError } from '@under-lock/core/sealing';
import { openSigner, type Signer } from '@under-lock/core/submission/signer';
import { type Context, type Owner } from './house';

type Means = Pick<SealingMeans, 'certificates' | 'openPgpKeys'>;

export interface Signing {
  signs: Known['signs'];
  means: Means;
}

/** What does not open was sealed to another door: it signs nothing. @throws ApiProblem */
export async function signingFor(
  { keys }: Pick<Context, 'keys'>,
  { account, client }: Owner,
  from: string,
  now: Date,
): Promise<Signing> {
  const { signers } = await client(listSignersForDoor);
  const opened = await Promise.all(
    signers.map(({ kind, sealed }) =>
      openSigner(keys.privateKey, account.id, kind, sealed).catch((error: unknown) => {
        if (!(error instanceof SealError)) throw error;
        return undefined;
      }),
    ),
  );
  const of = <K extends Signer['kind']>(kind: K): { value: Extract<Signer, { kind: K }> }[] =>
    opened.flatMap((value) => (value?.kind === kind ? [{ value: value as Extract<Signer, { kind: K }> }] : []));
  const [certificates, openPgp] = [of('certificate'), of('openpgp')];
  return {
    signs: {
      certificate: usableCertificates(certificates, from, 'sign', now).length > 0,
      openpgp: (await usableOpenPgpKeys(openPgp, from, 'sign', now)).length > 0,
    },
    means: { certificates: async () => certificates, openPgpKeys: async () => openPgp },
  };
}
