/**
 * What changes is told: of each kind, to whoever it is shown to and to nobody else, however transactions end; and an
 * answer that has not changed is not given twice.
 */
import * as accountApi from '@under-lock/contract/account';
import { createClient, KeptAnswers } from '@under-lock/contract/client';
import { putFileRules } from '@under-lock/contract/file-lock';
import { putPreset } from '@under-lock/contract/handling';
import { allEndpoints } from '@under-lock/contract/index';
import { type ChangeKind, listenLive, liveEvents } from '@under-lock/contract/live';
import { beginOfficeBook } from '@under-lock/contract/office-book';
import * as messageApi from '@under-lock/contract/outgoing';
import { listReceived, markReceived } from '@under-lock/contract/received';
import { lookAtRoom, sendPasscode } from '@under-lock/contract/room';
import { listVault, putVaultItem } from '@under-lock/contract/vault';
import { randomBytes } from '@under-lock/core/bytes';
import { OUR_RULES } from '@under-lock/core/locks/file/rules';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { buildMessage } from '@under-lock/core/message/build';
import { type RouterContext } from '@koa/router';
import { PassThrough } from 'node:stream';
import { z } from 'zod';
import { type SignedIn } from '../src/account/session';
import { closeDue } from '../src/access/grants';
import { rows, run } from '../src/data/database';
import { AccountRow } from '../src/data/models';
import { keepIncoming } from '../src/incoming/incoming';
import { ChangeReader, OF_ALL, tidyChanges } from '../src/live/changes';
import { Streams } from '../src/live/streams';
import {
  cookieFetch,
  demoMessage,
  demoTerms,
  eventually,
  giveKeyPair,
  type House,
  type KeyPair,
  noticesGone,
  openHouse,
  send,
  sendToColleague,
  type Worker,
} from './house';

let house: House;
let maren: Worker;
let tobias: Worker;
let admin: Worker;
let key: KeyPair;
beforeAll(async () => {
  house = await openHouse();
  [maren, tobias, admin] = [
    await house.worker('maren.oduya'),
    await house.worker('tobias.quill'),
    await house.worker('ines.varga', 'administrator'),
  ];
  key = await giveKeyPair(tobias);
});
afterEach(() => {
  house.clock.real = true;
});
afterAll(() => house.stop());

const small = () => demoMessage({ files: [] });

/** Who is told of what by an act. */
async function toldBy(act: () => Promise<unknown>): Promise<Record<string, ChangeKind[]>> {
  const reader = await ChangeReader.start(house.server.context);
  await act();
  const names = new Map([
    [maren.account.id, 'maren'],
    [tobias.account.id, 'tobias'],
    [admin.account.id, 'admin'],
    [OF_ALL, 'all'],
  ]);
  return Object.fromEntries(
    [...(await reader.next())].map(([about, kinds]) => [names.get(about) ?? 'somebody else', [...kinds].sort()]),
  );
}

/** The first of its kind. */
const keepItem = ({ client }: Worker, kind: 'draft' | 'person') =>
  client(putVaultItem, {
    params: { kind, id: crypto.randomUUID() },
    body: { revision: 0, sealed: randomBytes(64), manifest: { revision: 0, whole: randomBytes(64) } },
  });

const letter = (subject: string) =>
  buildMessage(demoMessage({ subject, from: { name: 'Pell Anders', address: 'pell.anders@postbox.example' } }));

test('each thing that is shown is told to whoever it is shown to', async () => {
  const told: Record<string, Record<string, ChangeKind[]>> = {};
  const tell = async (what: string, act: () => Promise<unknown>): Promise<void> => {
    told[what] = await toldBy(act);
  };
  let sent!: Awaited<ReturnType<typeof send>>;
  await tell('sent', async () => (sent = await send(maren, small())));
  await noticesGone(house, sent.id);
  const [grant] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
  const params = { id: sent.id };
  await tell('looked at by a reader', () => house.visitor()(lookAtRoom, { params: { id: grant.id } }));
  await tell('passcode asked for', async () =>
    house.visitor()(sendPasscode, {
      params: { id: grant.id },
      body: { proof: await shareProof(grant.readerShare) },
    }),
  );
  await tell('closing moved', () =>
    maren.client(messageApi.moveClosing, {
      params,
      body: { grantIds: [grant.id], closesAt: new Date(Date.now() + 2 * 86_400_000) },
    }),
  );
  await tell('withdrawn', () => maren.client(messageApi.withdrawGrants, { params, body: { grantIds: [grant.id] } }));
  let held!: { id: string };
  await tell('to a colleague', async () => (held = await sendToColleague(maren, tobias, key)));
  await tell('marked', () => tobias.client(markReceived, { params: { id: held.id }, body: { unread: false } }));
  const account = (await AccountRow.findByPk(tobias.account.id))!;
  await tell('came in', () =>
    keepIncoming(house.server.context, account, letter('Came in'), { from: 'pell.anders@postbox.example' }),
  );
  await tell('vault', () => keepItem(maren, 'draft'));
  await tell('preset', () =>
    admin.client(putPreset, {
      params: { id: crypto.randomUUID() },
      body: {
        name: 'Papers',
        sentence: 'For papers.',
        active: false,
        terms: {
          closing: { kind: 'two-weeks' },
          ...demoTerms,
          audience: 'anyone',
          receipt: false,
          remindHours: 0,
          mayLoosen: { closing: true, identity: true, rights: true },
        },
      },
    }),
  );
  await tell('rules for files', () => admin.client(putFileRules, { body: OUR_RULES }));
  await tell('colleague', () => house.worker('signe.holt'));
  await tell('role', () =>
    admin.client(accountApi.changeRole, { params: { id: tobias.account.id }, body: { role: 'worker' } }),
  );
  const releaseId = crypto.randomUUID();
  const { db } = house.server.context;
  await tell('waits to be let go', () =>
    db.transaction(async (transaction) => {
      await run(
        db,
        `INSERT INTO releases (id, account_id, asked_at, state, request_digest, summary, rules, people, blob_ids) VALUES ($1, $2, now(), 'waiting', '', '', '{}', 1, '{}')`,
        [releaseId, maren.account.id],
        transaction,
      );
      await run(
        db,
        `INSERT INTO release_keys (release_id, account_id, sealed_key) VALUES ($1, $2, '')`,
        [releaseId, tobias.account.id],
        transaction,
      );
    }),
  );
  await tell('taken back', () => run(db, 'DELETE FROM releases WHERE id = $1', [releaseId]));
  await tell('permission', () =>
    admin.client(accountApi.putMayRelease, { params: { id: tobias.account.id }, body: { may: true } }),
  );
  await tell('office book', () =>
    admin.client(beginOfficeBook, { body: { suite: 1, publicKey: randomBytes(40), sealedKey: randomBytes(80) } }),
  );
  await tell('nothing', async () => {
    await maren.client(messageApi.getDesk, { query: {} });
    await maren.client(listVault, { params: { kind: 'draft' }, query: {} });
  });
  expect(told).toEqual({
    sent: { maren: ['sent', 'vault/sent'] },
    'looked at by a reader': {},
    'passcode asked for': { maren: ['sent'] },
    'closing moved': { maren: ['sent'] },
    withdrawn: { maren: ['sent'] },
    'to a colleague': { maren: ['sent', 'vault/sent'], tobias: ['received'] },
    marked: { maren: ['sent'], tobias: ['received'] },
    'came in': { tobias: ['received'] },
    vault: { maren: ['vault/draft'] },
    preset: { all: ['office'] },
    'rules for files': { all: ['office'] },
    colleague: { all: ['office'], 'somebody else': ['account'] },
    role: {},
    'waits to be let go': { maren: ['releases'], tobias: ['releases'] },
    'taken back': { maren: ['releases'], tobias: ['releases'] },
    permission: { all: ['office'], tobias: ['account'] },
    'office book': { all: ['office'] },
    nothing: {},
  });
});

test('whichever transaction ends first, each is told once', async () => {
  const { db } = house.server.context;
  const note = (kind: string, transaction: Awaited<ReturnType<typeof db.transaction>>) =>
    run(db, 'INSERT INTO changes (about, kind) VALUES ($1, $2)', [maren.account.id, kind], transaction);
  const early = await db.transaction();
  await note('vault/early', early);
  // What was done before anybody listened is not told, also while somebody still writes.
  await keepItem(maren, 'person');
  const reader = await ChangeReader.start(house.server.context);
  const late = await db.transaction();
  await note('vault/late', late);
  await late.commit();
  const next = async () => [...((await reader.next()).get(maren.account.id) ?? [])];
  expect(await next()).toEqual(['vault/late']);
  expect(await next()).toEqual([]);
  const undone = await db.transaction();
  await note('vault/undone', undone);
  await early.commit();
  expect(await next()).toEqual(['vault/early']);
  await undone.rollback();
  expect(await next()).toEqual([]);
});

/** A client that keeps answers, and what it was answered with. */
function keeping({ client }: Worker) {
  const fetcher = cookieFetch(house.origin, client.cookies);
  const statuses: number[] = [];
  const counting = (async (...args: Parameters<typeof fetch>) => {
    const response = await fetcher(...args);
    statuses.push(response.status);
    return response;
  }) as typeof fetch;
  return { ask: createClient(house.origin, counting, new KeptAnswers()), statuses };
}

test('an answer is given again only when something has changed, also by time alone; another’s changes don’t count', async () => {
  house.clock.now = new Date(Math.floor(Date.now() / 300_000) * 300_000);
  house.clock.real = false;
  const { ask, statuses } = keeping(maren);
  const desk = () => ask(messageApi.getDesk, { query: {} });
  const first = await desk();
  expect(await desk()).toBe(first);
  await send(tobias, small());
  expect(await desk()).toBe(first);
  const closesAt = new Date(house.clock.now.getTime() + 3_600_000);
  const { id } = await send(maren, small(), { closesAt });
  await noticesGone(house, id);
  const second = await desk();
  expect(second.accessTotal).toBe(first.accessTotal + 1);
  expect((await desk()).accessTotal).toBe(second.accessTotal);
  expect(statuses).toEqual([200, 304, 304, 200, 304]);
  // Closed by its time: before the job has noted it, and told like any other.
  const reader = await ChangeReader.start(house.server.context);
  house.clock.now = new Date(closesAt.getTime() + 1);
  expect((await reader.next()).get(maren.account.id)).toEqual(new Set(['sent']));
  expect((await desk()).accessTotal).toBe(first.accessTotal);
  await closeDue(house.server.context);
  expect((await desk()).accessTotal).toBe(first.accessTotal);
  expect(statuses.slice(5)).toEqual([200, 200]);
});

test('what stands between two accounts never has the same version, and old lines go without bringing one back', async () => {
  const { db } = house.server.context;
  const versionFor = async ({ client }: Worker) =>
    (await cookieFetch(house.origin, client.cookies)(`${house.origin}${listReceived.path}`)).headers.get('ETag')!;
  expect(await versionFor(maren)).not.toBe(await versionFor(tobias));
  house.clock.now = new Date();
  house.clock.real = false;
  const before = await versionFor(maren);
  await run(db, `INSERT INTO changes (about, kind) VALUES ($1, 'sent')`, [maren.account.id]);
  const after = await versionFor(maren);
  await run(db, `UPDATE changes SET at = at - interval '2 hours'`);
  await tidyChanges(house.server.context);
  const left = await rows<{ about: string }>(db, 'SELECT about FROM changes');
  expect(new Set(left.map(({ about }) => about)).size).toBe(left.length);
  expect(left.map(({ about }) => about)).toContain(maren.account.id);
  expect([before, after]).not.toContain(await versionFor(maren));
  // Brought along from another database, where transactions had come further.
  await run(db, `INSERT INTO changes (about, kind, by_transaction) VALUES ($1, 'sent', '99999999999')`, [
    maren.account.id,
  ]);
  await tidyChanges(house.server.context);
  expect(await rows(db, `SELECT id FROM changes WHERE by_transaction = '99999999999'`)).toEqual([]);
});

/** Listens as a page does; what was said so far, and whether it has ended. */
async function listen({ client }: Worker) {
  const fetcher = cookieFetch(house.origin, client.cookies);
  const stop = new AbortController();
  const response = await fetcher(house.origin + listenLive.path, { signal: stop.signal });
  const heard = { status: response.status, text: '', ended: false };
  void (async () => {
    const decoder = new TextDecoder();
    try {
      for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>)
        heard.text += decoder.decode(chunk, { stream: true });
    } catch {
      // Cut, which is an end as well.
    }
    heard.ended = true;
  })();
  const changes = () =>
    [...heard.text.matchAll(/^event: changed\ndata: (.*)$/gm)].flatMap(
      ([, data]) => z.parse(liveEvents.changed, JSON.parse(data!)).kinds,
    );
  return { heard, changes, stop: () => stop.abort(), type: response.headers.get('Content-Type') };
}

test('a stream says at once that it is there, then what changes, and ends with its session', async () => {
  const at = await listen(maren);
  expect(at.type).toBe('text/event-stream; charset=utf-8');
  await eventually(() => (at.heard.text.includes('event: here') ? true : undefined));
  const other = await listen(tobias);
  const { id } = await send(maren, small());
  await eventually(() => (at.changes().includes('sent') ? true : undefined));
  await noticesGone(house, id);
  expect(other.changes()).not.toContain('sent');
  // The same account on another device, and then on none but that.
  const elsewhere = house.visitor();
  await elsewhere(accountApi.signIn, {
    body: { address: maren.account.address, authKey: maren.authKey, device: 'another' },
  });
  await elsewhere(accountApi.endOtherSessions);
  await eventually(() => (at.heard.ended ? true : undefined));
  expect(other.heard.ended).toBe(false);
  other.stop();
});

test('who reads nothing is let go of, nobody holds more than their share, and a restart ends what is open', async () => {
  const many = await Promise.all(Array.from({ length: 34 }, () => listen(tobias)));
  expect(many.filter(({ heard }) => heard.status === 200).length).toBeLessThanOrEqual(30);
  expect(many.filter(({ heard }) => heard.status === 503).length).toBeGreaterThanOrEqual(4);
  for (const { stop } of many) stop();
  // Those that have gone make room again.
  const at = await eventually(async () => {
    const again = await listen(tobias);
    return again.heard.status === 200 ? again : undefined;
  });
  await house.restart();
  await eventually(() => (at.heard.ended ? true : undefined));
  const again = await listen(tobias);
  await keepItem(tobias, 'person');
  await eventually(() => (again.changes().includes('vault/person') ? true : undefined));
  again.stop();
});

test('who is gone before their stream was opened takes nobody else’s news along', async () => {
  const streams = new Streams(house.server.context);
  const asking = (gone: boolean) => {
    const res = Object.assign(new PassThrough(), { writeHead: () => res });
    let heard = '';
    res.on('data', (chunk: Buffer) => (heard += chunk.toString()));
    if (gone) res.destroy();
    return { http: { res } as unknown as RouterContext, heard: () => heard, leave: () => res.destroy() };
  };
  const who = { account: { id: maren.account.id }, session: { id: crypto.randomUUID() } } as unknown as SignedIn;
  const [gone, here] = [asking(true), asking(false)];
  await Promise.all([streams.open(gone.http, who), streams.open(here.http, who)]);
  await run(house.server.context.db, `INSERT INTO changes (about, kind) VALUES ($1, 'vault/told')`, [maren.account.id]);
  await eventually(() => (here.heard().includes('vault/told') ? true : undefined));
  here.leave();
  streams.close();
});

test('every answer with a version is one of an account’s own', () => {
  for (const { versioned, method, access } of allEndpoints)
    if (versioned) expect({ method, access }).toEqual({ method: 'GET', access: 'worker' });
});
