import { defined } from '@under-lock/core/defined';
import { startWorld } from './world';

const port = (name: string, fallback: number): number => Number(process.env[name] ?? fallback);

const world = await startWorld({
  smtpPort: port('OUTSIDE_SMTP_PORT', 8425),
  httpPort: port('OUTSIDE_HTTP_PORT', 8421),
  ...defined({ officeDomain: process.env.UNDERLOCK_MAIL_DOMAIN }),
  officeDoor: { host: '127.0.0.1', port: port('UNDERLOCK_MAIL_PORT', 8426) },
  ...defined({ dir: process.env.OUTSIDE_DIR }),
});
process.stdout.write(`outside world: mail on ${world.smtpPort}, phones and mailboxes on ${world.httpPort}\n`);
const stop = (): void => void world.stop().then(() => process.exit(0));
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
// Before somebody asks: whoever waits for them to be made takes the authority for gone.
if (process.env.OUTSIDE_DIR !== undefined) await Promise.all([world.authorities(), world.keyring()]);
