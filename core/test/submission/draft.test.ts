/** What a mail from a mail program becomes, whatever it is made of; and that nothing of it opens for anybody else. */
import { makeKeyPair } from '../../src/account/key-pair';
import { type Bytes, concat, fromUtf8, piecesOf, utf8 } from '../../src/bytes';
import { makeKey } from '../../src/outgoing/split';
import { type MessageFile } from '../../src/message/content';
import { sealForOpenPgp } from '../../src/locks/openpgp/seal';
import { readSecretKey } from '../../src/openpgp/key';
import { makeOpenPgpKey } from '../../src/openpgp/make-key';
import { readEntity } from '../../src/message/entity';
import { authorOf, draftOfMail, SIGNED_FILE } from '../../src/submission/draft';
import { openHanded, openHandedLabel, sealHanded } from '../../src/submission/handed';
import { doorKeys } from '../../src/submission/keys';
import { isForOwner, openForOwner, openKept, sealForOwner } from '../../src/submission/owner';
import { devicePassword, spelledPlainly } from '../../src/submission/password';
import { sealingKey } from '../../src/sealing';
import { sealItem } from '../../src/vault/item';
import { whySchema } from '../../src/submission/why';
import { contentFacts } from '../../src/outgoing/looked';
import { contentFactsSchema } from '../../src/rules/facts';
import { NO_POLICY } from '../../src/rules/policy';
import { randomUUID } from 'node:crypto';

const account = { address: 'maren.oduya@larkmoor.example', further: ['crew@larkmoor.example'] };
const crlf = (text: string): Bytes => utf8(text.replace(/\n/g, '\r\n'));

const made = async (text: string, envelope: string[]) => {
  const files: MessageFile[] = [];
  const { draft, onlyPlain } = await draftOfMail(crlf(text), { envelope, account }, async (file) => {
    files.push(file);
    return { blobId: String(files.length), name: file.name, type: file.type, size: file.bytes.length, key: makeKey() };
  });
  return { draft, files, onlyPlain };
};

test('whom the head names is to or cc, whom it does not is unseen, and nobody is there twice', async () => {
  const { draft } = await made(
    'From: Maren <maren.oduya@larkmoor.example>\nTo: Pell Anders <PELL@postbox.example>\nCc: =?utf-8?q?J=C3=B8rn?= <jorn@postbox.example>, nobody@postbox.example\nSubject: =?utf-8?q?Pr=C3=BCfung?=\n\nText.\n',
    ['pell@postbox.example', 'jorn@postbox.example', 'wren@postbox.example', 'Pell@postbox.example', 'no address'],
  );
  expect(draft.recipients).toEqual([
    { name: 'Pell Anders', address: 'pell@postbox.example', role: 'to' },
    { name: 'Jørn', address: 'jorn@postbox.example', role: 'cc' },
    { name: '', address: 'wren@postbox.example', role: 'bcc' },
  ]);
  expect(draft).toMatchObject({ subject: 'Prüfung', text: 'Text.\n', html: 'Text.<br>\n' });
  expect(draft.from).toBeUndefined();
});

test('what a formatted mail says is its text, whatever its plain form says', async () => {
  const { draft, onlyPlain } = await made(
    'From: maren.oduya@larkmoor.example\nTo: a@b.example\nSubject: x\nMIME-Version: 1.0\nContent-Type: multipart/alternative; boundary=b\n\n--b\nContent-Type: text/plain\n\nThe roster for June.\nYour program shows no formatting.\n--b\nContent-Type: text/html; charset=utf-8\n\n<html><head><style>p { margin: 0 }</style></head><body><h1>Roster</h1><p>The <b>roster</b> for&nbsp;June.</p><ul><li>One</li><li>Two</li></ul><blockquote>As it was</blockquote></body></html>\n--b--\n',
    ['a@b.example'],
  );
  expect(draft.text).toBe('Roster\n\nThe roster for\u00a0June.\n\n• One\n• Two\n\n> As it was');
  expect(onlyPlain).toBe('Your program shows no formatting.');
});

test('files keep their names and their order, a further address is kept, and so is what it answers', async () => {
  const { draft, files } = await made(
    'From: crew@larkmoor.example\nTo: a@b.example\nSubject: x\nIn-Reply-To: <one@b.example>\nReferences: <zero@b.example>\nMIME-Version: 1.0\nContent-Type: multipart/mixed; boundary=b\n\n--b\nContent-Type: text/html; charset=utf-8\n\n<p>See <b>both</b>.</p>\n--b\nContent-Type: text/plain; name="b.txt"\nContent-Disposition: attachment\n\nsecond\n--b\nContent-Type: application/octet-stream\nContent-Disposition: attachment; filename="a.bin"\nContent-Transfer-Encoding: base64\n\nAAEC\n--b--\n',
    ['a@b.example'],
  );
  expect(draft.from).toBe('crew@larkmoor.example');
  expect(draft.answers).toEqual(['zero@b.example', 'one@b.example']);
  expect(draft.html).toBe('<p>See <b>both</b>.</p>');
  expect(files.map(({ name, bytes }) => [name, [...bytes].length])).toEqual([
    ['b.txt', 6],
    ['a.bin', 3],
  ]);
});

test('what its program signed is read, and goes along as it was signed; who is unseen stays so', async () => {
  const { secret } = await makeOpenPgpKey('wide', { name: 'Maren', addresses: [account.address] }, new Date());
  const signed = await sealForOpenPgp({
    message: {
      messageId: 'a@larkmoor.example',
      from: { name: '', address: account.address },
      to: [{ name: '', address: 'a@b.example' }],
      cc: [],
      subject: 'Terms',
      date: new Date(),
      reference: '',
      text: 'As agreed.',
      html: '',
      files: [],
    },
    signer: await readSecretKey(secret),
    recipients: [],
    form: 'mime',
    signedAt: new Date(),
    neutralSubject: '',
  });
  const raw = `Bcc: c@d.example\r\n${fromUtf8(signed)}`.replace(/\r\n/g, '\n');
  const { draft, files } = await made(raw, ['a@b.example', 'c@d.example']);
  expect(draft).toMatchObject({ subject: 'Terms', text: expect.stringContaining('As agreed.') });
  expect(files.map(({ name }) => name)).toEqual([SIGNED_FILE]);
  expect(fromUtf8(files[0]!.bytes)).toBe(fromUtf8(signed));
});

test.each([
  ['From: maren.oduya@larkmoor.example\n\nx', { address: 'maren.oduya@larkmoor.example' }],
  ['From: Crew <CREW@larkmoor.example>\n\nx', { address: 'CREW@larkmoor.example' }],
  ['From: ines.varga@larkmoor.example\n\nx', { refused: 'not-your-address' }],
  ['From: maren.oduya@larkmoor.example, ines.varga@larkmoor.example\n\nx', { refused: 'no-from' }],
  ['From: maren.oduya@larkmoor.example\nFrom: ines.varga@larkmoor.example\n\nx', { refused: 'no-from' }],
  ['To: a@b.example\n\nx', { refused: 'no-from' }],
])('%j is from %j', (text, author) => {
  expect(authorOf(readEntity(crlf(text)), account)).toEqual(author);
});

test('a mail that was handed in opens for its writer and the door, each by their own, and under its own number only', async () => {
  const [own, other] = [await makeKeyPair(), await makeKeyPair()];
  const door = await doorKeys(new Uint8Array(32).fill(7));
  const { content: flow, labels } = await sealHanded(utf8('Subject: x'), ['a@b.example'], {
    id: '1',
    account: own,
    door,
  });
  const content = concat(...(await piecesOf(flow)));
  const label = await openHandedLabel(own.privateKey, 'account', '1', labels.account);
  expect(label.to).toEqual(['a@b.example']);
  expect(fromUtf8(await openHanded(content, label))).toBe('Subject: x');
  expect(fromUtf8(await openHanded(content, await openHandedLabel(door.privateKey, 'door', '1', labels.door)))).toBe(
    'Subject: x',
  );
  for (const [key, whom, id, sealed] of [
    [other.privateKey, 'account', '1', labels.account],
    [own.privateKey, 'account', '2', labels.account],
    [own.privateKey, 'door', '1', labels.account],
    [door.privateKey, 'account', '1', labels.account],
  ] as const)
    await expect(openHandedLabel(key, whom, id, sealed)).rejects.toThrow('not-opened');
});

test('a door is the same for the same secret, and its word tells nothing of its key', async () => {
  const [one, again, another] = await Promise.all([7, 7, 8].map((octet) => doorKeys(new Uint8Array(32).fill(octet))));
  expect(again).toEqual(one);
  expect(another!.token).not.toBe(one!.token);
  expect(another!.publicKey).not.toEqual(one!.publicKey);
  expect(one!.token).toMatch(/^[\w-]{43}$/);
});

test('what is kept of a sent message opens whoever sealed it, and neither is taken for the other', async () => {
  const pair = await makeKeyPair();
  const key = await sealingKey(new Uint8Array(32).fill(1));
  const own = { key, privateKey: async () => pair.privateKey };
  const byDoor = await sealForOwner(pair, 'sent', 'a', { subject: 'By the door' });
  const byVault = await sealItem(key, 'sent', 'a', { subject: 'By the vault' });
  expect([isForOwner(byDoor), isForOwner(byVault)]).toEqual([true, false]);
  expect(await openKept(own, 'sent', 'a', byDoor)).toEqual({ subject: 'By the door' });
  expect(await openKept(own, 'sent', 'a', byVault)).toEqual({ subject: 'By the vault' });
  await expect(openKept(own, 'words', 'a', byDoor)).rejects.toThrow('not-opened');
  await expect(openForOwner(pair.privateKey, 'sent', 'a', byVault)).rejects.toThrow('malformed');
  expect(whySchema.safeParse({ subject: 1, sentences: [] }).success).toBe(false);
});

test('a device password is a hundred bits in letters that are told apart, however it is typed', () => {
  const password = devicePassword(() => new Uint8Array(13).fill(255));
  expect(password).toBe('zzzzz-zzzzz-zzzzz-zzzzz');
  const many = Array.from({ length: 200 }, () => devicePassword());
  expect(new Set(many).size).toBe(200);
  for (const one of many) {
    expect(one).toMatch(/^[0-9a-hjkmnp-tv-z]{5}(-[0-9a-hjkmnp-tv-z]{5}){3}$/);
    expect(spelledPlainly(` ${one.toUpperCase().replace(/0/g, 'o').replace(/1/g, 'I')} `)).toBe(one.replace(/-/g, ''));
  }
});

test('what rules may ask of its head comes along, and nothing that says whom or what it is about', async () => {
  const { draft } = await made(
    `From: maren.oduya@larkmoor.example\nTo: a@b.example\nBcc: c@b.example\nSubject: x\nSensitivity: Company-Confidential\nX-Dock: =?utf-8?q?N=C3=B8rd?=\nx-dock: second\nLong: ${'a'.repeat(400)}\nContent-Type: text/plain\n\nx\n`,
    ['a@b.example'],
  );
  expect(draft.headers).toEqual({ sensitivity: 'Company-Confidential', 'x-dock': 'Nørd', long: 'a'.repeat(200) });
  const rule = (name: string, value?: string) => ({
    id: randomUUID(),
    name: 'Rule',
    sentence: 'x',
    state: 'on' as const,
    when: {
      allOf: [{ kind: 'header-is' as const, name, ...(value === undefined ? {} : { value }) }],
      anyOf: [],
      noneOf: [],
    },
    effects: [],
  });
  const policy = { ...NO_POLICY, rules: [rule('sensitivity', 'company-confidential'), rule('importance')] };
  const facts = contentFacts(draft, { open: [], passed: [], files: new Map() }, policy as never);
  expect(facts.headers).toEqual({ sensitivity: 'Company-Confidential' });
  expect(contentFactsSchema.safeParse(facts).success).toBe(true);
});
