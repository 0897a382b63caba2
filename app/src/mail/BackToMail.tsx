import { isAsking, queryOf } from '../find/asked';
import { useAsked } from '../find/useAsked';
import { BackToList } from '../shell/ListAndPage';

const shelves = {
  sent: ['/mail', 'Sent'],
  received: ['/mail/received', 'Received'],
  waiting: ['/mail/waiting', 'Waiting'],
} as const;

/** From a message to the list it was opened from: what was found, or its shelf. */
export function BackToMail({ shelf }: { shelf: 'sent' | 'received' | 'waiting' }) {
  const { asked } = useAsked();
  if (isAsking(asked)) return <BackToList href={`/mail${queryOf(asked)}`} label="Found" />;
  const [href, label] = shelves[shelf];
  return <BackToList href={href} label={label} />;
}
