/** Mail › Waiting: what waits to be released, and what was sent back. */
import { WaitingLines } from '../release/WaitingLines';
import { MailList } from './MailList';

export const WaitingList = () => (
  <MailList here="waiting">
    <WaitingLines />
  </MailList>
);
