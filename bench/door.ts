/** Openings a second (a passed identity check held, a 1 KB message) against a bare Koa with one query, turn by turn. */
import { once } from 'node:events';
import Koa from 'koa';
import { type AddressInfo } from 'node:net';
import { Agent, request } from 'undici';
import { enterPasscode, sendPasscode } from '../contract/src/room';
import { shareProof } from '../core/src/locks/room/grant';
import { demoMessage, openHouse, send } from '../server/test/house';
import { LANES, median, processorOf } from './measured';
import { type Row } from './row';

const TURNS = 15;
const REQUESTS = 600;

const perSecond = async (task: () => Promise<unknown>): Promise<number> => 1000 / (await processorOf(task, REQUESTS));

export async function doorPerSecond(): Promise<Row[]> {
  const house = await openHouse();
  const maren = await house.worker('maren.oduya');
  const sent = await send(maren, demoMessage({ files: [], text: 'x'.repeat(1000) }));
  const [{ id, readerShare }] = sent.dispatch.grants as [(typeof sent.dispatch.grants)[0]];
  const reader = house.visitor();
  const proof = await shareProof(readerShare);
  await reader(sendPasscode, { params: { id }, body: { proof } });
  await reader(enterPasscode, {
    params: { id },
    body: { proof, passcode: /^\d{6}/.exec(house.world.store.texts.at(-1)!.text)![0] },
  });
  const cookie = `under_lock_room=${[...reader.cookies.values()][0]}`;
  const bare = new Koa()
    .use(async (http) => {
      const [rows] = await house.server.context.db.query('SELECT 1 AS one');
      http.body = rows;
    })
    .listen(0, '127.0.0.1');
  await once(bare, 'listening');
  const bareUrl = `http://127.0.0.1:${(bare.address() as AddressInfo).port}/`;
  const headers = { Cookie: cookie, Origin: house.origin, 'Content-Type': 'application/json' };
  // A client that costs little: it runs on the same processor as what it measures.
  const agent = new Agent({ connections: LANES });
  const asked = async (url: string, method: 'GET' | 'POST'): Promise<void> => {
    const given = method === 'POST' ? { body: '{}' } : {};
    const { statusCode, body } = await request(url, { method, headers, dispatcher: agent, ...given });
    if (statusCode !== 200) throw new Error(`answered ${statusCode}`);
    await body.arrayBuffer();
  };
  const key = (): Promise<void> => asked(`${house.origin}/room/api/grants/${id}/open`, 'POST');
  const part = (): Promise<void> => asked(`${house.origin}/room/api/grants/${id}/parts/0`, 'GET');
  const ratios: { key: number[]; part: number[] } = { key: [], part: [] };
  for (let turn = 0; turn < TURNS; turn++) {
    const base = await perSecond(() => asked(bareUrl, 'GET'));
    ratios.key.push((await perSecond(key)) / base);
    ratios.part.push((await perSecond(part)) / base);
  }
  bare.close();
  await house.stop();
  return [
    {
      what: 'Openings a second (key released, 1 KB message) ÷ bare Koa with one query',
      value: median(ratios.key).toFixed(2),
      aim: '≥ 0.45',
    },
    { what: 'Content parts a second ÷ bare Koa with one query', value: median(ratios.part).toFixed(2), aim: 'known' },
  ];
}
