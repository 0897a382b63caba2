/**
 * Two server processes on one database, one of them killed every few seconds, while readers open and senders withdraw:
 * nothing is lost and nothing released wrongly.
 */
import { createClient, type Client } from '@under-lock/contract/client';
import * as messageApi from '@under-lock/contract/outgoing';
import { enterPasscode, openRoom } from '@under-lock/contract/room';
import { answerProof, sealQuestion } from '@under-lock/core/identity/answer';
import { shareProof } from '@under-lock/core/locks/room/grant';
import { once } from 'node:events';
import { rows } from '../src/data/database';
import { THOROUGH } from '../../core/test/thorough';
import { cookieFetch, demoMessage, type House, openHouse, prepare, upload } from './house';
import { freePort } from './free-port';
import { startProcess } from './server-process';

const SENDERS = THOROUGH ? 10 : 4;
const READERS_EACH = 5;
const KILLS = THOROUGH ? 5 : 2;
const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

interface Reader {
  id: string;
  messageId: string;
  client: Client;
  proof: Awaited<ReturnType<typeof shareProof>>;
  answer: Awaited<ReturnType<typeof answerProof>>;
  opened: number;
  refused: number;
  /** Its withdrawal was asked for, and confirmed. */ asked: boolean;
  withdrawn: boolean;
}

let house: House;
beforeAll(async () => {
  house = await openHouse();
});
afterAll(() => house.stop());

/** A client that goes to either process, and to the other when one is gone. */
function clientOf(ports: readonly number[], cookies?: Map<string, string>): Client {
  const jar = cookieFetch(house.origin, cookies);
  let turn = Math.floor(Math.random() * ports.length);
  const anyDoor = async (input: string | URL | Request, init: RequestInit = {}): Promise<Response> => {
    for (let tries = 0; tries < 200; tries++) {
      const url = new URL(String(input));
      url.port = String(ports[turn++ % ports.length]);
      try {
        const response = await jar(url, {
          ...init,
          headers: { ...(init.headers as Record<string, string>), Origin: url.origin },
        });
        // Read here, so that an answer cut off in the middle is asked for again.
        return new Response(await response.arrayBuffer(), { status: response.status, headers: response.headers });
      } catch {
        await pause(50);
      }
    }
    throw new Error('No process answers');
  };
  return createClient(house.origin, anyDoor);
}

test('nothing is lost and nothing released wrongly', async () => {
  const ports = [await freePort(), await freePort()];
  const processes = [await startProcess(house, ports[0]!), await startProcess(house, ports[1]!)];
  const readers: Reader[] = [];
  const senders: { client: Client; messageId: string }[] = [];
  for (let index = 0; index < SENDERS; index++) {
    const worker = await house.worker(`sender${index}`);
    const prepared = await prepare(demoMessage({ files: [] }), {
      addresses: Array.from({ length: READERS_EACH }, (_, one) => `reader${index}-${one}@postbox.example`),
      terms: { check: 'question' },
    });
    const grants = await Promise.all(
      prepared.dispatch.grants.map(async ({ id, readerShare, ...grant }) => {
        const answer = await answerProof('MV Teal', readerShare);
        readers.push({
          id,
          messageId: prepared.id,
          client: clientOf(ports),
          proof: await shareProof(readerShare),
          answer,
          opened: 0,
          refused: 0,
          asked: false,
          withdrawn: false,
        });
        return {
          ...grant,
          id,
          readerShare,
          reader: {
            kind: 'link' as const,
            channel: {
              kind: 'question' as const,
              question: { sealed: await sealQuestion('Which boat?', readerShare, id), answerProof: answer },
            },
            readerShare,
          },
        };
      }),
    );
    await upload(worker.client, prepared.contentBlobId, prepared.content);
    await worker.client(messageApi.dispatchMessage, {
      params: { id: prepared.id },
      body: { ...prepared.dispatch, grants },
    });
    senders.push({ client: clientOf(ports, worker.client.cookies), messageId: prepared.id });
  }

  const wrong: string[] = [];
  let over = false;
  const refused = (reader: Reader, problem: unknown): void => {
    reader.refused++;
    // Withdrawing ends the session too, so both are right answers, but only once somebody has asked for it.
    const { code } = problem as { code?: string };
    if (!reader.asked || !['grant-withdrawn', 'not-identified'].includes(code!))
      wrong.push(`an access ${reader.asked ? 'that ends' : 'that is open'} answered ${code ?? String(problem)}`);
  };
  const read = async (reader: Reader): Promise<void> => {
    const params = { id: reader.id };
    await reader
      .client(enterPasscode, { params, body: { proof: reader.proof, answerProof: reader.answer } })
      .catch((problem: unknown) => refused(reader, problem));
    while (!over) {
      const withdrawnBefore = reader.withdrawn;
      try {
        await reader.client(openRoom, { params });
        reader.opened++;
        if (withdrawnBefore) wrong.push(`${reader.id} was released after its withdrawal had been confirmed`);
      } catch (problem) {
        refused(reader, problem);
      }
      await pause(200);
    }
  };
  const withdraw = async ({ client, messageId }: (typeof senders)[0], index: number): Promise<void> => {
    await pause(500 + index * 900);
    const mine = readers.filter((one) => one.messageId === messageId).slice(0, 3);
    mine.forEach((one) => (one.asked = true));
    await client(messageApi.withdrawGrants, {
      params: { id: messageId },
      body: { grantIds: mine.map(({ id }) => id) },
    });
    mine.forEach((one) => (one.withdrawn = true));
  };
  const kill = async (): Promise<void> => {
    for (let turn = 0; turn < KILLS; turn++) {
      await pause(1500);
      const index = turn % 2;
      processes[index]!.kill('SIGKILL');
      await once(processes[index]!, 'exit');
      processes[index] = await startProcess(house, ports[index]!);
    }
  };
  try {
    const reading = Promise.all(readers.map(read));
    await Promise.all([kill(), ...senders.map(withdraw)]);
    await pause(500);
    over = true;
    await reading;

    expect(wrong).toEqual([]);
    const withdrawn = readers.filter((one) => one.withdrawn);
    expect(withdrawn).toHaveLength(SENDERS * 3);
    const { db } = house.server.context;
    const kept = new Map(
      (
        await rows<{
          id: string;
          state: string;
          share: boolean;
          open_count: number;
          opened: string;
          withdrawn: string;
        }>(
          db,
          `
      SELECT id, state, house_share IS NOT NULL AS share, open_count,
        (SELECT count(*) FROM events WHERE grant_id = grants.id AND kind = 'opened') AS opened, (SELECT count(*) FROM events WHERE grant_id = grants.id AND kind = 'withdrawn') AS withdrawn
      FROM grants`,
        )
      ).map((row) => [row.id, row]),
    );
    for (const reader of readers) {
      const row = kept.get(reader.id)!;
      const ended = reader.withdrawn;
      expect([row.state, row.share, Number(row.withdrawn)]).toEqual(
        ended ? ['withdrawn', false, 1] : ['held', true, 0],
      );
      // One session opens once, however often its answer was lost on the way; and what was released is on record.
      expect(row.open_count).toBe(Number(row.opened));
      expect(row.open_count).toBeLessThanOrEqual(1);
      if (reader.opened > 0) expect(row.open_count).toBe(1);
      if (!ended) expect(reader.opened).toBeGreaterThan(0);
    }
    expect(withdrawn.every((one) => one.refused > 0)).toBe(true);
  } finally {
    over = true;
    for (const child of processes) {
      child.kill('SIGKILL');
      if (child.exitCode === null && child.signalCode === null) await once(child, 'exit');
    }
  }
}, 180_000);
