/** What the office takes from OpenPGP keys: whose word counts, and what its own people have published. */
import { getKeyTrust, listStaffKeys, type TrustedKey } from '@under-lock/contract/openpgp';
import useSWR from 'swr';
import { api } from '../api';
import { chosenFile } from '../keys/Backup';
import { type OpenPgpVerdictView, type OpenPgpView } from '../keys/openpgp/view';
import { told } from '../live/live';
import { keysDoor } from '../threads/keys/door';
import { reading } from '../threads/keys/reading';

export interface Trusted {
  trusted: TrustedKey;
  view: OpenPgpView;
}
export interface Staff {
  name: string;
  address: string;
  view: OpenPgpView;
  verdict: OpenPgpVerdictView;
}

export const useTrusted = () =>
  useSWR(
    'key-trust',
    async (): Promise<Trusted[]> =>
      Promise.all(
        (await api(getKeyTrust)).keys.map(async (trusted) => ({
          trusted,
          view: await keysDoor().openpgp.view(trusted.key),
        })),
      ),
    { use: [told('office')] },
  );

export const useStaff = () =>
  useSWR('staff-keys', async (): Promise<Staff[]> => {
    const { keys } = await api(listStaffKeys);
    const verdicts = await keysDoor().openpgp.judge(
      keys.map(({ key, address }) => ({ key, use: 'encrypt', address, compared: false })),
      new Date(),
    );
    return Promise.all(
      keys.map(async ({ key, name, address }, index) => ({
        name,
        address,
        view: await keysDoor().openpgp.view(key),
        verdict: verdicts[index]!,
      })),
    );
  });

/** The one key of a file that is chosen now, or why there is none; undefined when nothing was chosen. */
export async function chosenKey(): Promise<OpenPgpView | { problem: string } | undefined> {
  const file = await chosenFile();
  if (file === undefined || 'problem' in file) return file;
  const [view, another] = await reading(file.bytes.length, (doors) => doors.openpgp.inFile(file.bytes));
  if (view === undefined) return { problem: 'There is no OpenPGP key in this file.' };
  return another === undefined
    ? view
    : { problem: 'There are several keys in this file. Choose a file with the one whose word is to count.' };
}
