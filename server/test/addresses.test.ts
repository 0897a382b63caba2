/** Further addresses of an account: given by administrators, one owner each, written from, written to and certified. */
import { putAddresses } from '@under-lock/contract/account';
import * as accountApi from '@under-lock/contract/account';
import { requestCertificate } from '@under-lock/contract/certificate';
import * as messageApi from '@under-lock/contract/outgoing';
import { lookAtRoom } from '@under-lock/contract/room';
import { addressesOf, readCertificate } from '@under-lock/core/certificate/certificate';
import { makeKeyPair, makeRequest } from '@under-lock/core/certificate/make-key';
import PostalMime from 'postal-mime';
import { mailboxAt } from '../src/incoming/incoming';
import {
  codeOf,
  demoMessage,
  eventually,
  giveKeyPair,
  type House,
  openHouse,
  prepare,
  upload,
  type Worker,
} from './house';

const CREW = 'crew@larkmoor.example';
let house: House;
let ines: Worker;
let maren: Worker;
let tobias: Worker;
beforeAll(async () => {
  house = await openHouse();
  [ines, maren, tobias] = [
    await house.worker('ines.varga', 'administrator'),
    await house.worker('maren.oduya'),
    await house.worker('tobias.quill'),
  ];
  await giveKeyPair(maren);
  await house.world.authorities();
}, 60_000);
afterAll(() => house.stop());

const give = (to: Worker, ...addresses: string[]) =>
  ines.client(putAddresses, { params: { id: to.account.id }, body: { addresses } });
const mineNow = async ({ client }: Worker) => (await client(accountApi.getSession)).session!.account.further;

test('an administrator gives and takes them; nobody else does; each has one owner', async () => {
  expect(
    await codeOf(maren.client(putAddresses, { params: { id: maren.account.id }, body: { addresses: [CREW] } })),
  ).toBe('not-allowed');
  await give(maren, 'Crew@Larkmoor.example', CREW);
  expect(await mineNow(maren)).toEqual([CREW]);
  expect(await codeOf(give(tobias, CREW))).toBe('conflict');
  expect(await codeOf(give(tobias, maren.account.address))).toBe('conflict');
  expect(await codeOf(give(tobias, tobias.account.address))).toBe('conflict');
  for (const wrong of ['crew@elsewhere.example', 'no address', 'x@larkmoor.example\r\nBcc: y@z.example'])
    expect(await codeOf(give(tobias, wrong))).toBe('invalid-input');
  expect(await codeOf(ines.client(accountApi.invite, { body: { address: CREW, name: 'Somebody', title: '' } }))).toBe(
    'conflict',
  );
  await give(maren);
  expect(await mineNow(maren)).toEqual([]);
  await give(tobias, CREW);
  await give(tobias);
  await give(maren, CREW);
});

test('two administrators at once give one address to one person', async () => {
  const shared = 'pier@larkmoor.example';
  const outcomes = await Promise.all(
    [maren, tobias, ines].map((one) =>
      codeOf(
        ines.client(putAddresses, {
          params: { id: one.account.id },
          body: { addresses: [...(one === maren ? [CREW] : []), shared] },
        }),
      ),
    ),
  );
  expect(outcomes.sort()).toEqual(['conflict', 'conflict', 'done']);
});

test('an address that is invited and given away at once goes one way only', async () => {
  for (let turn = 0; turn < 5; turn++) {
    const address = `berth-${turn}@larkmoor.example`;
    const outcomes = await Promise.all([
      codeOf(ines.client(accountApi.invite, { body: { address, name: 'Somebody', title: '' } })),
      codeOf(give(tobias, address)),
    ]);
    expect(outcomes.sort()).toEqual(['conflict', 'done']);
  }
});

test('mail to it is theirs; a certificate may name it beside the main one, and nobody else’s may', async () => {
  expect((await mailboxAt(house.server.context, 'CREW@larkmoor.example'))?.account.id).toBe(maren.account.id);
  const request = async (addresses: string[]) =>
    makeRequest(await makeKeyPair('p-256'), { name: 'Maren Oduya', addresses });
  const { certificate } = await maren.client(requestCertificate, {
    body: { request: await request([maren.account.address, CREW]), purpose: 'both' },
  });
  expect([...addressesOf(readCertificate(certificate))].sort()).toEqual([CREW, maren.account.address]);
  expect(
    await codeOf(tobias.client(requestCertificate, { body: { request: await request([CREW]), purpose: 'both' } })),
  ).toBe('invalid-input');
});

test('a message written from it is from it everywhere: notice, reading room, record; and only its owner may', async () => {
  const write = async (who: Worker, from: string) => {
    const prepared = await prepare(
      demoMessage({ files: [], to: [{ name: '', address: 'pell.anders@postbox.example' }] }),
    );
    await upload(who.client, prepared.contentBlobId, prepared.content);
    await who.client(messageApi.dispatchMessage, { params: { id: prepared.id }, body: { ...prepared.dispatch, from } });
    return prepared;
  };
  expect(await codeOf(write(tobias, CREW))).toBe('invalid-input');
  expect(await codeOf(write(maren, tobias.account.address))).toBe('invalid-input');
  const sent = await write(maren, CREW);
  const mail = await eventually(() =>
    house.world.store.mails.findLast(({ mailbox }) => mailbox === 'pell.anders@postbox.example'),
  );
  expect((await PostalMime.parse(Buffer.from(mail.raw, 'base64'))).text).toContain(CREW);
  expect(await house.visitor()(lookAtRoom, { params: { id: sent.dispatch.grants[0]!.id } })).toMatchObject({
    senderAddress: CREW,
  });
  expect(await maren.client(messageApi.getSent, { params: { id: sent.id } })).toMatchObject({ from: CREW });
  // Written from the main one, nothing is said of it.
  expect(
    await maren.client(messageApi.getSent, { params: { id: (await write(maren, maren.account.address)).id } }),
  ).not.toHaveProperty('from');
});
