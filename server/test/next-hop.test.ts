/** How mail is handed to the office's relay: under TLS or not at all; tried again, and given up in the end. */
import { createSmtpDoor } from '../src/mail/smtp';
import { nextTry } from '../src/mail/retry';
import { readFileSync } from 'node:fs';
import { SMTPServer, type SMTPServerOptions } from 'smtp-server';
import { localCertificate } from '../../door/test/local-certificate';

const taken: string[] = [];
const servers: SMTPServer[] = [];
afterAll(() => Promise.all(servers.map((server) => new Promise<void>((done) => server.close(done)))));

/** A relay that takes everything. Resolves with its port. */
function relay(options: SMTPServerOptions): Promise<number> {
  const server = new SMTPServer({
    authOptional: true,
    logger: false,
    disableReverseLookup: true,
    onData(stream, session, callback) {
      stream.resume().on('end', () => {
        taken.push(session.secure ? 'under TLS' : 'readable');
        callback();
      });
    },
    ...options,
  });
  server.on('error', () => undefined);
  servers.push(server);
  return new Promise((resolve) => {
    const listener = server.listen(0, '127.0.0.1', () => resolve((listener.address() as { port: number }).port));
  });
}

const raw = Buffer.from('From: a@larkmoor.example\r\nSubject: Tides\r\n\r\nHigh.\r\n');

async function sent(port: number, asked: { tlsRequired: boolean; ca?: string; scheme?: string; host?: string }) {
  const { tlsRequired, ca, scheme = 'smtp', host = 'localhost' } = asked;
  const door = createSmtpDoor({ url: `${scheme}://${host}:${port}`, tlsRequired, ca }, async () => undefined);
  taken.length = 0;
  const { outcome, answer } = await door.send({ from: 'a@larkmoor.example', to: 'b@postbox.example' }, raw);
  door.close();
  return { outcome, answer, taken: [...taken] };
}

const known = localCertificate();
const other = localCertificate();
const pem = ({ cert, key }: typeof known): Pick<SMTPServerOptions, 'cert' | 'key'> => ({
  cert: readFileSync(cert),
  key: readFileSync(key),
});

test('with STARTTLS or from the beginning, under a certificate that is right, it goes', async () => {
  const [starts, begins] = [await relay(pem(known)), await relay({ ...pem(known), secure: true })];
  expect(await sent(starts, { tlsRequired: true, ca: known.cert })).toMatchObject({
    outcome: 'accepted',
    taken: ['under TLS'],
  });
  expect(await sent(begins, { tlsRequired: true, ca: known.cert, scheme: 'smtps' })).toMatchObject({
    outcome: 'accepted',
    taken: ['under TLS'],
  });
});

test('where TLS is asked for and not offered, nothing is handed over, and it waits', async () => {
  const port = await relay({ disabledCommands: ['STARTTLS', 'AUTH'] });
  const { answer, ...rest } = await sent(port, { tlsRequired: true });
  expect(rest).toEqual({ outcome: 'later', taken: [] });
  expect(answer).toMatch(/^No TLS with the next mail host/);
  expect(await sent(port, { tlsRequired: false })).toMatchObject({ outcome: 'accepted', taken: ['readable'] });
});

test.each([
  ['of nobody that is known', other, 'localhost'],
  ['for another name', known, '127.0.0.1'],
])('a certificate %s gets nothing, and it waits', async (_, shown, host) => {
  const port = await relay(pem(shown));
  expect(await sent(port, { tlsRequired: true, ca: known.cert, host })).toMatchObject({ outcome: 'later', taken: [] });
});

test('it is tried again soon at first, then every half hour, and given up after four days', () => {
  const since = new Date('2026-11-25T10:00:00Z');
  const after = (hours: number): Date => new Date(since.getTime() + hours * 3_600_000);
  expect([1, 2, 3, 9].map((attempts) => nextTry({ attempts, since }, since))).toEqual([3, 6, 12, 768]);
  expect(nextTry({ attempts: 500, since }, after(95))).toBe(1800);
  expect(nextTry({ attempts: 500, since }, after(97))).toBeUndefined();
});
