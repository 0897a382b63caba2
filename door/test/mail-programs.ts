/** A door before a house, and mail programs of other people that hand mail in at it. */
import { putPreset, setDefaultPreset } from '@under-lock/contract/handling';
import { getPolicy, putPolicyItem } from '@under-lock/contract/rules';
import { addDevice, listHanded } from '@under-lock/contract/submission';
import { type Rule } from '@under-lock/core/rules/rule';
import { openForOwner } from '@under-lock/core/submission/owner';
import { type Why } from '@under-lock/core/submission/why';
import { doorKeys } from '@under-lock/core/submission/keys';
import { randomBytes } from '@under-lock/core/bytes';
import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { demoTerms, giveKeyPair, type House, type KeyPair, openHouse, type Worker } from '../../server/test/house';
import { localCertificate } from './local-certificate';
import { type RunningDoor, startDoor } from '../src/door';

export interface DoorHouse extends House {
  door: RunningDoor;
  /** A PEM file: the authority that the door's certificate is known by. */
  ca: string;
  /** What the door said of itself: never a subject, an address or a password. */
  said: string[];
  closeDoor(): Promise<void>;
  reopenDoor(): Promise<void>;
}

export interface Correspondent extends Worker {
  key: KeyPair;
  deviceId: string;
  password: string;
}

export async function openDoorHouse(): Promise<DoorHouse> {
  const secret = randomBytes(32);
  const { token } = await doorKeys(secret);
  const house = await openHouse({ UNDERLOCK_SUBMISSION_TOKEN: token });
  const { cert, key } = localCertificate();
  const said: string[] = [];
  const log = {
    info: (event: string, data: object = {}) => void said.push(JSON.stringify({ event, ...data })),
    error: (event: string, error: unknown, data: object = {}) =>
      void said.push(JSON.stringify({ event, error: String(error), ...data })),
  };
  const start = (startTls = 0, tls = 0): Promise<RunningDoor> =>
    startDoor(
      {
        server: house.origin,
        secret,
        listen: '127.0.0.1',
        host: 'localhost',
        startTls,
        tls,
        cert: readFileSync(cert),
        key: readFileSync(key),
        threadFile: join(__dirname, '../../dist/dealing.mjs'),
      },
      log,
    );
  const made: DoorHouse = Object.assign(house, {
    door: await start(),
    ca: cert,
    said,
    closeDoor: () => made.door.stop(),
    async reopenDoor() {
      made.door = await start(made.door.startTls, made.door.tls);
    },
  });
  const { stop } = house;
  made.stop = async () => {
    await made.door.stop();
    await stop();
  };
  return made;
}

/** Somebody of the office with a mail program. */
export async function correspondent(house: House, name: string): Promise<Correspondent> {
  const worker = await house.worker(name);
  const key = await giveKeyPair(worker);
  const { id, password } = await worker.client(addDevice, { body: { name: 'Desk at home' } });
  return { ...worker, key, deviceId: id, password };
}

/** The preset that everything goes under: for two weeks, and for anybody. */
export async function papersPreset({ client }: Worker, { copies }: { copies: boolean }): Promise<void> {
  const id = randomUUID();
  const terms = {
    ...demoTerms,
    audience: 'anyone' as const,
    closing: { kind: 'two-weeks' as const },
    copies,
    receipt: false,
    remindHours: 0,
    mayLoosen: { closing: false, identity: false, rights: false },
  };
  await client(putPreset, {
    params: { id },
    body: { name: 'Papers', sentence: 'For papers.', terms, active: true },
  });
  await client(setDefaultPreset, { body: { id } });
}

/** A rule of the office that is on, as an administrator makes it. */
export async function makeRule(
  { client }: Worker,
  name: string,
  allOf: Rule['when']['allOf'],
  effects: Rule['effects'],
): Promise<void> {
  const value: Rule = {
    id: randomUUID(),
    name,
    sentence: 'As the office wants it.',
    state: 'on',
    when: { allOf, anyOf: [], noneOf: [] },
    effects,
  };
  const { version: over } = await client(getPolicy);
  await client(putPolicyItem, { params: { id: value.id }, body: { item: { kind: 'rule', value }, over } });
}

/** Why each of their mails waits, as their browser reads it. */
export const whysOf = async ({ client, key }: Correspondent): Promise<Why[]> =>
  Promise.all(
    (await client(listHanded)).mails.map(
      ({ id, why }) => openForOwner(key.privateKey, 'waits', id, why!) as Promise<Why>,
    ),
  );

const handedIn = mkdtempSync(join(tmpdir(), 'under-lock-handed-'));

/** These octets, line ends included, and waits until they are dealt with. @throws Error with what the door said */
export async function handIn(
  house: DoorHouse,
  { account: { address }, password }: Correspondent,
  raw: string | Uint8Array,
  to: readonly string[],
): Promise<void> {
  const file = join(handedIn, `${randomUUID()}.eml`);
  writeFileSync(file, raw);
  const { code, out } = await python(house, [
    "s.ehlo('here'); s.starttls(context=c); s.ehlo('here')",
    `s.login(${JSON.stringify(address)}, ${JSON.stringify(password)})`,
    `s.sendmail(${JSON.stringify(address)}, ${JSON.stringify(to)}, open(${JSON.stringify(file)}, 'rb').read())`,
  ]);
  if (code !== 0) throw new Error(out);
  await house.door.idle();
}

export interface Ran {
  code: number;
  out: string;
}

/** With what it said on both of its lines. */
/** Only so that a program that hangs ends: how long one takes says nothing on a busy machine. */
const HANGS_MS = 240_000;

export const ran = (program: string, args: string[], input = '', env: Record<string, string> = {}): Promise<Ran> =>
  new Promise((resolve) => {
    const child = execFile(program, args, { timeout: HANGS_MS, env: { ...process.env, ...env } }, (error, out, err) =>
      resolve({
        code: error === null ? 0 : Number(error.code ?? 1),
        out: `${error?.killed === true ? 'It hung, and was ended.' : ''}${out}\n${err}`,
      }),
    );
    child.stdin!.end(input);
  });

/** Python's smtplib, told what to do line by line; `s` is the connection before anything was said. */
export const python = ({ door, ca }: DoorHouse, lines: string[], { tls = false } = {}): Promise<Ran> =>
  ran('python3', [
    '-c',
    [
      'import smtplib, ssl, sys',
      `c = ssl.create_default_context(cafile=${JSON.stringify(ca)})`,
      tls
        ? `s = smtplib.SMTP_SSL('localhost', ${door.tls}, context=c)`
        : `s = smtplib.SMTP('localhost', ${door.startTls})`,
      ...lines,
    ].join('\n'),
  ]);
