/** Mail of the office itself, beside notices and copies. */
import { type Correspondent } from '@under-lock/core/people/address';
import { type Context } from '../context';
import { type SmtpOutcome } from './smtp';

export const readingRoom = ({ config: { office } }: Pick<Context, 'config'>): Correspondent => ({
  name: office.name,
  address: `reading-room@${office.mailDomain}`,
});

/** What comes back of it names nothing that is kept: nobody waits for a delivery report. */
export const sendUnfollowed = (
  { config: { office }, mail }: Pick<Context, 'config' | 'mail'>,
  to: string,
  raw: Uint8Array,
): Promise<SmtpOutcome> => mail.send({ from: `bounce@${office.mailDomain}`, to }, raw);
