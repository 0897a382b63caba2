/** Where mail comes from, judged as it comes in, by threads of the mail door's own: they wait for other people's DNS. */
import { type Origin } from '@under-lock/core/incoming/origin';
import { type Bytes } from '@under-lock/core/bytes';
import { type SMTPServerSession } from 'smtp-server';
import { type Context } from '../context';
import { publishedKeys } from '../mail/dkim';
import { startThreads, ThreadError, type Threads } from '../thread/pool';

const AT_ONCE = 4;

export const originThreads = ({ config }: Context): Threads => startThreads({ file: config.threadFile, size: AT_ONCE });

/** Undefined for what can't be judged in the time there is, or is no mail. */
export async function judgedOrigin(
  context: Context,
  threads: Threads,
  raw: Bytes,
  { remoteAddress, hostNameAppearsAs, envelope }: SMTPServerSession,
): Promise<Origin | undefined> {
  const { config, log } = context;
  try {
    return await threads.run('judgeOrigin', {
      raw,
      ip: remoteAddress,
      helo: typeof hostNameAppearsAs === 'string' ? hostNameAppearsAs : '',
      from: envelope.mailFrom === false ? '' : envelope.mailFrom.address,
      host: config.office.mailDomain,
      dns: config.dns,
      own: Object.fromEntries(
        (await publishedKeys(context)).map(({ record: { name, value } }) => [name.toLowerCase(), value]),
      ),
    });
  } catch (error) {
    if (!(error instanceof ThreadError)) throw error;
    log.error('mail-origin', error);
    return undefined;
  }
}
