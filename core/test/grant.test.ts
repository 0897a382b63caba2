/** The split key: both halves open, either alone opens nothing. */
import fc from 'fast-check';
import { concat, fromBase64Url, randomBytes, toBase64Url } from '../src/bytes';
import { joinKey, noticeLink, shareFromFragment, shareProof } from '../src/locks/room/grant';
import { splitKey } from '../src/locks/room/split';
import { hkdf, sealingKey, unseal } from '../src/sealing';

const identity = { grantId: '5b2f2f0e-7b0f-4d5e-9a39-0d8f4a3d6b11', messageId: 'a0e5a3b0-2f63-4a69-8b43-6a2f5f9d7c22' };

test('both halves give the content key back', async () => {
  const key = randomBytes(32);
  const { readerShare, house } = await splitKey(key, identity);
  expect(await joinKey(readerShare, house, identity)).toEqual(key);
});

test.each([
  ['the reader’s share with a guessed house share', (reader: Uint8Array) => [reader, randomBytes(32)]],
  ['the house share with a guessed reader’s share', (_: Uint8Array, house: Uint8Array) => [randomBytes(32), house]],
  ['the reader’s share twice', (reader: Uint8Array) => [reader, reader]],
  ['the shares the wrong way round', (reader: Uint8Array, house: Uint8Array) => [house, reader]],
  ['the reader’s share and nothing', (reader: Uint8Array) => [reader, new Uint8Array(32)]],
] as const)('%s opens nothing', async (_, choose) => {
  const { readerShare, house } = await splitKey(randomBytes(32), identity);
  const [reader, kept] = choose(readerShare, house.houseShare) as [Uint8Array<ArrayBuffer>, Uint8Array<ArrayBuffer>];
  await expect(joinKey(reader, { houseShare: kept, wrappedKey: house.wrappedKey }, identity)).rejects.toMatchObject({
    code: 'not-opened',
  });
});

test('a single share is no key by itself', async () => {
  const { readerShare, house } = await splitKey(randomBytes(32), identity);
  for (const share of [readerShare, house.houseShare]) {
    const alone = await sealingKey(await hkdf(concat(share), `under-lock/room/grant/v1/${identity.grantId}`, 32));
    await expect(
      unseal(alone, house.wrappedKey, `under-lock/room/key/v1/${identity.messageId}/${identity.grantId}`),
    ).rejects.toMatchObject({ code: 'not-opened' });
  }
});

test('halves of one grant open no other grant or message', async () => {
  const { readerShare, house } = await splitKey(randomBytes(32), identity);
  await expect(joinKey(readerShare, house, { ...identity, grantId: identity.messageId })).rejects.toMatchObject({
    code: 'not-opened',
  });
  await expect(joinKey(readerShare, house, { ...identity, messageId: identity.grantId })).rejects.toMatchObject({
    code: 'not-opened',
  });
});

test('two splits of one key share nothing', async () => {
  const key = randomBytes(32);
  const [a, b] = [await splitKey(key, identity), await splitKey(key, identity)];
  expect(toBase64Url(a.readerShare)).not.toBe(toBase64Url(b.readerShare));
  expect(toBase64Url(a.house.houseShare)).not.toBe(toBase64Url(b.house.houseShare));
  await expect(joinKey(a.readerShare, b.house, identity)).rejects.toMatchObject({ code: 'not-opened' });
});

test('the link carries the share behind the #, and comes back from it', async () => {
  const { readerShare } = await splitKey(randomBytes(32), identity);
  const link = new URL(noticeLink('https://room.example', identity.grantId, readerShare));
  expect(link.pathname).toBe(`/room/${identity.grantId}`);
  expect(shareFromFragment(link.hash)).toEqual(readerShare);
  expect(await shareProof(readerShare)).toHaveLength(16);
});

test('a fragment that is no share is none, whatever it is', () => {
  fc.assert(
    fc.property(fc.string(), (text) => {
      const share = shareFromFragment(text);
      return (
        share === undefined ||
        (share.length === 32 && toBase64Url(fromBase64Url(text.replace(/^#/, ''))) === text.replace(/^#/, ''))
      );
    }),
  );
  expect(shareFromFragment('#' + 'A'.repeat(42) + 'B')).toBeUndefined();
});
