import { type Room } from '@under-lock/contract/room';
import { momentInWords } from '@under-lock/core/when';
import { Outcome } from '@under-lock/ui';
import { language, words } from './words/words';
import { zone } from './zone';

/** What is left of an access: when it ended, by whom, and whom to ask. */
export function Ended({ room, now }: { room: Exclude<Room, { state: 'held' }>; now: Date }) {
  const date = momentInWords(room.endedAt, now, zone, language);
  const withdrawn = room.state === 'withdrawn';
  return (
    <Outcome title={withdrawn ? words.withdrawnTitle : words.closedTitle} form="○">
      {`${withdrawn ? words.withdrawn(room.senderName, date) : words.closed(room.senderName, date)} ${words.senderReach(room.senderAddress)}`}
    </Outcome>
  );
}
