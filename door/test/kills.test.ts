/**
 * Door, server and a relay before them are killed in turn while mail goes through: none of it is lost, and none of it is
 * there twice. Each has been sent, or waits for its writer.
 */
import { listSent } from '@under-lock/contract/outgoing';
import { addDevice, listHanded } from '@under-lock/contract/submission';
import { randomBytes, toBase64Url } from '@under-lock/core/bytes';
import { doorKeys } from '@under-lock/core/submission/keys';
import { openForOwner } from '@under-lock/core/submission/owner';
import { once } from 'node:events';
import { join } from 'node:path';
import { freePort } from '../../server/test/free-port';
import { eventually, giveKeyPair, type House, type KeyPair, openHouse, type Worker } from '../../server/test/house';
import { startProcess } from '../../server/test/server-process';
import { THOROUGH } from '../../core/test/thorough';
import { type DoorProcess, startDoorProcess } from './door-process';
import { localCertificate } from './local-certificate';
import { makeRule } from './mail-programs';
import { type Relay, startRelay } from './relay';

const MAREN = 'maren.oduya@larkmoor.example';
const MAILS = THOROUGH ? 500 : 40;
const KILLS = THOROUGH ? 100 : 6;
/** What becomes of a mail to each: it is sent under lock, it waits, it leaves open. */
const PEOPLE = ['tobias.quill@larkmoor.example', 'pell@postbox.example', 'reader@openharbour.example'] as const;

let house: House;
let maren: Worker;
let key: KeyPair;
const secret = randomBytes(32);
const { cert, key: certificateKey } = localCertificate();

beforeAll(async () => {
  const { token } = await doorKeys(secret);
  house = await openHouse({ UNDERLOCK_SUBMISSION_TOKEN: token });
  maren = await house.worker('maren.oduya');
  key = await giveKeyPair(maren);
  await giveKeyPair(await house.worker('tobias.quill'));
  await makeRule(
    await house.worker('ines.varga', 'administrator'),
    'Timetables',
    [{ kind: 'recipient-at', domains: ['openharbour.example'] }],
    [{ kind: 'programs-leave-open' }],
  );
}, 120_000);
afterAll(() => house.stop());

const subjectOf = async (id: string, context: 'sent' | 'waits', sealed: Uint8Array): Promise<string> =>
  ((await openForOwner(key.privateKey, context, id, sealed)) as { subject: string }).subject;

/** Every message of hers, whatever its page. */
async function listed(): Promise<{ id: string; summary?: Uint8Array }[]> {
  const all: { id: string; summary?: Uint8Array }[] = [];
  let before: string | undefined;
  do {
    const page = await maren.client(listSent, before === undefined ? {} : { query: { before } });
    all.push(...page.messages);
    before = page.next;
  } while (before !== undefined);
  return all;
}

const lying = async (): Promise<{ id: string; why?: Uint8Array | undefined }[]> =>
  (await maren.client(listHanded)).mails.filter(({ why }) => why !== undefined);

/** Whatever is done again and again until it is so leaves the machine to those it waits for. */
const untilSo = (isSo: () => boolean | Promise<boolean>): Promise<boolean> =>
  eventually(
    async () => {
      if (await isSo()) return true;
      await new Promise((done) => setTimeout(done, 500));
      return undefined;
    },
    THOROUGH ? 600 : 90,
  );

test(
  'nothing is lost and nothing is doubled',
  async () => {
    const { password } = await maren.client(addDevice, { body: { name: 'Desk at home' } });
    const port = await freePort();
    const { token } = await doorKeys(secret);
    const server = () => startProcess(house, port, { UNDERLOCK_SUBMISSION_TOKEN: token });
    const doorAt = (ports: { startTls?: number; tls?: number } = {}) =>
      startDoorProcess(join(__dirname, '../..'), {
        server: `http://127.0.0.1:${port}`,
        secret: toBase64Url(secret),
        cert,
        key: certificateKey,
        ...ports,
      });
    let serving = await server();
    let door: DoorProcess = await doorAt();
    const relay: Relay = startRelay({ door, ca: cert, address: MAREN, password });
    const killed = [
      async () => {
        door.child.kill('SIGKILL');
        await once(door.child, 'exit');
        door = await doorAt(door);
      },
      async () => {
        serving.kill('SIGKILL');
        await once(serving, 'exit');
        serving = await server();
      },
      async () => relay.kill(),
    ];
    const subjects = Array.from({ length: MAILS }, (_, index) => `Mail ${index}`);
    try {
      const given = (async () => {
        for (const [index, subject] of subjects.entries()) {
          const to = PEOPLE[index % PEOPLE.length]!;
          await relay.give(
            [to],
            `From: ${MAREN}\nTo: ${to}\nSubject: ${subject}\nMessage-ID: <${index}@desk.larkmoor.example>\nDate: Sun, 29 Nov 2026 09:00:00 +0000\n\nAs agreed.\n`,
          );
        }
      })();
      for (let kill = 0; kill < KILLS; kill++) {
        await new Promise((done) => setTimeout(done, 300));
        await killed[kill % killed.length]!();
      }
      await given;
      await untilSo(() => {
        if (relay.queued().length === 0) return true;
        relay.tryAgain();
        return false;
      });
      await untilSo(async () => (await listed()).length + (await lying()).length >= MAILS);
      const sent = await Promise.all((await listed()).map(({ id, summary }) => subjectOf(id, 'sent', summary!)));
      const held = await Promise.all((await lying()).map(({ id, why }) => subjectOf(id, 'waits', why!)));
      expect([...sent, ...held].sort()).toEqual([...subjects].sort());
      expect(held.sort()).toEqual(subjects.filter((_, index) => index % PEOPLE.length === 1).sort());
    } finally {
      relay.stop();
      door.child.kill('SIGKILL');
      serving.kill('SIGKILL');
    }
  },
  THOROUGH ? 3_000_000 : 240_000,
);
