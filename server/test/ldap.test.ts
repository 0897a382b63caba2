/** The office's own directory, asked over LDAP: the real server of another house answers. */
import { searchOfficeDirectory } from '@under-lock/contract/office-book';
import { peopleOfDirectory } from '@under-lock/core/office-book/exchange';
import { withMeans } from '@under-lock/core/office-book/means';
import { readFileSync } from 'node:fs';
import { type AddressInfo } from 'node:net';
import { createServer as createSecureServer } from 'node:tls';
import { Openssl } from '../../core/test/certificate/openssl';
import { readConfig } from '../src/config';
import { type House, openHouse, type Worker } from './house';
import { type LdapDirectory, startLdap } from './ldap-directory';

const CROWD = 450;
const openssl = new Openssl();
const root = openssl.holder('root');
const certificateFor = (address: string): Uint8Array =>
  openssl.holder(
    address.replace('@', '-'),
    'p256',
    root,
    `keyUsage=critical,keyAgreement,digitalSignature\nextendedKeyUsage=emailProtection\nsubjectAltName=email:${address}`,
  ).certificate.bytes;

const problemOf = (asked: Promise<unknown>): Promise<unknown> =>
  asked.then(
    () => undefined,
    (error: unknown) => error,
  );

let directory: LdapDirectory;
let house: House;
let worker: Worker;
const settings = (one: LdapDirectory, over: Record<string, string> = {}): Record<string, string> => ({
  UNDERLOCK_LDAP_URL: one.secureUrl,
  UNDERLOCK_LDAP_BASE: one.base,
  UNDERLOCK_LDAP_USER: one.user,
  UNDERLOCK_LDAP_PASSWORD: one.password,
  UNDERLOCK_LDAP_CA: one.ca,
  ...over,
});
const ask = (holding?: string, who = worker) =>
  who.client(searchOfficeDirectory, { query: holding === undefined ? {} : { holding } });

const LEAST = { DATABASE_URL: 'x', UNDERLOCK_SECRET: 'A'.repeat(43) };

/** With the house's directory set so. */
async function setSo<T>(over: Record<string, string>, act: () => Promise<T>): Promise<T> {
  const { config } = house.server.context;
  const { ldap } = config;
  config.ldap = readConfig({ ...LEAST, ...settings(directory, over) }).ldap;
  try {
    return await act();
  } finally {
    config.ldap = ldap;
  }
}

beforeAll(async () => {
  directory = await startLdap(
    [
      ...Array.from({ length: CROWD }, (_, index) => ({
        uid: `u${index}`,
        values: { cn: `Deckhand ${index}`, mail: `hand${index}@larkmoor.example`, o: 'Larkmoor Ferries' },
      })),
      {
        uid: 'linde',
        values: {
          cn: 'Brandt',
          displayName: 'Linde Brandt (Höhe)',
          mail: ['linde@northquay.example', 'l.brandt@northquay.example'],
          o: 'North Quay',
          telephoneNumber: ['12', '+44 7700 900821'],
          preferredLanguage: 'de-DE',
          'userCertificate;binary': certificateFor('linde@northquay.example'),
        },
      },
      { uid: 'noaddress', values: { cn: 'Nobody Brandt' } },
      {
        uid: 'hostile',
        values: {
          cn: `=HYPERLINK("x")\u202Egpj\u0000 Brandt`,
          displayName: 'x'.repeat(100_000),
          mail: [...Array.from({ length: 300 }, (_, index) => `many${index}@northquay.example`)],
          telephoneNumber: '+'.repeat(5_000),
          'userCertificate;binary': certificateFor('somebody@else.example'),
        },
      },
    ],
    { elsewhere: ['ldaps://127.0.0.1:1/dc=elsewhere,dc=example', 'ldap://directory.elsewhere.example/'] },
  );
  house = await openHouse(settings(directory));
  worker = await house.worker('maren');
}, 120_000);
afterAll(async () => {
  await house.stop();
  await directory.stop();
});

test('all come, page by page; what lies elsewhere is counted and not asked', async () => {
  const { people, more, elsewhere } = await ask();
  expect(people).toHaveLength(CROWD + 2);
  expect(more).toBe(false);
  expect(elsewhere).toBe(2);
});

test('somebody found by a part of their name comes with phone, language and the certificate that is theirs', async () => {
  const { people } = await ask('brandt (höhe)');
  expect(people.map(({ name }) => name)).toEqual(['Linde Brandt (Höhe)']);
  const read = peopleOfDirectory(people, 'GB');
  if (!read.ok) throw new Error(read.problem);
  const [linde] = await Promise.all(read.people.map((one) => withMeans(one, 'directory', new Date())));
  expect(linde).toMatchObject({
    name: 'Linde Brandt (Höhe)',
    address: 'linde@northquay.example',
    firm: 'North Quay',
    phone: '+447700900821',
    language: 'de',
    certificates: [{ from: 'directory', certificate: Buffer.from(people[0]!.certificates[0]!).toString('base64url') }],
  });
});

test('what is looked for is a word and no question of its own', async () => {
  for (const holding of ['*', ')(mail=*', '*)(uid=*', '\\2a', '(|(mail=*))'])
    expect([holding, (await ask(holding)).people]).toEqual([holding, []]);
});

test('a hostile entry is cut to size, and what is somebody else’s is not taken for theirs', async () => {
  const { people } = await ask('many0@');
  expect(people).toHaveLength(1);
  const [one] = people;
  expect(one!.addresses).toHaveLength(5);
  expect(one!.name.length).toBeLessThan(300);
  const read = peopleOfDirectory(people, 'GB');
  if (!read.ok) throw new Error(read.problem);
  const taken = await withMeans(read.people[0]!, 'directory', new Date());
  expect(taken).not.toHaveProperty('certificates');
  expect(taken).not.toHaveProperty('phone');
  // eslint-disable-next-line no-control-regex -- that is what is looked for
  expect(taken.name).not.toMatch(/[\u0000-\u001f\u202a-\u202e]/);
});

test('with StartTLS as well; without the right name, password or authority nothing is told', async () => {
  expect(await setSo({ UNDERLOCK_LDAP_URL: directory.url }, async () => (await ask('höhe')).people)).toHaveLength(1);
  for (const wrong of [
    { UNDERLOCK_LDAP_PASSWORD: 'seven bells' },
    { UNDERLOCK_LDAP_URL: 'ldaps://127.0.0.1:1' },
    { UNDERLOCK_LDAP_URL: directory.byOtherName.url },
    { UNDERLOCK_LDAP_URL: directory.byOtherName.secureUrl },
    { UNDERLOCK_LDAP_BASE: 'dc=nowhere,dc=example' },
  ])
    expect([wrong, await setSo(wrong, () => problemOf(ask()))]).toEqual([
      wrong,
      expect.objectContaining({ code: 'unreachable' }),
    ]);
  const other = await startLdap([]);
  try {
    expect(await setSo({ UNDERLOCK_LDAP_CA: other.ca }, () => problemOf(ask()))).toMatchObject({
      code: 'unreachable',
    });
  } finally {
    await other.stop();
  }
});

test('a directory that never stops speaking is left', async () => {
  const endless = createSecureServer(
    { key: readFileSync(directory.key), cert: readFileSync(directory.ca) },
    (socket) => {
      socket.on('error', () => undefined);
      // An element of two gigabytes, which never comes to its end.
      socket.once('data', () => {
        socket.write(Buffer.from([0x30, 0x84, 0x7f, 0xff, 0xff, 0xff]));
        const more = (): void => {
          while (!socket.destroyed && socket.write(Buffer.alloc(1024 * 1024, 4)));
        };
        socket.on('drain', more);
        more();
      });
    },
  );
  await new Promise<void>((done) => endless.listen(0, '127.0.0.1', done));
  const { port } = endless.address() as AddressInfo;
  try {
    expect(
      await setSo({ UNDERLOCK_LDAP_URL: `ldaps://127.0.0.1:${port}`, UNDERLOCK_LDAP_SECONDS: '2' }, () =>
        problemOf(ask()),
      ),
    ).toMatchObject({ code: 'unreachable' });
  } finally {
    endless.close();
  }
});

test('where the directory gives only some, that is said', async () => {
  const few = await startLdap(
    Array.from({ length: 30 }, (_, index) => ({ uid: `u${index}`, values: { mail: `u${index}@larkmoor.example` } })),
    { mostEntries: 10 },
  );
  try {
    const { people, more } = await setSo(settings(few), () => ask());
    expect(more).toBe(true);
    expect(people.length).toBeLessThanOrEqual(10);
  } finally {
    await few.stop();
  }
});

test('an office without one has none; half of the settings is none either, and an empty password is refused', async () => {
  const without = await openHouse();
  try {
    const who = await without.worker('maren');
    expect(await problemOf(ask(undefined, who))).toMatchObject({ code: 'not-found' });
  } finally {
    await without.stop();
  }
  const all = settings(directory);
  for (const missing of ['UNDERLOCK_LDAP_BASE', 'UNDERLOCK_LDAP_PASSWORD', 'UNDERLOCK_LDAP_USER']) {
    const { [missing]: _, ...others } = all;
    expect(() => readConfig({ ...LEAST, ...others })).toThrow(missing);
  }
  expect(() => readConfig({ ...LEAST, ...all, UNDERLOCK_LDAP_PASSWORD: '' })).toThrow('UNDERLOCK_LDAP_PASSWORD');
  expect(() => readConfig({ ...LEAST, ...all, UNDERLOCK_LDAP_URL: 'http://directory' })).toThrow('UNDERLOCK_LDAP_URL');
});
