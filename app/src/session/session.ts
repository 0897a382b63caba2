/** Who is signed in and whether the vault is open here. */
import { deviceName } from '@under-lock/ui/device-name';
import { defined } from '@under-lock/core/defined';
import {
  finishRecovery,
  getSession,
  setUpAccount,
  signIn,
  signOut,
  startRecovery,
  startSignIn,
  type Session,
} from '@under-lock/contract/account';
import { isProblem } from '@under-lock/contract/problem';
import { useEffect, useRef } from 'react';
import useSWR, { mutate } from 'swr';
import { api, forgetAnswers } from '../api';
import { forgetFollowed } from '../followed';
import { told } from '../live/live';
import { forgetUndo } from '../shell/Undo';
import { door } from '../threads/main/door';
import { Watched } from '../watched';

export type SessionState = { at: 'signed-out' } | { at: 'locked'; session: Session } | { at: 'open'; session: Session };

/** Whose session the server said it is, before the vault is open here. */
export const accountHere = new Watched<string | undefined>(undefined);

const KEY = 'session';
const CHANNEL = 'under-lock-session';

export function useSession() {
  return useSWR<SessionState>(
    KEY,
    async () => {
      // Its script comes while the server is asked.
      const { account } = door();
      const { session } = await api(getSession);
      accountHere.set(session?.account.id);
      if (session === undefined) return { at: 'signed-out' };
      return { at: (await account.restore(session.account.id)) ? 'open' : 'locked', session };
    },
    { use: [told('account')], revalidateOnFocus: true, dedupingInterval: 5_000 },
  );
}

/** A session that was ended from another device takes what this one held open with it. */
export function useEndedElsewhere(at: SessionState['at'] | undefined): void {
  const before = useRef(at);
  useEffect(() => {
    if (before.current === 'open' && at === 'signed-out') void door().account.lock().then(forgetEverything);
    before.current = at;
  }, [at]);
}

/** The session of a page that is only shown when there is one. */
export function useOpenSession(): Session {
  const { data } = useSession();
  if (data?.at !== 'open') throw new Error('This page needs an open vault');
  return data.session;
}

const enter = (state: SessionState): Promise<unknown> => mutate(KEY, state, { revalidate: false });

/** Other tabs lock and sign out with this one. */
export function listenToOtherTabs(): () => void {
  const channel = new BroadcastChannel(CHANNEL);
  channel.onmessage = () =>
    void door()
      .account.lock()
      .then(() => mutate(KEY));
  return () => channel.close();
}
function tellOtherTabs(): void {
  const channel = new BroadcastChannel(CHANNEL);
  channel.postMessage('closed');
  channel.close();
}

export async function signInWith(address: string, password: string): Promise<void> {
  const hashing = await api(startSignIn, { body: { address } });
  const authKey = await door().account.authKey(password, hashing);
  const session = await api(signIn, { body: { address, authKey, device: deviceName() } });
  await door().account.unlock(session.account.id, session.wrappedSecret);
  await enter({ at: 'open', session });
}

/** Opens the vault again without a new sign-in: nothing leaves the browser. @throws when the password is wrong */
export async function unlock(session: Session, password: string): Promise<void> {
  await door().account.authKey(password, session.hashing);
  await door().account.unlock(session.account.id, session.wrappedSecret);
  await enter({ at: 'open', session });
}

function forgetEverything(): Promise<unknown> {
  forgetAnswers();
  forgetUndo();
  forgetFollowed();
  return mutate((key) => key !== KEY, undefined, { revalidate: false });
}

export async function lock(session: Session): Promise<void> {
  await door().account.lock();
  tellOtherTabs();
  await enter({ at: 'locked', session });
  await forgetEverything();
}

export async function leave(): Promise<void> {
  await door().account.lock();
  tellOtherTabs();
  await api(signOut).catch((error: unknown) => {
    if (!isProblem(error, 'not-signed-in')) throw error;
  });
  await enter({ at: 'signed-out' });
  await forgetEverything();
}

export async function setUp(
  token: Uint8Array<ArrayBuffer>,
  accountId: string,
  password: string,
  phone: string | undefined,
): Promise<{ code: string; enter: () => Promise<unknown> }> {
  const made = await door().account.create(accountId, password);
  const session = await api(setUpAccount, {
    body: {
      token,
      password: made.password,
      recovery: made.recovery,
      device: deviceName(),
      ...defined({ phone }),
    },
  });
  return { code: made.code, enter: () => enter({ at: 'open', session }) };
}

export async function recover(
  address: string,
  code: string,
  password: string,
): Promise<{ code: string; enter: () => Promise<unknown> }> {
  const recoveryAuthKey = await door().account.recoveryAuthKey(code);
  const { accountId, wrappedSecret } = await api(startRecovery, { body: { address, recoveryAuthKey } });
  const made = await door().account.recover(accountId, code, wrappedSecret, password);
  const session = await api(finishRecovery, {
    body: { address, recoveryAuthKey, password: made.password, recovery: made.recovery, device: deviceName() },
  });
  return { code: made.code, enter: () => enter({ at: 'open', session }) };
}

export const refreshSession = (): Promise<unknown> => mutate(KEY);
