/** Ordinary mail programs hand mail in: it leaves under lock in its writer's name, or it waits for them. */
import { endDevice, listDevices, listHanded } from '@under-lock/contract/submission';
import { listSent } from '@under-lock/contract/outgoing';
import { fetchBlob } from '@under-lock/contract/transfer';
import { openForOwner } from '@under-lock/core/submission/owner';
import { openHanded, openHandedLabel } from '@under-lock/core/submission/handed';
import { eventually, giveKeyPair, receivedOf, type Worker } from '../../server/test/house';
import PostalMime from 'postal-mime';
import { type Correspondent, correspondent, type DoorHouse, openDoorHouse, python, whysOf } from './mail-programs';

let house: DoorHouse;
let maren: Correspondent;
let tobias: Worker;
beforeAll(async () => {
  house = await openDoorHouse();
  maren = await correspondent(house, 'maren.oduya');
  tobias = await house.worker('tobias.quill');
  await giveKeyPair(tobias);
}, 120_000);
afterAll(() => house.stop());

const MAREN = 'maren.oduya@larkmoor.example';
const signedIn = (): string[] => [
  "s.ehlo('here'); s.starttls(context=c); s.ehlo('here')",
  `s.login('${MAREN}', '${maren.password}')`,
];
const mail = (to: string, subject: string, body = 'The rota as agreed.'): string =>
  JSON.stringify(
    `From: Maren Oduya <${MAREN}>\r\nTo: ${to}\r\nSubject: ${subject}\r\nMessage-ID: <${subject.replace(/\W/g, '')}@larkmoor.example>\r\n\r\n${body}\r\n`,
  );
const handIn = (to: string, subject: string): Promise<{ code: number; out: string }> =>
  python(house, [...signedIn(), `s.sendmail('${MAREN}', ['${to}'], ${mail(to, subject)})`]);

test('a mail to a colleague leaves under lock, and lies in their Received', async () => {
  const { code, out } = await handIn('tobias.quill@larkmoor.example', 'Winter rota');
  expect([code, out.trim()]).toEqual([0, '']);
  await house.door.idle();
  const [sent] = (await maren.client(listSent)).messages;
  expect(sent).toMatchObject({ byProgram: 'Desk at home', grants: [{ address: 'tobias.quill@larkmoor.example' }] });
  expect(await openForOwner(maren.key.privateKey, 'sent', sent!.id, sent!.summary)).toMatchObject({
    subject: 'Winter rota',
  });
  expect((await receivedOf(tobias)).held).toHaveLength(1);
  expect((await maren.client(listHanded)).mails).toEqual([]);
});

test('what is missing is told its writer by mail and waits sealed; nobody has got it', async () => {
  expect(await handIn('pell.anders@postbox.example', 'Fitness papers')).toMatchObject({ code: 0 });
  await house.door.idle();
  const { mails } = await maren.client(listHanded);
  expect(mails).toHaveLength(1);
  const [{ id, label, why, blobId, by }] = mails as [(typeof mails)[number]];
  expect(by).toBe('Desk at home');
  expect(await openForOwner(maren.key.privateKey, 'waits', id, why!)).toEqual({
    subject: 'Fitness papers',
    sentences: ['pell.anders@postbox.example: phone number for the passcode missing'],
  });
  const opened = await openHandedLabel(maren.key.privateKey, 'account', id, label);
  expect(opened.to).toEqual(['pell.anders@postbox.example']);
  expect(Buffer.from(await openHanded(await fetchBlob(maren.client, blobId), opened)).toString()).toContain(
    'Subject: Fitness papers',
  );
  const told = await eventually(() => house.world.store.mails.find(({ mailbox }) => mailbox === MAREN));
  const { text } = await PostalMime.parse(Buffer.from(told.raw, 'base64'));
  expect(text).toContain(`/write/handed/${id}`);
  expect(text).toContain('pell.anders@postbox.example: phone number for the passcode missing');
  expect(house.world.store.mails.filter(({ mailbox }) => mailbox === 'pell.anders@postbox.example')).toEqual([]);
});

test('the same octets once more are the same mail, and so are those with a relay’s own line before them', async () => {
  expect(await handIn('pell.anders@postbox.example', 'Fitness papers')).toMatchObject({ code: 0 });
  const blobs = (): Promise<number> =>
    house.server.context.db
      .query('SELECT 1 FROM blobs WHERE account_id = $1', { bind: [maren.account.id] })
      .then(([rows]) => rows.length);
  const before = await blobs();
  const again = mail('pell.anders@postbox.example', 'Fitness papers').replace('"', '"Received: by desk; 1\\r\\n');
  const { code } = await python(house, [
    ...signedIn(),
    `s.sendmail('${MAREN}', ['pell.anders@postbox.example'], ${again})`,
  ]);
  expect(code).toBe(0);
  await house.door.idle();
  expect((await maren.client(listHanded)).mails).toHaveLength(1);
  // What it was sealed to this time lies nowhere.
  expect(await blobs()).toBe(before);
});

test('on a readable line nobody is asked to sign in, and nobody can', async () => {
  const readable = await python(house, [
    "s.ehlo('here'); print(sorted(s.esmtp_features))",
    "print(s.docmd('AUTH', 'PLAIN AGEAYg=='))",
    `print(s.mail('${MAREN}'))`,
  ]);
  const [features, auth, from] = readable.out.trim().split('\n');
  expect(features).toContain('starttls');
  expect(features).not.toContain('auth');
  expect(auth).toMatch(/^\(5/);
  expect(from).toMatch(/^\(530/);
  const secure = await python(house, [
    "s.ehlo('here'); s.starttls(context=c); s.ehlo('here'); print(s.esmtp_features['auth'])",
  ]);
  expect(secure.out.trim()).toBe('PLAIN LOGIN');
  const fromTheBeginning = await python(house, ["s.ehlo('here'); print(s.esmtp_features['auth'])"], { tls: true });
  expect(fromTheBeginning.out.trim()).toBe('PLAIN LOGIN');
});

test('a wrong password, an address of somebody else’s and a From of somebody else’s are refused in a sentence', async () => {
  const wrong = await python(house, [
    "s.ehlo('here'); s.starttls(context=c); s.ehlo('here')",
    `s.login('${MAREN}', 'aaaaa-bbbbb-ccccc-ddddd')`,
  ]);
  expect(wrong.out).toContain('The address or the password of this mail program is wrong');
  const sender = await python(house, [...signedIn(), "print(s.mail('ines.varga@larkmoor.example'))"]);
  expect(sender.out).toContain('ines.varga@larkmoor.example is not your address');
  const from = await python(house, [
    ...signedIn(),
    `s.sendmail('${MAREN}', ['tobias.quill@larkmoor.example'], 'From: ines.varga@larkmoor.example\\r\\nTo: tobias.quill@larkmoor.example\\r\\n\\r\\nx\\r\\n')`,
  ]);
  expect(from.out).toContain('The address it is from is not yours');
});

test('a device that has ended lets nothing through any more, also on a line that is open', async () => {
  const other = await correspondent(house, 'ines.varga');
  const script = [
    "s.ehlo('here'); s.starttls(context=c); s.ehlo('here')",
    `s.login('ines.varga@larkmoor.example', '${other.password}')`,
    'sys.stdout.write("in\\n"); sys.stdout.flush()',
    'import time; time.sleep(3)',
    "print(s.mail('ines.varga@larkmoor.example'))",
  ];
  const running = python(house, script);
  await eventually(async () =>
    (await other.client(listDevices)).devices[0]?.lastUsedAt === undefined ? undefined : true,
  );
  await other.client(endDevice, { params: { id: other.deviceId } });
  expect((await running).out).toContain('This mail program has been ended');
});

test('files of as many octets as the office takes go through; more waits, and far more is refused at once', async () => {
  const size = house.server.context.config.office.limits.maxBytes;
  // Put together by hand: what the library for mail builds of as many octets takes longer than the door.
  const send = (octets: number): ReturnType<typeof python> =>
    python(house, [
      'from base64 import encodebytes',
      `head = b'From: ${MAREN}\\nTo: tobias.quill@larkmoor.example\\nSubject: Of ${octets}\\nMIME-Version: 1.0\\n'`,
      "parted = b'Content-Type: multipart/mixed; boundary=here\\n\\n--here\\n\\nSee the file.\\n--here\\n'",
      "file = b'Content-Type: application/octet-stream\\nContent-Disposition: attachment; filename=plan.bin\\n'",
      `body = b'Content-Transfer-Encoding: base64\\n\\n' + encodebytes(bytes(${octets})) + b'--here--\\n'`,
      ...signedIn(),
      `s.sendmail('${MAREN}', ['tobias.quill@larkmoor.example'], (head + parted + file + body).replace(b'\\n', b'\\r\\n'))`,
    ]);
  const before = (await maren.client(listSent)).messages.length;
  expect((await send(size)).code).toBe(0);
  await house.door.idle();
  expect((await maren.client(listSent)).messages).toHaveLength(before + 1);
  expect((await send(size + 1_000_000)).code).toBe(0);
  await house.door.idle();
  const whys = await whysOf(maren);
  expect(whys.find(({ subject }) => subject === `Of ${size + 1_000_000}`)?.sentences).toEqual([
    'files of 25 MB at most, these are 26 MB',
  ]);
  expect((await send(2 * size)).out).toMatch(/552|exceeds|[Ll]arger than/);
}, 120_000);

test('a door that was stopped goes on with what it had taken', async () => {
  const real = house.server.context.config.submissionToken;
  expect(real).toBeDefined();
  await handIn('tobias.quill@larkmoor.example', 'Before the stop');
  await house.closeDoor();
  await house.reopenDoor();
  await house.door.idle();
  const subjects = await Promise.all(
    (await maren.client(listSent)).messages.map(
      async ({ id, summary }) => (await openForOwner(maren.key.privateKey, 'sent', id, summary)) as { subject: string },
    ),
  );
  expect(subjects.filter(({ subject }) => subject === 'Before the stop')).toHaveLength(1);
});

test('the door says nothing of what it takes', () => {
  for (const line of house.said) expect(line).not.toMatch(/rota|papers|oduya|anders|-[0-9a-z]{5}-/i);
});
