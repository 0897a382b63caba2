/** Mail of the office itself, beside notices and copies. */
import { type Correspondent, readingRoomAddress } from '@under-lock/core/people/address';
import { randomUUID } from 'node:crypto';
import { type Context } from '../context';
import { type SmtpOutcome } from './smtp';

export const readingRoom = ({ config: { office } }: Pick<Context, 'config'>): Correspondent => ({
  name: office.name,
  address: readingRoomAddress(office.mailDomain),
});

/**
 * What each such mail has besides what it says.
 * @param what Before the @ of its Message-ID: of its own, where the same mail must not be taken for another one.
 */
export const officeMail = (
  context: Pick<Context, 'config' | 'clock'>,
  { name, address }: Correspondent,
  what: string = randomUUID(),
) => ({
  messageId: `${what}@${context.config.office.mailDomain}`,
  date: context.clock(),
  officeName: context.config.office.name,
  from: readingRoom(context),
  to: { name, address },
  language: 'en',
});

/** What comes back of it names nothing that is kept: nobody waits for a delivery report. */
export const sendUnfollowed = (
  { config: { office }, mail }: Pick<Context, 'config' | 'mail'>,
  to: string,
  raw: Uint8Array,
): Promise<SmtpOutcome> => mail.send({ from: `bounce@${office.mailDomain}`, to }, raw);
