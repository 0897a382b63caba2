import { type ReactNode } from 'react';
import { useReleases } from '../release/useReleases';
import { useReceivedList } from '../received/useReceived';
import { ShelfBar } from '../shell/ShelfBar';

export type Shelf = 'received' | 'sent' | 'drafts' | 'waiting';

/** The lists of Mail. */
export function Shelves({ here, aside }: { here: Shelf; aside?: ReactNode }) {
  const { data } = useReceivedList();
  const releases = useReleases().data;
  const waiting = (releases?.asked.length ?? 0) + (releases?.own.length ?? 0);
  return (
    <ShelfBar
      label="Mail"
      here={here}
      aside={aside}
      shelves={[
        { key: 'received', label: 'Received', href: '/mail/received', count: data?.[0]?.unread ?? 0 },
        { key: 'sent', label: 'Sent', href: '/mail' },
        { key: 'drafts', label: 'Drafts', href: '/mail/drafts' },
        ...(waiting > 0 || here === 'waiting'
          ? [{ key: 'waiting' as const, label: 'Waiting', href: '/mail/waiting', count: waiting }]
          : []),
      ]}
    />
  );
}
