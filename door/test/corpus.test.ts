/** Mail that other people collected goes through the door. */
import { listSent } from '@under-lock/contract/outgoing';
import { concat, utf8 } from '@under-lock/core/bytes';
import { readEntity, withoutFields, withWireLineEnds } from '@under-lock/core/message/entity';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  type Correspondent,
  correspondent,
  type DoorHouse,
  openDoorHouse,
  papersPreset,
  python,
  whysOf,
} from './mail-programs';
import { COLLECTED, collectedMails } from '../../core/test/collected';
import { giveKeyPair } from '../../server/test/house';

const names = collectedMails();

let house: DoorHouse;
let maren: Correspondent;
let tobias: string;
beforeAll(async () => {
  house = await openDoorHouse();
  await papersPreset(await house.worker('ines.varga', 'administrator'), { copies: true });
  maren = await correspondent(house, 'maren.oduya');
  const other = await house.worker('tobias.lindqvist');
  await giveKeyPair(other);
  tobias = other.account.address;
}, 120_000);
afterAll(() => house.stop());

/** From whoever is to hand it in, and otherwise as it was collected. */
function ofMarens(raw: Uint8Array, name: string): Uint8Array {
  const entity = readEntity(raw);
  const from = `From: ${maren.account.address}\r\nX-Collected-As: ${name}\r\n`;
  return withWireLineEnds(
    concat(
      utf8(from),
      withoutFields(entity, (field) => field === 'from'),
      utf8('\r\n'),
      entity.body,
    ),
  );
}

test('each is taken, and leaves or waits for what its writer left out', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'under-lock-collected-'));
  for (const name of names) writeFileSync(join(folder, name), ofMarens(readFileSync(join(COLLECTED, name)), name));
  const { address } = maren.account;
  const { code, out } = await python(house, [
    'import os',
    "s.ehlo('here'); s.starttls(context=c); s.ehlo('here')",
    `s.login(${JSON.stringify(address)}, ${JSON.stringify(maren.password)})`,
    `for name in sorted(os.listdir(${JSON.stringify(folder)})):`,
    `  s.sendmail(${JSON.stringify(address)}, [${JSON.stringify(tobias)}], open(${JSON.stringify(folder)} + '/' + name, 'rb').read())`,
  ]);
  expect([code, out.trim()]).toEqual([0, '']);
  await house.door.idle();
  const wrong = house.said.filter((line) => 'error' in (JSON.parse(line) as object));
  expect(wrong).toEqual([]);
  const waiting = await whysOf(maren);
  const { messages } = await maren.client(listSent);
  expect(messages.length + waiting.length).toBe(names.length);
  expect(messages.length).toBeGreaterThan(20);
  // Nothing but what their writers left out.
  expect([...new Set(waiting.flatMap(({ sentences }) => sentences))].sort()).toEqual([
    'a subject',
    'some text or a file',
  ]);
}, 300_000);
