/**
 * One message to 10 and to 200 recipients: planned, its key split for each, dispatched over HTTP. Time a recipient,
 * turn by turn.
 */
import { randomUUID } from 'node:crypto';
import { dispatchMessage } from '../contract/src/outgoing';
import { randomBytes } from '../core/src/bytes';
import { OUR_RULES } from '../core/src/locks/file/rules';
import { ALL_WAYS } from '../core/src/ways/file-way';
import { outgoingGrant } from '../core/src/outgoing/dispatch';
import { contentKeyOf, makeKey, splitFor } from '../core/src/outgoing/split';
import { wantedGrants } from '../core/src/outgoing/wanted';
import { resolveClosing } from '../core/src/handling/closing';
import { lockKinds } from '../core/src/locks/list';
import { type Recipient } from '../core/src/locks/lock';
import { sealForRoom } from '../core/src/locks/room/seal';
import { planDelivery } from '../core/src/outgoing/delivery-plan';
import { demoMessage, demoTerms, openHouse, upload } from '../server/test/house';
import { median } from './measured';
import { type Row } from './row';

const TURNS = 5;
export async function manyRecipients(): Promise<Row[]> {
  const house = await openHouse();
  const maren = await house.worker('maren.oduya');
  const { calendar, limits } = house.server.context.config.office;
  const send = async (count: number): Promise<{ planning: number; rest: number }> => {
    const recipients = Array.from({ length: count }, (_, index): Recipient => ({
      name: `Reader ${index}`,
      address: `${randomUUID()}@postbox.example`,
      role: 'to',
      phone: `+4477009${String(10_000 + index).padStart(5, '0')}`,
    }));
    const message = demoMessage({ files: [], to: recipients.map(({ name, address }) => ({ name, address })) });
    const from = performance.now();
    const closing = resolveClosing({ kind: 'two-weeks' }, new Date(), calendar);
    const plan = planDelivery(
      {
        recipients,
        handling: { ...demoTerms, closing, leastCheck: 'text' },
        subject: message.subject,
        text: message.text,
        fileSizes: [],
        limits,
        context: {
          message: message.text,
          fileCount: 1,
          size: 1_000,
          sender: { address: maren.account.address, signs: true, signsOpenPgp: false, phones: [], addresses: [] },
          others: recipients.map(({ name, address, phone }) => ({ name, address, phone: phone! })),
        },
      },
      lockKinds,
    );
    if (!plan.ready || !closing.ok) throw new Error('The plan is not ready');
    const planned = performance.now();
    const id = randomUUID();
    const contentBlobId = randomUUID();
    const key = makeKey();
    const wanted = wantedGrants(
      { plan },
      {
        settled: [],
        people: [],
        colleagues: [],
        registered: [],
        passwords: [],
        fileRules: OUR_RULES,
        allowedWays: ALL_WAYS,
      },
    );
    const grants = await splitFor({ messageId: id, subject: message.subject }, key, wanted, randomUUID);
    await upload(maren.client, contentBlobId, await sealForRoom(message, contentKeyOf(key)));
    await maren.client(dispatchMessage, {
      params: { id },
      body: {
        contentBlobId,
        reference: '',
        handling: { ...demoTerms, closesAt: closing.closesAt },
        summary: randomBytes(64),
        grants: grants.map(outgoingGrant),
      },
    });
    return { planning: (planned - from) / count, rest: (performance.now() - planned) / count };
  };
  await send(10);
  const per: Record<10 | 200, { planning: number[]; all: number[] }> = {
    10: { planning: [], all: [] },
    200: { planning: [], all: [] },
  };
  for (let turn = 0; turn < TURNS; turn++) {
    for (const count of [10, 200] as const) {
      const { planning, rest } = await send(count);
      per[count].planning.push(planning);
      per[count].all.push(planning + rest);
    }
  }
  await house.stop();
  return [
    {
      what: 'Planned, sealed and dispatched, time a recipient, 200 ÷ 10 recipients',
      value: (median(per[200].all) / median(per[10].all)).toFixed(2),
      aim: '≤ 1.2',
    },
    {
      what: 'Planning alone, time a recipient, 200 ÷ 10 recipients',
      value: (median(per[200].planning) / median(per[10].planning)).toFixed(2),
      aim: 'known',
    },
  ];
}
