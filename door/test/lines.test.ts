/** What stands on the door's lines, octet by octet: what it offers, and what it makes of those who try more. */
import { builtLimit } from '@under-lock/core/message/built-size';
import { listHanded } from '@under-lock/contract/submission';
import { connect as connectTcp, type Socket } from 'node:net';
import { connect as connectTls } from 'node:tls';
import { readFileSync } from 'node:fs';
import { eventually } from '../../server/test/house';
import { type Correspondent, correspondent, type DoorHouse, openDoorHouse } from './mail-programs';

const MAREN = 'maren.oduya@larkmoor.example';
let house: DoorHouse;
let maren: Correspondent;
beforeAll(async () => {
  house = await openDoorHouse();
  maren = await correspondent(house, 'maren.oduya');
}, 120_000);
afterAll(() => house.stop());

/** One line to the door, spoken by hand. */
class Line {
  private heard = '';

  constructor(readonly socket: Socket) {
    socket.setEncoding('latin1');
    socket.on('data', (text: string) => (this.heard += text));
    socket.on('error', () => undefined);
  }

  say(text: string): void {
    this.socket.write(text, 'latin1');
  }

  /** The next whole answer, without its line ends. */
  async answer(): Promise<string> {
    const whole = await eventually(() => /^(?:\d{3}-[^\r\n]*\r\n)*\d{3} [^\r\n]*\r\n/.exec(this.heard)?.[0]);
    this.heard = this.heard.slice(whole.length);
    return whole.trimEnd();
  }

  async ask(text: string): Promise<string> {
    this.say(`${text}\r\n`);
    return this.answer();
  }

  /** What was said and not asked for. */
  async rest(): Promise<string> {
    await new Promise((done) => setTimeout(done, 300));
    return this.heard;
  }

  end(): void {
    this.socket.destroy();
  }
}

async function readable(): Promise<Line> {
  const line = new Line(connectTcp(house.door.startTls, '127.0.0.1'));
  expect(await line.answer()).toMatch(/^220 /);
  return line;
}

async function secure(): Promise<Line> {
  const line = new Line(
    connectTls({ port: house.door.tls, host: '127.0.0.1', servername: 'localhost', ca: readFileSync(house.ca) }),
  );
  expect(await line.answer()).toMatch(/^220 /);
  return line;
}

const authAs = (password: string): string => `AUTH PLAIN ${Buffer.from(`\0${MAREN}\0${password}`).toString('base64')}`;

async function signedIn({ account, password }: Correspondent = maren): Promise<Line> {
  const line = await secure();
  await line.ask('EHLO here');
  const said = Buffer.from(`\0${account.address}\0${password}`).toString('base64');
  expect(await line.ask(`AUTH PLAIN ${said}`)).toMatch(/^235 /);
  return line;
}

async function inData(line: Line): Promise<void> {
  expect(await line.ask(`MAIL FROM:<${MAREN}>`)).toMatch(/^250 /);
  expect(await line.ask('RCPT TO:<pell@postbox.example>')).toMatch(/^250 /);
  expect(await line.ask('DATA')).toMatch(/^354 /);
}

const head = (subject: string): string => `From: ${MAREN}\r\nTo: pell@postbox.example\r\nSubject: ${subject}\r\n\r\n`;
const countHanded = async (): Promise<number> => {
  await house.door.idle();
  return (await maren.client(listHanded)).mails.length;
};

test('what it says it can, it can; what it can’t, it does not say', async () => {
  const line = await secure();
  const offered = (await line.ask('EHLO here'))
    .split('\r\n')
    .slice(1)
    .map((one) => one.slice(4))
    .sort();
  const size = builtLimit(house.server.context.config.office.limits.maxBytes);
  expect(offered).toEqual(['8BITMIME', 'AUTH PLAIN LOGIN', 'PIPELINING', `SIZE ${size}`, 'SMTPUTF8']);
  expect(await line.ask('BDAT 5 LAST')).toMatch(/^50\d /);
  line.end();
  const other = await signedIn();
  expect(await other.ask(`MAIL FROM:<${MAREN}> SIZE=${size + 1}`)).toMatch(/^552 /);
  other.end();
});

test('what was put behind STARTTLS before the line was under it is never heard', async () => {
  const line = await readable();
  await line.ask('EHLO here');
  line.say(`STARTTLS\r\nNOOP\r\nMAIL FROM:<${MAREN}>\r\n`);
  expect(await line.answer()).toMatch(/^220 /);
  line.socket.removeAllListeners('data');
  const under = new Line(connectTls({ socket: line.socket, servername: 'localhost', ca: readFileSync(house.ca) }));
  expect(await under.ask('EHLO here')).toMatch(/^250-/);
  expect(await under.rest()).toBe('');
  under.end();
});

test.each([
  ['\\n.\\r\\n', '\n.\r\n'],
  ['\\r\\n.\\n', '\r\n.\n'],
  ['\\n.\\n', '\n.\n'],
  ['\\r.\\r', '\r.\r'],
  ['\\r\\n.\\r', '\r\n.\r'],
  ['\\0.\\r\\n', '\0.\r\n'],
])('%s ends no mail: nothing is smuggled behind it', async (name, end) => {
  const before = await countHanded();
  const line = await signedIn();
  await inData(line);
  line.say(
    `${head(`Smuggled ${name}`)}One${end}MAIL FROM:<${MAREN}>\r\nRCPT TO:<wren@postbox.example>\r\nDATA\r\n${head('Two')}Two\r\n.\r\n`,
  );
  expect(await line.answer()).toMatch(/^(250|5\d\d) /);
  expect(await line.rest()).toBe('');
  expect((await countHanded()) - before).toBeLessThanOrEqual(1);
  line.end();
});

test.each([
  ['with a NUL', `<${MAREN}\0>`],
  ['with a bare CR', `<${MAREN}>\rRCPT TO:<wren@postbox.example>`],
  ['with a bare LF', `<${MAREN}\nBcc: wren@postbox.example>`],
  ['as nobody', '<>'],
  ['with parameters', `<${MAREN}> AUTH=<> BODY=9BIT`],
  ['in 5,000 letters', `<${'a'.repeat(5_000)}@larkmoor.example>`],
  ['with a route', `<@relay.example:${MAREN}>`],
])('a sender %s is taken as no more than it is', async (_, spelled) => {
  const line = await signedIn();
  line.say(`MAIL FROM:${spelled}\r\n`);
  const answer = await line.answer();
  expect(answer).toMatch(/^(5\d\d|250) /);
  expect(await line.ask('NOOP')).toMatch(/^(250|5\d\d) /);
  line.end();
});

test('recipients with signs of other lines in them are refused, one by one', async () => {
  const line = await signedIn();
  await line.ask(`MAIL FROM:<${MAREN}>`);
  for (const spelled of [
    '<pell@postbox.example\0>',
    '<"a\rb"@postbox.example>',
    '<pell>',
    '<@postbox.example>',
    '<a b@postbox.example>',
  ])
    expect(await line.ask(`RCPT TO:${spelled}`)).toMatch(/^5\d\d /);
  expect(await line.ask('DATA')).toMatch(/^503 /);
  line.end();
});

test('who says nothing keeps nobody from sending; beyond so many of one place the door says so', async () => {
  const idle = await Promise.all(Array.from({ length: 49 }, readable));
  const before = await countHanded();
  const line = await signedIn();
  await inData(line);
  line.say(`${head('Among idle ones')}Text.\r\n.\r\n`);
  expect(await line.answer()).toMatch(/^250 /);
  expect(await countHanded()).toBe(before + 1);
  // Whoever has signed in counts no longer.
  const [last, oneMore] = [await readable(), new Line(connectTcp(house.door.startTls, '127.0.0.1'))];
  expect(await oneMore.answer()).toMatch(/^421 4\.7\.0 Too many connections from your place/);
  for (const one of [...idle, line, last, oneMore]) one.end();
});

test('who sends a letter at a time keeps nobody from sending, and is heard to the end', async () => {
  const slow = await Promise.all(Array.from({ length: 10 }, () => signedIn()));
  await Promise.all(slow.map(inData));
  for (const [index, line] of slow.entries()) line.say(head(`Slowly ${index}`));
  const before = await countHanded();
  const line = await signedIn();
  await inData(line);
  line.say(`${head('Beside slow ones')}Text.\r\n.\r\n`);
  for (const letter of 'Text.\r\n.\r\n') {
    for (const one of slow) one.say(letter);
    await new Promise((done) => setTimeout(done, 20));
  }
  for (const one of [line, ...slow]) expect(await one.answer()).toMatch(/^250 /);
  expect(await countHanded()).toBe(before + 11);
  for (const one of [line, ...slow]) one.end();
});

test('one person has so many connections, and is told so', async () => {
  const lines = await Promise.all(Array.from({ length: 20 }, () => signedIn()));
  const line = await secure();
  await line.ask('EHLO here');
  expect(await line.ask(authAs(maren.password))).toMatch(/^454 4\.7\.0 Too many connections of yours/);
  for (const one of [...lines, line]) one.end();
});

test('wrong passwords are slowed down, and keep nobody with the right one from sending', async () => {
  const answers: string[] = [];
  for (let round = 0; round < 5; round++) {
    const line = await secure();
    await line.ask('EHLO here');
    for (let count = 0; count < 3; count++) answers.push(await line.ask(authAs('wrong')));
    line.end();
  }
  expect(answers[0]).toMatch(/^535 5\.7\.8 /);
  expect(answers.at(-1)).toMatch(/^454 4\.7\.0 Too many wrong passwords/);
  (await signedIn()).end();
});
