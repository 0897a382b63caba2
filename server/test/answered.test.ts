/** What answers something that came under a lock keeps one, and what is said of it is the server's to know. */
import { dispatchMessage, findAnswered } from '@under-lock/contract/outgoing';
import { getPolicy, putPolicyItem, type Ruled } from '@under-lock/contract/rules';
import { utf8 } from '@under-lock/core/bytes';
import { NO_CONTENT } from '@under-lock/core/rules/facts';
import { randomUUID } from 'node:crypto';
import { rows, run } from '../src/data/database';
import { keepIncoming } from '../src/incoming/incoming';
import { AccountRow } from '../src/data/models';
import { codeOf, demoMessage, giveKeyPair, type House, openHouse, prepare, upload, type Worker } from './house';

const LOCKED = 'Content-Type: application/pkcs7-mime; smime-type=enveloped-data; name=smime.p7m';
const SIGNED = 'Content-Type: multipart/signed; protocol="application/pkcs7-signature"; micalg=sha-256; boundary=b';
let house: House;
let maren: Worker;
beforeAll(async () => {
  house = await openHouse();
  maren = await house.worker('maren.oduya');
  await giveKeyPair(maren);
});
afterAll(() => house.stop());

/** Comes in; resolves with its number here. */
async function came(messageId: string, contentType?: string): Promise<string> {
  const head = ['From: odile@clinic.example', 'Subject: Papers', `Message-ID: <${messageId}>`, 'MIME-Version: 1.0'];
  const raw = utf8([...head, ...(contentType === undefined ? [] : [contentType]), '', 'VGhl', ''].join('\r\n'));
  const account = (await AccountRow.findByPk(maren.account.id))!;
  const { context } = house.server;
  await keepIncoming(context, account, raw, { from: 'odile@clinic.example' });
  const [{ id }] = (await rows<{ id: string }>(
    context.db,
    'SELECT id FROM incoming ORDER BY arrived_at DESC LIMIT 1',
  )) as [{ id: string }];
  return id;
}

const asked = (...answers: string[]) => maren.client(findAnswered, { body: { answers } });

type Over = Partial<Parameters<typeof prepare>[1]> & {
  inReplyTo?: string;
  answers?: string[];
  mailId?: string;
  ruled?: Ruled;
};
async function dispatched({ inReplyTo, answers, mailId, ruled, ...over }: Over): Promise<string> {
  const { id, content, contentBlobId, dispatch } = await prepare(demoMessage({ files: [] }), over);
  await upload(maren.client, contentBlobId, content);
  const said = {
    ...(inReplyTo && { inReplyTo }),
    ...(answers && { answers }),
    ...(ruled && { ruled }),
    ...(mailId && { mailId }),
  };
  await maren.client(dispatchMessage, { params: { id }, body: { ...dispatch, ...said } });
  return id;
}

test('whether what a mail names had a lock is told of one’s own mail only', async () => {
  await came('locked@clinic.example', LOCKED);
  await came('signed@clinic.example', SIGNED);
  await came('plain@clinic.example');
  expect(await asked('locked@clinic.example')).toEqual({ answered: { hadLock: true, textOpen: false } });
  expect(await asked('signed@clinic.example')).toEqual({ answered: { hadLock: false, textOpen: false } });
  expect(await asked('plain@clinic.example')).toEqual({ answered: { hadLock: false, textOpen: false } });
  expect(await asked('nothing@clinic.example')).toEqual({});
  const tobias = await house.worker('tobias.quill');
  expect(await tobias.client(findAnswered, { body: { answers: ['locked@clinic.example'] } })).toEqual({});
});

test('where only the files of what one wrote oneself were locked, the text of an answer to it may stay readable, too', async () => {
  const [texts, whole] = ['texts@larkmoor.example', 'whole@larkmoor.example'];
  await dispatched({ mailId: texts, terms: { textOpen: true } });
  await dispatched({ mailId: whole });
  expect(await asked(texts)).toEqual({ answered: { hadLock: true, textOpen: true } });
  expect(await asked(whole)).toEqual({ answered: { hadLock: true, textOpen: false } });
  await dispatched({ answers: [texts], terms: { textOpen: true } });
  expect(await codeOf(dispatched({ answers: [whole], terms: { textOpen: true } }))).toBe('below-preset');
});

test('its text stays readable in no answer to it; beside one that answers what lay open it may', async () => {
  const [locked, plain] = [await came('a@clinic.example', LOCKED), await came('b@clinic.example')];
  const terms = { textOpen: true };
  expect(await codeOf(dispatched({ inReplyTo: locked, terms }))).toBe('below-preset');
  expect(await codeOf(dispatched({ answers: ['a@clinic.example'], terms }))).toBe('below-preset');
  await dispatched({ inReplyTo: locked });
  await dispatched({ inReplyTo: plain, terms });
});

describe('where a rule stops what answers something locked', () => {
  let version: number;
  beforeAll(async () => {
    const admin = await house.worker('ines.varga', 'administrator');
    const id = randomUUID();
    const value = {
      id,
      name: 'Answers',
      sentence: 'What was locked is answered by telephone.',
      state: 'on' as const,
      when: { allOf: [{ kind: 'answering' as const, as: 'either' as const, hadLock: true }], anyOf: [], noneOf: [] },
      effects: [{ kind: 'stop' as const, sentence: 'Not so.' }],
    };
    await admin.client(putPolicyItem, {
      params: { id },
      body: { item: { kind: 'rule', value }, over: (await admin.client(getPolicy)).version },
    });
    ({ version } = await maren.client(getPolicy));
  });
  const saying = (answers?: { as: 'reply' | 'forward'; hadLock: boolean }): Ruled => ({
    version,
    content: { ...NO_CONTENT, ...(answers && { answers }) },
    withoutLock: [],
    confirmed: [],
    harmless: [],
  });

  test('it does, whatever its sender says', async () => {
    const inReplyTo = await came('c@clinic.example', LOCKED);
    for (const said of [undefined, { as: 'reply' as const, hadLock: false }])
      expect(await codeOf(dispatched({ inReplyTo, ruled: saying(said) }))).toBe('breaks-rule');
    expect(await codeOf(dispatched({ answers: ['c@clinic.example'], ruled: saying() }))).toBe('breaks-rule');
  });

  test('what lay open is answered, also where its sender says otherwise', async () => {
    const inReplyTo = await came('d@clinic.example');
    await dispatched({ inReplyTo, ruled: saying({ as: 'reply', hadLock: true }) });
  });

  test('of what came before that was kept, its sender’s word counts', async () => {
    const inReplyTo = await came('e@clinic.example');
    await run(house.server.context.db, 'UPDATE incoming SET had_lock = NULL WHERE id = $1', [inReplyTo]);
    expect(await codeOf(dispatched({ inReplyTo, ruled: saying({ as: 'reply', hadLock: true }) }))).toBe('breaks-rule');
    await dispatched({ inReplyTo, ruled: saying({ as: 'reply', hadLock: false }) });
  });
});
