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
import { Agent, request } from 'undici';
import { listenLive } from '../contract/src/live';
import { getDesk, listSent } from '../contract/src/outgoing';
import { listReceived } from '../contract/src/received';
import { run } from '../server/src/data/database';
import { demoMessage, type House, openHouse, send, type Worker } from '../server/test/house';
import { LANES, median, processorOf } from './measured';
import { type Row } from './row';

const REQUESTS = 400;
const TURNS = 5;
const IDLE = 1000;
const IDLE_SECONDS = 20;

async function processorInTurns<K extends string>(
  tasks: Record<K, () => Promise<unknown>>,
): Promise<Record<K, number>> {
  const names = Object.keys(tasks) as K[];
  const times = Object.fromEntries(names.map((name) => [name, [] as number[]])) as Record<K, number[]>;
  for (let turn = 0; turn <= TURNS; turn++)
    for (const name of names) {
      const value = await processorOf(tasks[name], turn === 0 ? 100 : REQUESTS);
      if (turn > 0) times[name].push(value);
    }
  return Object.fromEntries(names.map((name) => [name, median(times[name])])) as Record<K, number>;
}

const cookieOf = ({ client }: Worker): string => `under_lock=${[...client.cookies.values()][0]}`;

async function asking(house: House, maren: Worker): Promise<Row[]> {
  const bare = new Koa()
    .use(async (http) => {
      const [rows] = await house.server.context.db.query('SELECT 1 AS one');
      http.body = rows;
    })
    .listen(0, '127.0.0.1');
  await once(bare, 'listening');
  const dispatcher = new Agent({ connections: LANES });
  const asked = async (url: string, status: number, more: Record<string, string> = {}): Promise<string> => {
    const { statusCode, body, headers } = await request(url, {
      headers: { Cookie: cookieOf(maren), ...more },
      dispatcher,
    });
    await body.arrayBuffer();
    if (statusCode !== status) throw new Error(`${url} answered ${statusCode}`);
    return String(headers.etag);
  };
  const address = ({ path }: { path: string }): string => house.origin + path;
  let version = await asked(address(getDesk), 200);
  const unchanged = async (): Promise<void> => {
    const asking = { 'If-None-Match': version };
    // Its version turns every few minutes; then it is a whole answer once.
    await asked(address(getDesk), 304, asking).catch(async () => (version = await asked(address(getDesk), 200)));
  };
  const cost = await processorInTurns({
    bare: () => asked(`http://127.0.0.1:${(bare.address() as AddressInfo).port}/`, 200),
    unchanged,
    desk: () => asked(address(getDesk), 200),
    sent: () => asked(address(listSent), 200),
    received: () => asked(address(listReceived), 200),
  });
  bare.close();
  await dispatcher.close();
  const less = (value: number): string => `${Math.max(0, value - cost.bare).toFixed(2)} ms`;
  return [
    {
      what: 'Desk that has not changed ÷ bare Koa with one query',
      value: (cost.unchanged / cost.bare).toFixed(2),
      aim: '≤ 1.8',
    },
    {
      what: 'Desk that has not changed, a second of processor, client included',
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
