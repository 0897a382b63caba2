/** The worker's own keys and what is judged of them. */
import useSWR, { mutate } from 'swr';
import { keysDoor } from '../threads/keys/door';
import { type CertificateView, type VerdictView } from './certificate-view';
import { type OwnKey } from './own-key';

const LIST = 'own-keys';
export const OWN_OPENPGP = 'own-openpgp-keys';

const primaryUse = ({ purpose }: OwnKey): 'sign' | 'encrypt' => (purpose === 'encrypt' ? 'encrypt' : 'sign');

/** The newest first. Views come with the keys; verdicts are asked for apart, since they need the network. */
export function useOwnKeys() {
  return useSWR(LIST, async () => {
    const keys = (await keysDoor().own.list()).sort((a, b) => b.madeAt.localeCompare(a.madeAt));
    return Promise.all(
      keys.map(async (key) => ({
        key,
        view: key.certificate === undefined ? undefined : await keysDoor().certificates.view(key.certificate),
      })),
    );
  });
}

/** Kept for reading only: retired, or run out. */
export const isOld = ({ key, view }: { key: OwnKey; view: CertificateView | undefined }, now: Date): boolean =>
  key.retiredAt !== undefined || (view !== undefined && view.notAfter < now);

export function useVerdicts(keys: readonly { key: OwnKey }[] | undefined): {
  data: ReadonlyMap<string, VerdictView> | undefined;
  error: unknown;
} {
  const installed = (keys ?? []).map(({ key }) => key).filter((key) => key.certificate !== undefined);
  const { data, error } = useSWR(
    installed.length === 0 ? null : ['own-verdicts', ...installed.map(({ id, revision }) => `${id} ${revision}`)],
    async () => {
      const verdicts = await keysDoor().certificates.judge(
        installed.map((key) => ({ certificate: key.certificate!, use: primaryUse(key), along: key.chain })),
        new Date(),
      );
      return new Map(installed.map(({ id }, index) => [id, verdicts[index]!]));
    },
  );
  return { data, error: error as unknown };
}

export interface Signs {
  certificate: boolean;
  openpgp: boolean;
}
const NOTHING: Signs = { certificate: false, openpgp: false };

/** What there is to sign with from this address; nothing while it is not asked for. */
export function useSigns(address: string, wanted: boolean): { signs: Signs; asking: boolean } {
  const { data, isLoading } = useSWR(wanted ? ['own-signs', address] : null, async () => {
    const [certificate, openpgp] = await Promise.all([
      keysDoor().copies.signs(address, new Date()),
      keysDoor().openpgp.signs(address, new Date()),
    ]);
    return { certificate, openpgp };
  });
  return { signs: data ?? NOTHING, asking: isLoading };
}

const isAbout =
  (kinds: readonly string[]) =>
  (key: unknown): boolean =>
    Array.isArray(key) && kinds.includes(key[0] as string);

/**
 * Something about keys or trust is another than before: what was judged is judged anew, also what lies open or was
 * open.
 */
export async function keysChanged(): Promise<void> {
  await Promise.all([
    mutate(
      (key) =>
        key === LIST ||
        key === OWN_OPENPGP ||
        isAbout(['own-verdicts', 'own-signs', 'verdict', 'key-verdict', 'own-openpgp'])(key),
    ),
    // With the verdict in it: dropped, not shown again as it was.
    mutate(isAbout(['incoming-content', 'found']), undefined),
  ]);
}
