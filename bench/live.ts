/**
 * Pages that wait: a desk that has not changed against a bare Koa with one query, a list in milliseconds of processor,
 * a thousand idle streams, and what noting changes costs whoever writes.
 */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import Koa from 'koa';
import { type AddressInfo } from 'node:net';
import { setTimeout as wait } from 'node:timers/promises';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { listenLive } from '../contract/src/live';
import { getDesk, listSent } from '../contract/src/outgoing';
import { listReceived } from '../contract/src/received';
import { run } from '../server/src/data/database';
import { demoMessage, type House, openHouse, send, type Worker } from '../server/test/house';
import { type Asked, Caller } from './caller';
import { median } from './measured';
import { type Row } from './row';

const REQUESTS = 400;
const TURNS = 5;
const IDLE = 1000;
const IDLE_SECONDS = 20;

const cookieOf = ({ client }: Worker): string => `under_lock=${[...client.cookies.values()][0]}`;

async function asking(house: House, maren: Worker): Promise<Row[]> {
  const bare = new Koa()
    .use(async (http) => {
      const [rows] = await house.server.context.db.query('SELECT 1 AS one');
      http.body = rows;
    })
    .listen(0, '127.0.0.1');
  await once(bare, 'listening');
  const headers = { Cookie: cookieOf(maren) };
  const get = (url: string) => async (): Promise<Asked> => ({ url, headers, status: 200 });
  const desk = house.origin + getDesk.path;
  /** With the version it has now: that turns every few minutes. */
  const unchanged = async (): Promise<Asked> => {
    const answer = await fetch(desk, { headers });
    await answer.arrayBuffer();
    return { url: desk, headers: { ...headers, 'If-None-Match': answer.headers.get('etag')! }, status: 304 };
  };
  const caller = new Caller();
  const cost = await caller.costs(
    {
      bare: get(`http://127.0.0.1:${(bare.address() as AddressInfo).port}/`),
      unchanged,
      desk: get(desk),
      sent: get(house.origin + listSent.path),
      received: get(house.origin + listReceived.path),
    },
    { turns: TURNS, requests: REQUESTS },
  );
  caller.stop();
  bare.close();
  const less = (value: number): string => `${Math.max(0, value - cost.bare).toFixed(2)} ms`;
  return [
    {
      what: 'Desk that has not changed ÷ bare Koa with one query',
      value: (cost.unchanged / cost.bare).toFixed(2),
      aim: 'known',
    },
    {
      what: 'Desk that has not changed, a second of the server’s processor',
      value: (1000 / cost.unchanged).toFixed(0),
      aim: '≥ 1500',
    },
    { what: 'Desk, processor beyond the bare Koa', value: less(cost.desk), aim: '≤ 3 ms' },
    { what: 'Sent list, processor beyond the bare Koa', value: less(cost.sent), aim: '≤ 3 ms' },
    { what: 'Received list, processor beyond the bare Koa', value: less(cost.received), aim: '≤ 3 ms' },
  ];
}

setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;
/** What is in use, garbage apart. */
function memory(): number {
  collect();
  const { heapUsed, external } = process.memoryUsage();
  return heapUsed + external;
}

/** Connections of a process of their own, so that only the server's side is counted. */
const LISTENERS = `const http=require('http');const [url,cookies]=[process.argv[1],JSON.parse(process.argv[2])];let open=0;
cookies.forEach(([cookie,count])=>{for(let i=0;i<count;i++)http.get(url,{headers:{Cookie:cookie},agent:false},(r)=>{r.resume();if(r.statusCode===200&&++open===${IDLE})console.log('open')})});`;

async function idle(house: House): Promise<Row[]> {
  const workers: Worker[] = [];
  for (let index = 0; index < IDLE / 25; index++) workers.push(await house.worker(`idle-${index}`));
  await wait(2000);
  const before = memory();
  const child = spawn(process.execPath, [
    '-e',
    LISTENERS,
    house.origin + listenLive.path,
    JSON.stringify(workers.map((worker) => [cookieOf(worker), 25])),
  ]);
  await once(child.stdout, 'data');
  const from = process.cpuUsage();
  await wait(IDLE_SECONDS * 1000);
  const { user, system } = process.cpuUsage(from);
  const after = memory();
  child.kill();
  return [
    { what: `${IDLE} idle streams, memory`, value: `${((after - before) / 2 ** 20).toFixed(0)} MB`, aim: '≤ 120 MB' },
    {
      what: `${IDLE} idle streams, of a core`,
      value: `${((user + system) / 1e4 / IDLE_SECONDS).toFixed(1)} %`,
      aim: '≤ 5 %',
    },
  ];
}

/** Commits of one small change each, with the notes and without. */
async function noting(house: House, messageId: string): Promise<Row[]> {
  const { db } = house.server.context;
  const commits = async (): Promise<number> => {
    const from = performance.now();
    let left = 2000;
    await Promise.all(
      Array.from({ length: 10 }, async () => {
        while (left-- > 0)
          await run(db, 'UPDATE grants SET open_count = open_count + 1 WHERE message_id = $1', [messageId]);
      }),
    );
    return performance.now() - from;
  };
  const ratios: number[] = [];
  for (let turn = 0; turn < 5; turn++) {
    await run(db, 'ALTER TABLE grants DISABLE TRIGGER grants_noted_update');
    const without = await commits();
    await run(db, 'ALTER TABLE grants ENABLE TRIGGER grants_noted_update');
    ratios.push((await commits()) / without);
  }
  return [{ what: 'A small change with its note ÷ without', value: median(ratios).toFixed(2), aim: '≤ 1.6' }];
}

export async function live(): Promise<Row[]> {
  const house = await openHouse();
  const maren = await house.worker('maren.oduya');
  const to = (index: number) => [{ name: '', address: `reader-${index}@postbox.example` }];
  const sent: { id: string }[] = [];
  for (let index = 0; index < 40; index++) sent.push(await send(maren, demoMessage({ files: [], to: to(index) })));
  await wait(5000);
  const rows = [...(await asking(house, maren)), ...(await idle(house)), ...(await noting(house, sent[0]!.id))];
  await house.stop();
  return rows;
}
