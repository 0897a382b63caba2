/** The worker's own OpenPGP keys, what is judged of them, and what the office's directory holds of them. */
import { listPublished } from '@under-lock/contract/openpgp';
import useSWR, { mutate } from 'swr';
import { api } from '../../api';
import { keysDoor } from '../../threads/keys/door';
import { keysChanged, OWN_OPENPGP } from '../useKeys';
import { type OwnOpenPgpKey } from './own-key';
import { type OpenPgpVerdictView } from './view';

const PUBLISHED = 'openpgp-published';

/** The newest first. */
export const useOpenPgpKeys = () =>
  useSWR(OWN_OPENPGP, async (): Promise<OwnOpenPgpKey[]> =>
    (await keysDoor().openpgp.list()).sort((a, b) => b.madeAt.localeCompare(a.madeAt)),
  );

/** One's own word is enough for one's own key; what is looked at is its end, its strength, whether it is revoked. */
export const useOpenPgpVerdicts = (keys: readonly OwnOpenPgpKey[] | undefined) =>
  useSWR(
    keys === undefined || keys.length === 0
      ? null
      : ['own-openpgp', ...keys.map(({ id, revision }) => `${id} ${revision}`)],
    async (): Promise<ReadonlyMap<string, OpenPgpVerdictView>> => {
      const verdicts = await keysDoor().openpgp.judge(
        keys!.map(({ view }) => ({ key: view.bytes, use: view.uses.encrypt ? 'encrypt' : 'sign', compared: true })),
        new Date(),
      );
      return new Map(keys!.map(({ id }, index) => [id, verdicts[index]!]));
    },
  );

export const usePublished = () =>
  useSWR(PUBLISHED, async () => new Map((await api(listPublished)).keys.map((one) => [one.fingerprint, one])));

export const isOldKey = ({ retiredAt, view: { expiresAt, revocation } }: OwnOpenPgpKey, now: Date): boolean =>
  retiredAt !== undefined || revocation !== undefined || (expiresAt !== undefined && expiresAt < now);

export const openPgpChanged = async (): Promise<void> => void (await Promise.all([keysChanged(), mutate(PUBLISHED)]));
