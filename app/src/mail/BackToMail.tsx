import { isAsking, queryOf } from '../find/asked';
import { useAsked } from '../find/useAsked';
import { BackToList } from '../shell/ListAndPage';

/** From a message to the list it was opened from: what was found, or its shelf. */
export function BackToMail({ shelf }: { shelf: 'sent' | 'received' }) {
  const { asked } = useAsked();
  if (isAsking(asked)) return <BackToList href={`/mail${queryOf(asked)}`} label="Found" />;
  return shelf === 'sent' ? (
    <BackToList href="/mail" label="Sent" />
  ) : (
    <BackToList href="/mail/received" label="Received" />
  );
}
