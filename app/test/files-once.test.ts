/**
 * @jest-environment node
 *
 * A message's files are fetched and opened once, however many copies are made of it at the same time, and anew for the
 * next message.
 */
import { utf8 } from '@under-lock/core/bytes';
import { sealContent } from '@under-lock/core/locks/room/content';
import { type MessageToSeal } from '@under-lock/core/outgoing/content';
import { contentKeyOf, makeKey } from '@under-lock/core/outgoing/split';
import { contentOf } from '../src/threads/main/message';

const mockHeld = new Map<string, Uint8Array>();
const mockFetched: string[] = [];
jest.mock('../src/threads/transfer', () => ({
  allowTransfers: () => undefined,
  cancelTransfer: () => undefined,
  discard: async () => undefined,
  upload: async () => undefined,
  download: async (id: string) => {
    mockFetched.push(id);
    await new Promise((done) => setTimeout(done, 5));
    return mockHeld.get(id)!;
  },
}));

async function fileOf(name: string, text: string): Promise<MessageToSeal['files'][number]> {
  const [blobId, key] = [`blob-${name}`, makeKey()];
  mockHeld.set(blobId, await sealContent(utf8(text), contentKeyOf(key)));
  return { blobId, name, type: 'text/plain', size: text.length, key };
}

const message = (messageId: string, files: MessageToSeal['files']): MessageToSeal => ({
  messageId,
  from: { name: 'Maren Oduya', address: 'maren.oduya@larkmoor.example' },
  to: [],
  cc: [],
  subject: 'Papers',
  date: new Date('2026-11-24T10:00:00Z'),
  reference: '',
  text: 'Two papers.',
  html: '',
  files,
});

beforeEach(() => void (mockFetched.length = 0));

test('ten copies at once fetch each file once, and each has them whole', async () => {
  const files = [await fileOf('one.txt', 'First paper'), await fileOf('two.txt', 'Second paper')];
  const contents = await Promise.all(Array.from({ length: 10 }, () => contentOf(message('m1', files))));
  expect(mockFetched.sort()).toEqual(['blob-one.txt', 'blob-two.txt']);
  for (const content of contents)
    expect(content.files.map(({ name, bytes }) => [name, Buffer.from(bytes).toString()])).toEqual([
      ['one.txt', 'First paper'],
      ['two.txt', 'Second paper'],
    ]);
});

test('another message fetches its own, and one that failed is tried again', async () => {
  const [file] = [await fileOf('one.txt', 'First paper')];
  await Promise.all([contentOf(message('m2', [file])), contentOf(message('m3', [file]))]);
  expect(mockFetched).toHaveLength(2);
  const held = mockHeld.get(file.blobId)!;
  mockHeld.set(file.blobId, held.slice(0, -1));
  await expect(contentOf(message('m4', [file]))).rejects.toMatchObject({ name: 'ContentError' });
  mockHeld.set(file.blobId, held);
  expect((await contentOf(message('m4', [file]))).files).toHaveLength(1);
});
