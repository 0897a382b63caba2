import { type Grant, type SentCopy } from '@under-lock/contract/outgoing';
import { isProblem } from '@under-lock/contract/problem';
import { personAt } from '@under-lock/core/people/find';
import { useState } from 'react';
import { useOffice } from '../session/useOffice';
import { sendPasswordText } from '../passwords/send-text';
import { noteTold } from '../passwords/told';
import { usePasswords } from '../passwords/usePasswords';
import { usePeople } from '../people/person';
import { problemWords } from '../problem-words';
import { useOpenSession } from '../session/session';
import { keysDoor } from '../threads/keys/door';
import { copyLink, letThemTryAgain, tellAgainNow, tellAll } from './message-actions';
import { type Asking, type SentWithAll } from './MessageAsked';
import { useSaying } from './useSaying';
import { takeMessageBack } from './waiting';
import { fromHere } from '../shell/from-here';

/** What the page of a sent message does, what it says about that, and what is being asked. */
export function useMessageActs(message: SentWithAll, refresh: () => Promise<unknown>) {
  const [asking, setAsking] = useState<Asking | undefined>();
  const { said, say, act } = useSaying(refresh);
  const { data: office } = useOffice();
  const takeBack = async (): Promise<void> => {
    const goOn = fromHere();
    try {
      const draftId = await takeMessageBack(message);
      goOn(draftId === undefined ? '/mail' : `/write/${draftId}`);
    } catch (problem) {
      const hadLeft = isProblem(problem, 'conflict');
      const text = hadLeft ? 'It had already left a moment before. You can still withdraw it.' : problemWords(problem);
      say({ tone: 'brick', text });
      await refresh();
    }
  };
  return {
    asking,
    said,
    takeBack,
    close: () => setAsking(undefined),
    /** The page shows it before the dialog goes: where what opened that is gone, the page has the focus. */
    done: async (text: string) => {
      await refresh().catch(() => undefined);
      setAsking(undefined);
      say({ tone: 'sea', text });
    },
    ask: setAsking,
    tell: (grant: Grant) => void act(() => tellAgainNow(message, grant)),
    tellAll: (grants: Grant[]) => void act(() => tellAll(message, grants)),
    renew: (grant: Grant) => void act(() => letThemTryAgain(message, grant)),
    copy: (grant: Grant) => void act(() => copyLink(office!.roomOrigin, message, grant)),
  };
}

/** Telling a locked file's password: noted as told, or sent as a text message where a number is known. */
export function useTellingPasswords(message: SentWithAll, refresh: () => Promise<unknown>) {
  const { data: book } = usePasswords();
  const { data: people } = usePeople();
  const { data: office } = useOffice();
  const { account } = useOpenSession();
  const told = async ({ id, address }: SentCopy): Promise<void> => {
    await noteTold({ messageId: message.id, recipientId: id, address, book: book ?? [], now: new Date() });
    await refresh();
  };
  const textTo = (copy: SentCopy): (() => Promise<void>) | undefined => {
    const person = personAt(people ?? [], copy.address)?.value;
    const kept = message.opened?.passwords?.[copy.id];
    const phone = person?.phone;
    if (phone === undefined || kept === undefined) return undefined;
    return async () => {
      const language = person?.language ?? 'en';
      await sendPasswordText(
        phone,
        await keysDoor().file.passwordText(language, account.name, office!.name, kept.password),
      );
      await told(copy);
    };
  };
  return { told, textTo };
}
