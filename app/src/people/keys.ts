/** The OpenPGP keys of the persons written to, judged for their addresses. */
import { defined } from '@under-lock/core/defined';
import { fromBase64Url, toBase64Url } from '@under-lock/core/bytes';
import useSWR from 'swr';
import { type OpenPgpVerdictView, type OpenPgpView } from '../keys/openpgp/view';
import { type Kept } from '@under-lock/core/vault/kept';
import { keysDoor } from '../threads/keys/door';
import { type Judged } from './certificates';
import { type KeyOrigin } from '@under-lock/core/people/kept-person';
import { type Person, type PersonKey } from '@under-lock/core/people/kept-person';
import { inUse, withInUse } from '@under-lock/core/people/in-use';
import { useInUseAt } from './in-use-at';

export interface RecipientKey {
  kept: PersonKey;
  verdict: OpenPgpVerdictView;
  readsNewest: boolean;
}
export type RecipientKeys = ReadonlyMap<string, RecipientKey>;

const none: RecipientKeys = new Map();

/** The one in use: what the worker took last. */
export const currentKey = ({ keys }: Pick<Person, 'keys'>): PersonKey | undefined => inUse(keys);

const keptFrom = ({
  bytes,
  fingerprint,
  keyIds,
  expiresAt,
}: OpenPgpView): Pick<PersonKey, 'key' | 'fingerprint' | 'keyIds' | 'notAfter'> => ({
  key: toBase64Url(bytes),
  fingerprint,
  keyIds: [...keyIds],
  ...(expiresAt === undefined ? {} : { notAfter: expiresAt.toISOString() }),
});

/**
 * With this one in use from now on; the ones before stay, so that a change is seen as one, and what they signed can be
 * checked.
 */
export function withKey(
  keys: readonly PersonKey[] | undefined,
  view: OpenPgpView,
  from: KeyOrigin,
  now: Date,
): PersonKey[] {
  const at = now.toISOString();
  const others = (keys ?? []).filter(({ fingerprint }) => fingerprint !== view.fingerprint);
  const before = (keys ?? []).find(({ fingerprint }) => fingerprint === view.fingerprint);
  return withInUse(others, { ...keptFrom(view), addedAt: at, from, ...defined({ checked: before?.checked }) }, at);
}

/** The same key, with what has been learnt of it since. */
export function withLearnt(keys: readonly PersonKey[] | undefined, view: OpenPgpView, now: Date): PersonKey[] {
  return (keys ?? []).map((one) => {
    if (one.fingerprint !== view.fingerprint) return one;
    const { notAfter: _, ...rest } = one;
    return { ...rest, ...keptFrom(view), refreshedAt: now.toISOString() };
  });
}

/** By address: the plan stands meanwhile, and fills in when it is known. */
export function useRecipientKeys(
  people: readonly Kept<Person>[] | undefined,
  addresses: readonly string[],
): Judged<RecipientKeys> {
  const known = useInUseAt(people, addresses, currentKey);
  const { data = none, error } = useSWR(
    known.length === 0
      ? null
      : [
          'key-verdict',
          ...known.map(
            ({ address, kept }) => `${address} ${kept.fingerprint} ${kept.refreshedAt ?? ''} ${kept.checked?.at ?? ''}`,
          ),
        ],
    async () => {
      const keys = known.map(({ kept }) => fromBase64Url(kept.key));
      const [verdicts, views] = await Promise.all([
        keysDoor().openpgp.judge(
          known.map(({ address, kept }, index) => ({
            key: keys[index]!,
            use: 'encrypt',
            address,
            compared: kept.checked !== undefined,
          })),
          new Date(),
        ),
        Promise.all(keys.map((key) => keysDoor().openpgp.view(key))),
      ]);
      return new Map(
        known.map(({ address, kept }, index) => [
          address,
          { kept, verdict: verdicts[index]!, readsNewest: views[index]!.readsNewest },
        ]),
      );
    },
    { keepPreviousData: true },
  );
  const asking =
    error === undefined && known.some(({ address, kept }) => data.get(address)?.kept.fingerprint !== kept.fingerprint);
  return { judged: known.length === 0 ? none : data, asking };
}
