/**
 * The mail slot at the server: what anybody may do with it and what not, that whoever is behind it can open what was
 * left and the house can't, and that nothing tells a closed slot from none.
 */
import { execFileSync } from 'node:child_process';
import { createHash, randomBytes as octets } from 'node:crypto';
import { PART_BYTES, partCount } from '@under-lock/contract/blob';
import { listReceived, type IncomingMail } from '@under-lock/contract/received';
import * as slotApi from '@under-lock/contract/slot';
import { getPart } from '@under-lock/contract/blob';
import { type Bytes, concat, toBase64Url } from '@under-lock/core/bytes';
import { openIncomingKey } from '@under-lock/core/incoming/incoming';
import { openContent } from '@under-lock/core/locks/room/content';
import { readMessage } from '@under-lock/core/message/read';
import { openForTheAnswer, openSlotProof, sealFor, sealLeft, type SealedLeft } from '@under-lock/core/slot/left';
import { type Puzzles } from '@under-lock/core/slot/work';
import PostalMime from 'postal-mime';
import { rows } from '../src/data/database';
import { tellWaiting } from '../src/received/tell';
import { tidySlots } from '../src/slot/leave';
import { dispatchMessage } from '@under-lock/contract/outgoing';
import {
  codeOf,
  demoMessage,
  eventually,
  giveKeyPair,
  type House,
  type KeyPair,
  openHouse,
  prepare,
  upload,
  type Worker,
} from './house';
import { generator, mutated } from '../../core/test/mutations';
import { THOROUGH } from '../../core/test/thorough';

const MALFORMED = THOROUGH ? 10_000 : 1_000;
const TIME_FOR_MALFORMED_MS = 60 * MALFORMED;

let house: House;
let ines: Worker;
let maren: Worker;
let tobias: Worker;
const keys = new Map<Worker, KeyPair>();
let office: slotApi.MailSlot;

const randomBytes = (length: number): Bytes => new Uint8Array(octets(length));

const slotsOf = async (worker: Worker) => (await worker.client(slotApi.listSlots, {})).slots;
const officeSlot = async () => (await slotsOf(ines)).find(({ kind }) => kind === 'office')!;

beforeAll(async () => {
  house = await openHouse();
  ines = await house.worker('ines.varga', 'administrator');
  [maren, tobias] = [await house.worker('maren.oduya'), await house.worker('tobias.lind')];
  for (const worker of [maren, tobias]) keys.set(worker, await giveKeyPair(worker));
  await ines.client(slotApi.makeSlot, {
    body: { kind: 'office', people: [maren.account.id, tobias.account.id] },
  });
  office = await officeSlot();
});
afterEach(async () => {
  house.clock.real = true;
  // All tests come from one place.
  await rows(house.server.context.db, 'DELETE FROM throttles RETURNING key', []);
});
afterAll(() => house.stop());

type Visitor = ReturnType<House['visitor']>;
const LENE = 'lene.hjort@pilots.example';
/** By another implementation than the page's, and a faster one. */
function work({ challenge, rounds, bits }: Puzzles): { challenge: Bytes; solution: Bytes } {
  const start = createHash('sha256').update(challenge).digest();
  const solution = Buffer.alloc(rounds * 4);
  for (let round = 0; round < rounds; round++) {
    const block = Buffer.concat([start, Buffer.of(round), Buffer.alloc(4)]);
    let number = 0;
    while (createHash('sha256').update(block).digest().readUInt32BE() >>> (32 - bits) !== 0)
      block.writeUInt32BE(++number, start.length + 1);
    solution.writeUInt32BE(number, round * 4);
  }
  return { challenge, solution: new Uint8Array(solution) };
}
const newTicket = (): string => toBase64Url(randomBytes(32));
const look = (token: string, visitor = house.visitor()) => visitor(slotApi.lookAtSlot, { params: { token } });

const read = new Set<string>();
const digitsFor = (address: string): Promise<string> =>
  eventually(async () => {
    for (const mail of house.world.store.mails.filter((one) => one.mailbox === address && !read.has(one.id))) {
      const { subject = '' } = await PostalMime.parse(Buffer.from(mail.raw, 'base64'));
      read.add(mail.id);
      const digits = /^(\d{6}) confirms/.exec(subject)?.[1];
      if (digits !== undefined) return digits;
    }
    return undefined;
  });

const sealedMail = (over: { text?: string; files?: Bytes[]; from?: string } = {}): Promise<SealedLeft> =>
  sealLeft({
    from: { name: 'Lene Hjort', address: over.from ?? LENE },
    to: { name: office.name, address: 'slot@larkmoor.example' },
    subject: 'Pilot’s licence, renewal',
    text: over.text ?? 'Here is the renewed licence.',
    files: (over.files ?? []).map((bytes, index) => ({ name: `licence-${index}.pdf`, type: 'application/pdf', bytes })),
    date: new Date(),
  });

async function askCode(token: string, address: string, visitor: Visitor) {
  const { work: puzzles } = await look(token, visitor);
  const { attempt } = await visitor(slotApi.sendSlotCode, {
    params: { token },
    body: { address, language: 'en', work: work(puzzles) },
  });
  return { attempt, digits: await digitsFor(address) };
}

async function begin(token: string, sealed: SealedLeft, address = LENE) {
  const visitor = house.visitor();
  const ticket = newTicket();
  const body = {
    ticket,
    address,
    language: 'en',
    size: sealed.content.length,
    code: await askCode(token, address, visitor),
  };
  const begun = await visitor(slotApi.beginLeaving, { params: { token }, body });
  return { visitor, ticket, begun, body, sealed };
}
type Begun = Awaited<ReturnType<typeof begin>>;

const putPart = ({ visitor, ticket, sealed: { content } }: Begun, index: number) =>
  visitor(slotApi.putLeftPart, {
    params: { ticket, index },
    body: content.slice(index * PART_BYTES, (index + 1) * PART_BYTES),
  });

async function finish({ visitor, ticket, begun, sealed }: Begun, code = 'K7QM2-X9P3T') {
  const left = await sealFor(sealed, { code, phone: '+4915550177' }, begun.behind);
  return visitor(slotApi.leaveInSlot, { params: { ticket }, body: { left } });
}

async function leaveAll(token: string, sealed: SealedLeft, address = LENE): Promise<Begun> {
  const begun = await begin(token, sealed, address);
  for (let index = 0; index < partCount(sealed.content.length); index++) await putPart(begun, index);
  await finish(begun);
  return begun;
}

const leftTo = async (worker: Worker): Promise<IncomingMail[]> =>
  (await worker.client(listReceived, {})).messages.flatMap((one) =>
    one.kind === 'mail' && one.slot !== undefined ? [one] : [],
  );

async function opened(worker: Worker, mail: IncomingMail) {
  const { privateKey } = keys.get(worker)!;
  const key = await openIncomingKey(privateKey, mail.sealedKey, mail.id);
  const parts: Bytes[] = [];
  for (let index = 0; index < partCount(mail.size); index++)
    parts.push((await worker.client(getPart, { params: { id: mail.blobId, index } })) as Bytes);
  return {
    message: await readMessage(await openContent(concat(...parts), key)),
    proof: await openSlotProof(privateKey, mail.slot!.sealedProof, mail.id),
    answer: await openForTheAnswer(mail.slot!.sealedAnswer, key, mail.id),
  };
}

const dump = (): Buffer =>
  execFileSync('/usr/lib/postgresql/15/bin/pg_dump', ['--inserts', house.databaseUrl], {
    maxBuffer: 512 * 1024 * 1024,
  });

test('what is left is each colleague’s behind the slot, says whose mailbox was proved, and is nowhere else', async () => {
  const file = randomBytes(1_500_000);
  const sealed = await sealedMail({ text: 'The medical page is the second one.', files: [file] });
  const left = await leaveAll(office.token, sealed);
  for (const worker of [maren, tobias]) {
    const [mail] = await leftTo(worker);
    const { message, proof, answer } = await opened(worker, mail!);
    expect(message).toMatchObject({ subject: 'Pilot’s licence, renewal', from: { name: 'Lene Hjort', address: LENE } });
    expect(Buffer.compare(message.files[0]!.bytes, file)).toBe(0);
    expect(proof).toEqual({ slot: office.name, number: left.begun.number, address: LENE, proved: true });
    expect(answer).toEqual({ code: 'K7QM2-X9P3T', phone: '+4915550177' });
  }
  const [one] = await leftTo(maren);
  // One’s own copy is one’s own.
  expect(await codeOf(tobias.client(getPart, { params: { id: one!.blobId, index: 0 } }))).toBe('not-found');
  expect(await leftTo(ines)).toEqual([]);
  const all = dump();
  for (const said of [LENE, 'Lene Hjort', 'Pilot’s', 'medical page', 'licence-0', 'K7QM2', '4915550177'])
    expect([said, all.includes(said)]).toEqual([said, false]);
  expect(all.includes(Buffer.from(file.subarray(0, 40)).toString('hex'))).toBe(false);
  const receipt = await eventually(async () => {
    for (const { mailbox, raw } of house.world.store.mails) {
      const { subject, text } = await PostalMime.parse(Buffer.from(raw, 'base64'));
      if (mailbox === LENE && subject === `Received: ${left.begun.number}`) return text;
    }
    return undefined;
  });
  expect(receipt).toContain(office.name);
  expect(receipt).not.toContain('licence');
});

test('repeated, it is left once; a cut upload goes on; nothing is left before all of it is there', async () => {
  const before = (await leftTo(maren)).length;
  const left = await begin(office.token, await sealedMail({ files: [randomBytes(2_500_000)] }));
  // Who did not hear that it had begun begins nothing anew, and is asked for no other digits.
  expect(await left.visitor(slotApi.beginLeaving, { params: { token: office.token }, body: left.body })).toEqual(
    left.begun,
  );
  const count = partCount(left.sealed.content.length);
  await putPart(left, 2);
  expect(await codeOf(finish(left))).toBe('upload-incomplete');
  const { received } = await left.visitor(slotApi.getLeaving, { params: { ticket: left.ticket } });
  expect(received).toEqual([2]);
  for (let index = 0; index < count; index++) if (!received.includes(index)) await putPart(left, index);
  const [first, second] = await Promise.all([finish(left), finish(left)]);
  expect(second).toEqual(first);
  expect(await finish(left)).toEqual(first);
  expect(await left.visitor(slotApi.getLeaving, { params: { ticket: left.ticket } })).toEqual({
    received: [],
    leftAt: first.leftAt,
  });
  expect((await leftTo(maren)).length).toBe(before + 1);
  expect((await leftTo(tobias)).length).toBe(before + 1);
});

test('a closed slot, one with another link by now and none at all answer alike, also in the middle', async () => {
  const left = await begin(office.token, await sealedMail());
  await putPart(left, 0);
  const told = (token: string) => look(token).catch((error: { details: object }) => error.details);
  const none = await told('A'.repeat(16));
  expect(none).toMatchObject({ code: 'not-found' });
  const params = { id: office.id };
  await ines.client(slotApi.putSlot, { params, body: { open: false, proves: true } });
  expect(await told(office.token)).toEqual(none);
  expect(await codeOf(finish(left))).toBe('not-found');
  await ines.client(slotApi.putSlot, { params, body: { open: true, proves: true } });
  const old = office.token;
  const { token } = await ines.client(slotApi.renewSlotLink, { params });
  expect(await told(old)).toEqual(none);
  office = await officeSlot();
  expect(office.token).toBe(token);
  // What had begun by the old link is still welcome.
  await finish(left);
});

test('a mailbox is proved by whoever asked, by the digits sent there, once', async () => {
  const visitor = house.visitor();
  const address = 'piet.maas@lotsen.example';
  const { attempt, digits } = await askCode(office.token, address, visitor);
  const other = digits === '000000' ? '111111' : '000000';
  const tryWith = (over: object) =>
    visitor(slotApi.beginLeaving, {
      params: { token: office.token },
      body: { ticket: newTicket(), address, language: 'en', size: 100, code: { attempt, digits }, ...over },
    });
  expect(await codeOf(tryWith({ code: undefined }))).toBe('not-identified');
  expect(await codeOf(tryWith({ code: { attempt, digits: other } }))).toBe('wrong-code');
  expect(await codeOf(tryWith({ address: LENE }))).not.toBe('resolved');
  expect(await codeOf(tryWith({ code: { attempt: newTicket(), digits } }))).not.toBe('resolved');
  await tryWith({});
  expect(await codeOf(tryWith({}))).toBe('passcode-expired');
});

test('work is for one slot, once, and for an hour', async () => {
  await tobias.client(slotApi.makeSlot, { body: { kind: 'colleague' } });
  const own = (await slotsOf(tobias)).find(({ kind }) => kind === 'colleague')!;
  await tobias.client(slotApi.putSlot, { params: { id: own.id }, body: { open: true, proves: false } });
  const visitor = house.visitor();
  const beginWith = (done: { challenge: Bytes; solution: Bytes } | undefined) =>
    visitor(slotApi.beginLeaving, {
      params: { token: own.token },
      body: {
        ticket: newTicket(),
        address: 'nobody.known@elsewhere.example',
        language: 'en',
        size: 100,
        ...(done === undefined ? {} : { work: done }),
      },
    });
  const fresh = async (token: string) => work((await look(token)).work as Puzzles);
  const done = await fresh(own.token);
  expect(await codeOf(beginWith(undefined))).toBe('conflict');
  expect(await codeOf(beginWith({ ...done, solution: new Uint8Array(64) }))).toBe('conflict');
  expect(await codeOf(beginWith(await fresh(office.token)))).toBe('conflict');
  expect(await codeOf(beginWith({ challenge: randomBytes(56), solution: done.solution }))).toBe('conflict');
  await beginWith(done);
  expect(await codeOf(beginWith(done))).toBe('conflict');
  const late = await fresh(own.token);
  house.clock.real = false;
  house.clock.now = new Date(Date.now() + 61 * 60_000);
  expect(await codeOf(beginWith(late))).toBe('conflict');
});

test('what nobody proved is said to be so', async () => {
  const own = (await slotsOf(tobias)).find(({ kind }) => kind === 'colleague')!;
  const visitor = house.visitor();
  const sealed = await sealedMail({ from: 'chief@harbourclinic.example' });
  const ticket = newTicket();
  const begun = await visitor(slotApi.beginLeaving, {
    params: { token: own.token },
    body: {
      ticket,
      address: 'chief@harbourclinic.example',
      language: 'en',
      size: sealed.content.length,
      work: work((await look(own.token)).work as Puzzles),
    },
  });
  const left = { visitor, ticket, begun, sealed } as Begun;
  await putPart(left, 0);
  await finish(left);
  const [mail] = await leftTo(tobias);
  expect((await opened(tobias, mail!)).proof).toMatchObject({ proved: false, slot: own.name });
  expect((await leftTo(maren)).map(({ id }) => id)).not.toContain(mail!.id);
});

test('who has answered what was left is seen by the others behind the slot, and by nobody else', async () => {
  await leaveAll(office.token, await sealedMail({ from: LENE }));
  const [hers] = await leftTo(maren);
  const [his] = await leftTo(tobias);
  const asked = ({ client }: Worker, mail: IncomingMail) =>
    client(slotApi.askSlotSender, { params: { id: mail.id }, body: { address: LENE } });
  expect((await asked(maren, hers!)).answers).toEqual([]);
  const { id, content, contentBlobId, dispatch } = await prepare(demoMessage({ files: [] }));
  await upload(tobias.client, contentBlobId, content);
  await tobias.client(dispatchMessage, { params: { id }, body: { ...dispatch, inReplyTo: his!.id } });
  const { answers } = await asked(maren, hers!);
  expect(answers).toEqual([{ name: tobias.account.name, at: expect.any(Date) }]);
  // One’s own answer one knows of; and another thing that was left is another thing.
  expect((await asked(tobias, his!)).answers).toEqual([]);
  await leaveAll(office.token, await sealedMail({ from: LENE }));
  const [later] = await leftTo(maren);
  expect(later!.id).not.toBe(hers!.id);
  expect((await asked(maren, later!)).answers).toEqual([]);
});

test('a blocked sender leaves nothing more, and learns it only with the mailbox proved', async () => {
  const address = 'rude@postbox.example';
  await leaveAll(office.token, await sealedMail({ from: address }), address);
  const [mail] = await leftTo(maren);
  const params = { id: mail!.id };
  await maren.client(slotApi.putSlotSender, { params, body: { address: 'Rude@Postbox.example', blocked: true } });
  expect(await maren.client(slotApi.askSlotSender, { params, body: { address } })).toMatchObject({
    blocked: true,
    slot: { name: office.name },
  });
  expect(dump().includes('rude@postbox')).toBe(false);
  const seen = (await look(office.token)).name;
  expect(seen).toBe(office.name);
  expect(await codeOf(begin(office.token, await sealedMail(), address))).toBe('not-allowed');
  await maren.client(slotApi.putSlotSender, { params, body: { address, blocked: false } });
  await leaveAll(office.token, await sealedMail(), 'rude@postbox.example');
  // A mail that is somebody else’s, and a slot one is not behind.
  expect(await codeOf(tobias.client(slotApi.askSlotSender, { params, body: { address } }))).toBe('not-found');
});

test('slots are changed by whose they are: one’s own by oneself, the office’s by administrators', async () => {
  const params = { id: office.id };
  const body = { open: false, proves: false };
  expect(await codeOf(maren.client(slotApi.putSlot, { params, body }))).toBe('not-found');
  expect(await codeOf(maren.client(slotApi.renewSlotLink, { params }))).toBe('not-found');
  expect(
    await codeOf(maren.client(slotApi.makeSlot, { body: { kind: 'department', department: 'Crew records' } })),
  ).toBe('not-allowed');
  const [own] = await slotsOf(tobias);
  expect(own).toMatchObject({ kind: 'colleague', mine: true });
  expect(await codeOf(ines.client(slotApi.putSlot, { params: { id: own!.id }, body }))).toBe('not-found');
  expect((await slotsOf(maren)).map(({ kind, mine }) => [kind, mine])).toEqual([['office', false]]);
  // Made twice is one.
  const [a, b] = await Promise.all(
    [1, 2].map(() => ines.client(slotApi.makeSlot, { body: { kind: 'department', department: 'Berths' } })),
  );
  expect(a).toEqual(b);
});

test('behind a department’s slot is who works there now; without anybody it is as closed', async () => {
  const slot = (await slotsOf(ines)).find(({ kind }) => kind === 'department')!;
  expect(slot.people).toEqual([]);
  expect(await codeOf(look(slot.token))).toBe('not-found');
  const move = (worker: Worker, departments: string[]) =>
    rows(house.server.context.db, 'UPDATE accounts SET departments = $2::jsonb WHERE id = $1 RETURNING id', [
      worker.account.id,
      JSON.stringify(departments),
    ]);
  await move(maren, ['Berths']);
  const left = await begin(slot.token, await sealedMail());
  expect(left.begun.behind).toHaveLength(1);
  await putPart(left, 0);
  // Who left meanwhile gets nothing; who came meanwhile has nothing sealed to them.
  await move(maren, []);
  await move(tobias, ['Berths']);
  expect(await codeOf(finish(left))).toBe('not-found');
  await move(tobias, []);
});

test('what is begun and never left is bounded, is no colleague’s burden, and goes after a day', async () => {
  const begun = await begin(office.token, await sealedMail({ files: [randomBytes(1_200_000)] }));
  await putPart(begun, 0);
  house.clock.real = false;
  house.clock.now = new Date(Date.now() + 2 * 86_400_000);
  await tidySlots(house.server.context);
  expect(await codeOf(begun.visitor(slotApi.getLeaving, { params: { ticket: begun.ticket } }))).toBe('not-identified');
  const [lying] = await rows<{ count: number }>(
    house.server.context.db,
    'SELECT count(*)::int AS count FROM blobs WHERE left_id IS NOT NULL',
    [],
  );
  expect(lying!.count).toBe(0);
  const [kept] = await rows<{ count: number }>(
    house.server.context.db,
    'SELECT count(*)::int AS count FROM incoming WHERE slot_id IS NOT NULL',
    [],
  );
  expect(kept!.count).toBeGreaterThan(0);
});

test(
  'thousands of malformed submissions are refused, leave nothing, and the slot goes on',
  async () => {
    const random = generator(Number(process.env.UNDERLOCK_SEED ?? 7));
    const before = (await leftTo(maren)).length;
    const left = await begin(office.token, await sealedMail());
    const sound = {
      begin: JSON.stringify({ ...left.body, ticket: newTicket(), code: { attempt: newTicket(), digits: '123456' } }),
      leave: JSON.stringify({
        left: left.begun.behind.map(({ id }) => ({ id, sealedKey: 'AA', sealedSummary: 'AA' })),
      }),
    };
    const targets = [
      [`/slot/api/slots/${office.token}`, sound.begin],
      [`/slot/api/slots/${office.token}/code`, sound.begin],
      [`/slot/api/left/${left.ticket}`, sound.leave],
      [`/slot/api/left/${newTicket()}`, sound.leave],
    ] as const;
    for (let count = 0; count < MALFORMED; count++) {
      const [path, body] = targets[count % targets.length]!;
      const { status } = await fetch(house.origin + path, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', Origin: house.origin },
        body: mutated(new TextEncoder().encode(body), random),
      });
      expect([path, status >= 400 && status < 500]).toEqual([path, true]);
    }
    expect((await leftTo(maren)).length).toBe(before);
    await putPart(left, 0);
    await finish(left);
    expect((await leftTo(maren)).length).toBe(before + 1);
  },
  TIME_FOR_MALFORMED_MS,
);

test('who is away is told by mail that something was left, and nothing of it', async () => {
  await maren.client(slotApi.listSlots, {});
  house.clock.real = false;
  house.clock.now = new Date(Date.now() + 2 * 60_000);
  await leaveAll(office.token, await sealedMail());
  house.clock.now = new Date(house.clock.now.getTime() + 6 * 60_000);
  await tellWaiting(house.server.context);
  const mail = await eventually(async () => {
    const found = house.world.store.mails.filter(({ mailbox }) => mailbox === maren.account.address).at(-1);
    return found === undefined ? undefined : PostalMime.parse(Buffer.from(found.raw, 'base64'));
  });
  expect(mail.subject).toMatch(/is held for you/);
  expect(JSON.stringify(mail)).not.toMatch(/Lene|licence|Pilot/);
});
