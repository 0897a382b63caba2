/** The door for mail programs before a house, and a mail program of somebody else's that hands in at it. */
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { doorKeys } from '../core/src/submission/keys';
import { randomBytes, toBase64Url } from '../core/src/bytes';
import { startDoorProcess } from '../door/test/door-process';
import { localCertificate } from '../door/test/local-certificate';
import { type House } from './house';

const root = join(import.meta.dirname, '..');

export interface Door {
  port: number;
  /** A PEM file by which its certificate is known. */
  ca: string;
  stop(): Promise<void>;
}

/** Starts the house's server anew, with the door before it. */
export async function openDoor(house: House): Promise<Door> {
  const secret = randomBytes(32);
  const { cert, key } = localCertificate();
  await house.killServer();
  await house.startServer({ UNDERLOCK_SUBMISSION_TOKEN: (await doorKeys(secret)).token });
  const { child, tls } = await startDoorProcess(root, {
    server: house.origin,
    secret: toBase64Url(secret),
    cert,
    key,
  });
  return {
    port: tls,
    ca: cert,
    stop: () =>
      new Promise((done) => {
        child.once('exit', () => done());
        child.kill('SIGTERM');
      }),
  };
}

/** What Python's smtplib is answered at its end; nothing when all went well. */
export function handIn(
  { port, ca }: Door,
  { address, password, to, subject, text }: Record<'address' | 'password' | 'to' | 'subject' | 'text', string>,
): string {
  const script = `import smtplib, ssl, sys
from email.message import EmailMessage
m = EmailMessage()
m['From'], m['To'], m['Subject'] = sys.argv[3], sys.argv[5], sys.argv[6]
m.set_content(sys.argv[7])
m.add_attachment('Tide table, third quarter.', filename='tides.txt')
s = smtplib.SMTP_SSL('localhost', int(sys.argv[1]), context=ssl.create_default_context(cafile=sys.argv[2]))
try:
    s.login(sys.argv[3], sys.argv[4]); s.send_message(m)
except smtplib.SMTPException as e:
    print(e)`;
  return execFileSync('python3', ['-c', script, String(port), ca, address, password, to, subject, text], {
    encoding: 'utf8',
  }).trim();
}
