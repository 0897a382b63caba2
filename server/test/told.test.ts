/**
 * People of the office are told by mail that something is held for them: only who has not been here since, once, and
 * nothing about it.
 */
import { getSession, setToldByMail } from '@under-lock/contract/account';
import PostalMime from 'postal-mime';
import { tellWaiting } from '../src/received/tell';
import { type Bytes, utf8 } from '@under-lock/core/bytes';
import { keepIncoming, mailboxAt } from '../src/incoming/incoming';
import { codeOf, giveKeyPair, type House, type KeyPair, openHouse, sendToColleague, type Worker } from './house';

const MINUTE = 60_000;
let house: House;
let maren: Worker;
let tobias: Worker;
let key: KeyPair;
beforeAll(async () => {
  house = await openHouse();
  [maren, tobias] = [await house.worker('maren.oduya'), await house.worker('tobias.quill')];
  key = await giveKeyPair(tobias);
});
beforeEach(() => {
  house.clock.real = false;
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
});
afterAll(() => house.stop());

const later = (minutes: number): void =>
  void (house.clock.now = new Date(house.clock.now.getTime() + minutes * MINUTE));
const tellNow = (): Promise<void> => tellWaiting(house.server.context);
const toTobias = () => house.world.store.mails.filter(({ mailbox }) => mailbox === tobias.account.address);
const comesBack = (): Promise<unknown> => tobias.client(getSession);

const sendToTobias = () =>
  sendToColleague(maren, tobias, key, { closesAt: new Date(house.clock.now.getTime() + 10 * 24 * 60 * MINUTE) });

test('who has not been here since is told once, how many and nothing else, until they have been here again', async () => {
  later(30);
  await sendToTobias();
  await tellNow();
  expect(toTobias()).toHaveLength(0);
  later(1);
  await sendToTobias();
  later(5);
  await tellNow();
  await tellNow();
  expect(toTobias()).toHaveLength(1);
  const mail = await PostalMime.parse(Buffer.from(toTobias()[0]!.raw, 'base64'));
  expect(mail.subject).toBe('Something is held for you at Larkmoor Ferries');
  expect(mail.text).toMatch(/2 messages are held for you/);
  expect(mail.text).toContain(`${house.origin}/mail/received`);
  expect(JSON.stringify(mail)).not.toMatch(/[Ff]itness|eyesight|maren|Maren|CR-2611/);
  // Nor again for the same, nor while they have not been here, and have just been told.
  later(60);
  await tellNow();
  expect(toTobias()).toHaveLength(1);
  await comesBack();
  later(5);
  await sendToTobias();
  later(5);
  await tellNow();
  expect(toTobias()).toHaveLength(2);
});

test('who is at work is not told, nor who does not want it', async () => {
  const before = toTobias().length;
  later(30);
  await sendToTobias();
  later(2);
  await comesBack();
  later(5);
  await tellNow();
  await tobias.client(setToldByMail, { body: { byMail: false } });
  expect((await tobias.client(getSession)).session!.toldByMail).toBe(false);
  later(30);
  await sendToTobias();
  later(5);
  await tellNow();
  expect(toTobias()).toHaveLength(before);
  await tobias.client(setToldByMail, { body: { byMail: true } });
});

test('when the mail host can’t take it, it is tried again', async () => {
  const before = toTobias().length;
  later(30);
  await sendToTobias();
  later(5);
  house.world.behaviour.current = { mail: 'down', phone: 'deliver' };
  await tellNow();
  expect(toTobias()).toHaveLength(before);
  house.world.behaviour.current = { mail: 'deliver', phone: 'deliver' };
  await tellNow();
  expect(toTobias()).toHaveLength(before + 1);
});

describe('at another address', () => {
  const ELSEWHERE = 'tobias.at.home@postbox.example';
  const there = () => house.world.store.mails.filter(({ mailbox }) => mailbox === ELSEWHERE);
  const mail = (text: string): Bytes =>
    utf8(`From: <pell@postbox.example>\r\nTo: <${tobias.account.address}>\r\nSubject: Private\r\n\r\n${text}`);
  const comesIn = async (text: string): Promise<void> => {
    const mailbox = await mailboxAt(house.server.context, tobias.account.address);
    await keepIncoming(house.server.context, mailbox!.account, mail(text), { from: 'pell@postbox.example' });
  };

  test('they are told of ordinary mail, too, and of nothing about it', async () => {
    await comesBack();
    later(30);
    await comesIn('Before');
    later(5);
    await tellNow();
    expect(there()).toEqual([]);
    await tobias.client(setToldByMail, { body: { byMail: true, address: ELSEWHERE } });
    expect((await tobias.client(getSession)).session!.toldAddress).toBe(ELSEWHERE);
    later(30);
    await comesIn('The letter');
    later(5);
    const before = toTobias().length;
    await tellNow();
    await tellNow();
    expect(there()).toHaveLength(1);
    expect(toTobias()).toHaveLength(before);
    const raw = Buffer.from(there()[0]!.raw, 'base64').toString();
    expect(raw).not.toMatch(/Private|letter|pell/);
  });

  test('not at one whose mail comes in here: each mail would bring the next one', async () => {
    for (const address of [tobias.account.address, 'anything@larkmoor.example'])
      expect(await codeOf(tobias.client(setToldByMail, { body: { byMail: true, address } }))).toBe('invalid-input');
    await tobias.client(setToldByMail, { body: { byMail: true } });
    expect((await tobias.client(getSession)).session!.toldAddress).toBeUndefined();
  });
});
