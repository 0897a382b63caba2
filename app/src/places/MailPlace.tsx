/** Mail: the list that belongs to the page's address, and the page. */
import { usePathname } from 'expo-router';
import { isAsking } from '../find/asked';
import { useAsked } from '../find/useAsked';
import { ReceivedList } from './ReceivedList';
import { SentList } from './SentList';
import { ListAndPage, ListIndex, NothingChosen } from '../shell/ListAndPage';
import { DraftList } from './DraftList';

const RECEIVED = /^\/mail\/(received|in|open)(\/|$)/;

export function MailPlace() {
  const path = usePathname();
  const list = RECEIVED.test(path) ? <ReceivedList /> : path === '/mail/drafts' ? <DraftList /> : <SentList />;
  return <ListAndPage list={list} />;
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
