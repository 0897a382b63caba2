/** Mail: the list that belongs to the page's address, and the page. */
import { usePathname } from 'expo-router';
import { type ReactNode } from 'react';
import { isAsking } from '../find/asked';
import { useAsked } from '../find/useAsked';
import { ReceivedList } from './ReceivedList';
import { SentList } from './SentList';
import { ListAndPage, ListIndex, NothingChosen } from '../shell/ListAndPage';
import { DraftList } from './DraftList';
import { WaitingList } from './WaitingList';

const WAITING = /^\/mail\/waiting(\/|$)/;
const RECEIVED = /^\/mail\/(received|in|open)(\/|$)/;

function listAt(path: string): ReactNode {
  if (RECEIVED.test(path)) return <ReceivedList />;
  if (WAITING.test(path)) return <WaitingList />;
  return path === '/mail/drafts' ? <DraftList /> : <SentList />;
}

export function MailPlace() {
  const path = usePathname();
  return <ListAndPage list={listAt(path)} />;
}

/** What stands beside a list of which no line is chosen. */
function Beside({ title, children }: { title: string; children: string }) {
  const { asked } = useAsked();
  return isAsking(asked) ? (
    <NothingChosen title="Search">Choose one of those that were found.</NothingChosen>
  ) : (
    <NothingChosen title={title}>{children}</NothingChosen>
  );
}

export const SentIndex = () => (
  <ListIndex list={<SentList />}>
    <Beside title="Sent mail">Choose a message: its page shows who can read it and what happened.</Beside>
  </ListIndex>
);
export const ReceivedIndex = () => (
  <ListIndex list={<ReceivedList />}>
    <Beside title="Received mail">Choose a message to read it.</Beside>
  </ListIndex>
);
export const DraftIndex = () => (
  <ListIndex list={<DraftList />}>
    <Beside title="Drafts">Choose a draft to go on writing.</Beside>
  </ListIndex>
);
export const WaitingIndex = () => (
  <ListIndex list={<WaitingList />}>
    <Beside title="Waiting mail">Choose a message that waits for release, or was sent back.</Beside>
  </ListIndex>
);
