/** Bad input at every door: refused with a code and a sentence, never with a crash, and nothing is stored. */
import { startBlob } from '@under-lock/contract/blob';
import { dispatchMessage } from '@under-lock/contract/outgoing';
import { type ApiProblem } from '@under-lock/contract/problem';
import { createConnection } from 'node:net';
import { failedDelivery } from '@under-lock/core/message/delivery-report';
import { openMailDoor } from '../src/incoming/door';
import { rows } from '../src/data/database';
import { returnPath } from '../src/mail/return-path';
import { randomUUID } from 'node:crypto';
import {
  cookieFetch,
  demoMessage,
  demoTerms,
  eventually,
  type House,
  openHouse,
  prepare,
  send,
  upload,
  type Worker,
} from './house';
import { getSent } from '@under-lock/contract/outgoing';
import * as accountApi from '@under-lock/contract/account';
import { randomBytes } from '@under-lock/core/bytes';

let house: House;
let maren: Worker;
let fetcher: typeof fetch;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
  fetcher = cookieFetch(house.origin, maren.client.cookies);
});
afterAll(() => house.stop());

const post = async (
  path: string,
  body: string,
  type = 'application/json',
): Promise<{ status: number; code: string }> => {
  const response = await fetcher(house.origin + path, { method: 'POST', headers: { 'Content-Type': type }, body });
  return { status: response.status, code: ((await response.json()) as { code: string }).code };
};

test.each([
  ['malformed JSON', '/api/blobs', '{"id":', 'application/json', 400],
  ['an array for an object', '/api/blobs', '[]', 'application/json', 400],
  ['nothing', '/api/blobs', '', 'application/json', 400],
  ['another type', '/api/blobs', 'id=1', 'application/x-www-form-urlencoded', 415],
  ['a size of zero', '/api/blobs', JSON.stringify({ id: randomUUID(), size: 0 }), 'application/json', 400],
  ['a size beyond everything', '/api/blobs', JSON.stringify({ id: randomUUID(), size: 1e15 }), 'application/json', 400],
  ['an id that is none', '/api/blobs', JSON.stringify({ id: '../../etc/passwd', size: 1 }), 'application/json', 400],
  ['a prototype', '/api/blobs', '{"__proto__":{"size":1},"constructor":1}', 'application/json', 400],
  ['five megabytes of JSON', '/api/blobs', `"${'x'.repeat(5_000_000)}"`, 'application/json', 413],
])('%s is refused', async (_, path, body, type, status) => {
  expect(await post(path, body, type)).toMatchObject({ status });
});

test('a percent sign that spells nothing is the caller’s mistake', async () => {
  for (const path of ['/%zz', '/api/messages/%zz', '/room/%E0%A4%A'])
    expect((await fetcher(house.origin + path)).status).toBe(400);
});

test('paths do not climb out of the pages’ folder', async () => {
  for (const path of [
    '/../package.json',
    '/..%2f..%2fpackage.json',
    '/room/..%2f..%2fpackage.json',
    '/%2e%2e/%2e%2e/etc/passwd.js',
    '/fonts/..%5c..%5cserver.mjs',
  ]) {
    const response = await fetcher(house.origin + path);
    expect((await response.text()).includes('"workspaces"')).toBe(false);
  }
});

test('parts of the wrong length, at the wrong place or of a foreign upload are refused', async () => {
  const id = randomUUID();
  await maren.client(startBlob, { body: { id, size: 1_500_000 } });
  const put = (index: string, body: Buffer | string): Promise<number> =>
    fetcher(`${house.origin}/api/blobs/${id}/parts/${index}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: body as string,
    }).then((response) => response.status);
  expect(await put('0', 'short')).toBe(400);
  expect(await put('2', 'x')).toBe(400);
  expect(await put('-1', 'x')).toBe(400);
  expect(await put('0', Buffer.alloc(1_048_577))).toBe(413);
  await expect(maren.client(startBlob, { body: { id, size: 5 } })).rejects.toMatchObject({ code: 'conflict' });
});

type Grants = Awaited<ReturnType<typeof prepare>>['dispatch']['grants'];
const refusedWith = async (change: (grants: Grants) => Grants, over: object = {}): Promise<string> => {
  const prepared = await prepare(demoMessage({ files: [] }));
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  const error = await maren
    .client(dispatchMessage, {
      params: { id: prepared.id },
      body: { ...prepared.dispatch, ...over, grants: change(prepared.dispatch.grants) },
    })
    .then(
      () => undefined,
      (problem: Error) => problem,
    );
  expect(await rows(house.server.context.db, 'SELECT 1 FROM messages WHERE id = $1', [prepared.id])).toHaveLength(0);
  return (error as ApiProblem | undefined)?.code ?? (error === undefined ? 'accepted' : error.name);
};

test('a dispatch is refused whole when anything in it is wrong', async () => {
  const each = (change: object) => (grants: Grants) => grants.map((grant) => ({ ...grant, ...change }));
  const by = (channel: object) => (grants: Grants) =>
    grants.map((grant) => ({
      ...grant,
      reader: { ...grant.reader, channel: channel as Grants[0]['reader']['channel'] },
    }));
  expect(await refusedWith(each({ address: 'no address' }))).toBe('invalid-input');
  expect(await refusedWith(each({ address: 'a@b.example\r\nBcc: x@y.example' }))).toBe('invalid-input');
  // The client's own schema stops a name that would break a header.
  expect(await refusedWith(each({ name: 'Pell\r\nBcc: x@y.example' }))).toMatch(/Zod|invalid-input/);
  expect(await refusedWith(by({ kind: 'text', target: '12345' }))).toBe('invalid-input');
  expect(await refusedWith(by({ kind: 'email', target: 'pell.anders@postbox.example' }))).toBe('invalid-input');
  expect(
    await refusedWith((grants) => [
      ...grants,
      { ...grants[0]!, id: randomUUID(), address: 'PELL.anders@postbox.example' },
    ]),
  ).toBe('invalid-input');
  expect(
    await refusedWith((grants) =>
      Array.from({ length: 1000 }, (_, index) => ({
        ...grants[0]!,
        id: randomUUID(),
        address: `n${index}@postbox.example`,
      })),
    ),
  ).toBe('invalid-input');
  const late = { handling: { closesAt: new Date(Date.now() + 400 * 86_400_000), ...demoTerms } };
  expect(await refusedWith((grants) => grants, late)).toBe('closing-out-of-range');
  expect(
    await refusedWith((grants) => grants, { handling: { ...late.handling, closesAt: new Date(Date.now() - 1000) } }),
  ).toBe('closing-out-of-range');
  await maren.client(accountApi.setOwnPhone, { body: { phone: '+447700900101' } });
  expect(await refusedWith(by({ kind: 'text', target: '+447700900101' }))).toBe('own-number');
});

test('a dispatch whose content has not all arrived is refused, and goes when it has', async () => {
  const prepared = await prepare(demoMessage());
  await maren.client(startBlob, { body: { id: prepared.contentBlobId, size: prepared.content.length } });
  await expect(
    maren.client(dispatchMessage, { params: { id: prepared.id }, body: prepared.dispatch }),
  ).rejects.toMatchObject({ code: 'upload-incomplete' });
  await upload(maren.client, prepared.contentBlobId, prepared.content);
  expect(await maren.client(dispatchMessage, { params: { id: prepared.id }, body: prepared.dispatch })).toMatchObject({
    already: false,
  });
});

test('the sign-in says nothing of who exists, and waits longer each time', async () => {
  const start = (address: string) => house.visitor()(accountApi.startSignIn, { body: { address } });
  const [known, unknown, again] = await Promise.all([
    start('maren.oduya@larkmoor.example'),
    start('nobody@larkmoor.example'),
    start('nobody@larkmoor.example'),
  ]);
  expect(Object.keys(unknown).sort()).toEqual(Object.keys(known).sort());
  expect(Buffer.from(unknown.salt).equals(Buffer.from(again.salt))).toBe(true);
  for (const address of ['maren.oduya@larkmoor.example', 'nobody@larkmoor.example']) {
    const tries: ApiProblem[] = [];
    for (let count = 0; count < 4; count++)
      tries.push(
        await house
          .visitor()(accountApi.signIn, { body: { address, authKey: randomBytes(32), device: '' } })
          .then(
            () => undefined as never,
            (problem: ApiProblem) => problem,
          ),
      );
    expect(tries.map(({ code }) => code)).toEqual([
      'wrong-password',
      'wrong-password',
      'wrong-password',
      'too-many-tries',
    ]);
    expect(tries[0]!.details.title).toBe('Address or password is wrong');
    expect(new Date(tries[3]!.details.until!).getTime()).toBeGreaterThan(Date.now());
  }
});

test('an invitation works once, and its link tells who it is for only to whoever holds it', async () => {
  await expect(
    house.visitor()(accountApi.lookAtInvitation, { body: { token: randomBytes(32) } }),
  ).rejects.toMatchObject({ code: 'wrong-link' });
});

describe('the door for mail, to delivery reports', () => {
  const report = (id: string, action: string): string =>
    `From: <>\r\nTo: <bounce+${id}@larkmoor.example>\r\nMIME-Version: 1.0\r\nContent-Type: multipart/report; report-type=delivery-status; boundary="b"\r\n\r\n--b\r\nContent-Type: text/plain\r\n\r\nno\r\n--b\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; x\r\n\r\nAction: ${action}\r\nDiagnostic-Code: smtp; 550 gone\r\n\r\n--b--\r\n`;

  it('reads a failure and ignores a delay', async () => {
    expect(failedDelivery(Buffer.from(report(randomUUID(), 'failed')))).toBe('550 gone');
    expect(failedDelivery(Buffer.from(report(randomUUID(), 'delayed')))).toBeUndefined();
    expect(failedDelivery(Buffer.from('hello'))).toBeUndefined();
  });

  it('marks the notice it names, and no other address is known', async () => {
    const door = await openMailDoor(house.server.context);
    const prepared = await send(maren, demoMessage({ files: [] }));
    await eventually(async () =>
      (await maren.client(getSent, { params: { id: prepared.id } })).grants[0]!.notice.state === 'accepted'
        ? true
        : undefined,
    );
    const [outbox] = await rows<{ id: string }>(house.server.context.db, 'SELECT id FROM outbox WHERE grant_id = $1', [
      prepared.dispatch.grants[0]!.id,
    ]);
    const talk = (lines: string[]): Promise<string> =>
      new Promise((resolve) => {
        let heard = '';
        const socket = createConnection(door.port, '127.0.0.1');
        socket.on('data', (data) => {
          heard += data.toString();
          const next = lines.shift();
          if (next === undefined) socket.end();
          else socket.write(`${next}\r\n`);
        });
        socket.on('close', () => resolve(heard));
      });
    expect(await talk(['EHLO x', 'MAIL FROM:<>', 'RCPT TO:<nobody@larkmoor.example>', 'QUIT'])).toContain('550');
    const path = returnPath(house.server.context, outbox!.id);
    const to = async (address: string, from = ''): Promise<string> =>
      talk([
        'EHLO x',
        `MAIL FROM:<${from}>`,
        `RCPT TO:<${address}>`,
        'DATA',
        `${report(outbox!.id, 'failed')}.`,
        'QUIT',
      ]);
    const notice = async () => (await maren.client(getSent, { params: { id: prepared.id } })).grants[0]!.notice;
    // Who has seen the Message-ID knows the number, and can't make the tag; nor is a mail with a sender a report.
    for (const forged of [
      `bounce+${outbox!.id}@larkmoor.example`,
      `bounce+${outbox!.id}${'0'.repeat(20)}@larkmoor.example`,
      path.replace('@larkmoor.example', '@elsewhere.example'),
      path.replace(outbox!.id, randomUUID()),
    ])
      expect(await to(forged)).toContain('550');
    expect(await to(path, 'somebody@postbox.example')).toContain('550');
    expect((await notice()).state).toBe('accepted');
    // Long after, nothing comes back any more.
    await house.server.context.db.query(`UPDATE outbox SET delivered_at = now() - interval '11 days'`);
    expect(await to(path)).toContain('250');
    expect((await notice()).state).toBe('accepted');
    await house.server.context.db.query('UPDATE outbox SET delivered_at = now()');
    expect(path.split('@')[0]).toHaveLength(63);
    await talk(['EHLO x', 'MAIL FROM:<>', `RCPT TO:<${path}>`, 'DATA', `${report(outbox!.id, 'failed')}.`, 'QUIT']);
    const { grants } = await maren.client(getSent, { params: { id: prepared.id } });
    expect(grants[0]!.notice).toMatchObject({ state: 'bounced', answer: '550 gone' });
    await door.close();
  });
});
