/** Whether the sender's domain says that it sent a mail, asked of a real resolver and told sealed, beside the sender. */
import { openIncomingKey, openIncomingSummary } from '@under-lock/core/incoming/incoming';
import { type Origin, originSentence } from '@under-lock/core/incoming/origin';
import { createSocket } from 'node:dgram';
import { createTransport } from 'nodemailer';
import { openMailDoor } from '../src/incoming/door';
import { ensureDkimKey, signingKey } from '../src/mail/dkim';
import { judgeOrigin } from '../src/thread/judge-origin';
import { giveKeyPair, type House, type KeyPair, openHouse, receivedOf, type Worker } from './house';

const CLINIC = 'records@harbourclinic.example';
let house: House;
let door: Awaited<ReturnType<typeof openMailDoor>>;
let maren: Worker;
let key: KeyPair;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
  key = await giveKeyPair(maren);
  door = await openMailDoor(house.server.context);
}, 60_000);
afterAll(async () => {
  await door.close();
  await house.stop();
});

interface Sent {
  from: string;
  envelope?: string;
  head?: string;
  /** By the mail host of which firm. */
  signedBy?: string;
  dkim?: object;
}

/** Hands it to the office's mail host as another host does; what its owner's browser then reads of it. */
async function originOf(sent: Sent): Promise<Origin | undefined> {
  const { from, envelope = from, head = `From: <${from}>`, signedBy } = sent;
  const dkim = signedBy === undefined ? sent.dkim : await house.world.signingKey(signedBy);
  const transport = createTransport({ host: '127.0.0.1', port: door.port, ignoreTLS: true });
  const raw = `${head}\r\nTo: <${maren.account.address}>\r\nSubject: x\r\nMessage-ID: <${crypto.randomUUID()}@x.example>\r\n\r\nText.\r\n`;
  await transport.sendMail({
    envelope: { from: envelope, to: [maren.account.address] },
    raw,
    ...(dkim === undefined ? {} : { dkim: dkim as never }),
  });
  transport.close();
  const [{ id, sealedKey, sealedSummary }] = (await receivedOf(maren)).mails as [
    Awaited<ReturnType<typeof receivedOf>>['mails'][number],
  ];
  return (await openIncomingSummary(sealedSummary, await openIncomingKey(key.privateKey, sealedKey, id), id)).origin;
}

test.each<[string, Sent, string]>([
  [
    'signed by the firm’s own host',
    { from: CLINIC, signedBy: 'harbourclinic.example' },
    'harbourclinic.example says that it sent this.',
  ],
  [
    'in its name, by anybody',
    { from: CLINIC },
    'The address says harbourclinic.example, the mail came from elsewhere. harbourclinic.example does not say that it sent this.',
  ],
  [
    'in its name, signed by another firm',
    { from: CLINIC, envelope: 'x@northquay.example', signedBy: 'northquay.example' },
    'The address says harbourclinic.example, the mail came from northquay.example. harbourclinic.example does not say that it sent this.',
  ],
  [
    'of a firm that says nothing',
    { from: 'office@saltmarsh.example' },
    'Nobody vouches for this address: saltmarsh.example does not say which mail is its own.',
  ],
  [
    'of two senders',
    {
      from: CLINIC,
      head: `From: <${CLINIC}>\r\nFrom: <x@postbox.example>`,
      signedBy: 'harbourclinic.example',
    },
    'The address says harbourclinic.example, the mail came from elsewhere. harbourclinic.example does not say that it sent this.',
  ],
])('%s', async (_, sent, sentence) => expect(originSentence((await originOf(sent))!)).toBe(sentence));

test('our own mail is known by our own key, without asking anybody', async () => {
  await ensureDkimKey(house.server.context);
  const own = await signingKey(house.server.context);
  expect(await originOf({ from: 'reading-room@larkmoor.example', dkim: own! })).toMatchObject({ is: 'vouched' });
  expect(await originOf({ from: 'reading-room@larkmoor.example' })).toMatchObject({ is: 'contradicted' });
});

describe('a DNS that is no help', () => {
  const raw = Buffer.from(
    `From: <x@slow.example>\r\n${'DKIM-Signature: v=1; a=rsa-sha256; d=slow.example; s=a; h=From; bh=YQ==; b=YQ==\r\n'.repeat(200)}\r\nText.`,
  );
  const asked = { raw, ip: '127.0.0.1', helo: 'x', from: 'x@slow.example', host: 'larkmoor.example', own: {} };

  test('one that never answers is not waited for, and is not asked for each of two hundred signatures', async () => {
    const silent = createSocket('udp4');
    let questions = 0;
    silent.on('message', () => (questions += 1));
    await new Promise<void>((done) => silent.bind(0, '127.0.0.1', done));
    const origin = await judgeOrigin({ ...asked, dns: `127.0.0.1:${silent.address().port}` });
    expect(origin.is).toBe('unasked');
    expect(questions).toBeLessThan(60);
    silent.close();
  }, 60_000);

  test('one that answers with noise is as good as none', async () => {
    const noisy = createSocket('udp4');
    noisy.on('message', (_, { port, address }) => noisy.send(Buffer.from('noise'), port, address));
    await new Promise<void>((done) => noisy.bind(0, '127.0.0.1', done));
    expect((await judgeOrigin({ ...asked, dns: `127.0.0.1:${noisy.address().port}` })).is).not.toBe('vouched');
    noisy.close();
  }, 60_000);
});
