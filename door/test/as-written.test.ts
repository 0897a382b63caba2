/** Mail that leaves as its program made it: open where a rule of the office says so, and what is locked already. */
import { dispatchMessage, getSent, listSent } from '@under-lock/contract/outgoing';
import { getPolicy } from '@under-lock/contract/rules';
import { utf8 } from '@under-lock/core/bytes';
import { readCertificate } from '@under-lock/core/certificate/certificate';
import { sealForCertificates } from '@under-lock/core/locks/certificate/seal';
import { buildMessage } from '@under-lock/core/message/build';
import { failedDelivery } from '@under-lock/core/message/delivery-report';
import { NO_CONTENT } from '@under-lock/core/rules/facts';
import { openedOutside } from '@under-lock/standins/mail-program';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { AccountRow } from '../../server/src/data/models';
import { keepIncoming } from '../../server/src/incoming/incoming';
import { publishedKeys } from '../../server/src/mail/dkim';
import { tellFailures } from '../../server/src/outgoing/failures';
import { codeOf, demoMessage, eventually, prepare, upload, type Worker } from '../../server/test/house';
import {
  type Correspondent,
  correspondent,
  type DoorHouse,
  handIn,
  makeRule,
  openDoorHouse,
  papersPreset,
  ran,
  whysOf,
} from './mail-programs';

const MAREN = 'maren.oduya@larkmoor.example';
const CLINIC = 'records@harbourclinic.example';
const folder = mkdtempSync(join(tmpdir(), 'under-lock-door-'));
let house: DoorHouse;
let maren: Correspondent;
let admin: Worker;

beforeAll(async () => {
  house = await openDoorHouse();
  maren = await correspondent(house, 'maren.oduya');
  admin = await house.worker('ines.varga', 'administrator');
  await papersPreset(admin, { copies: true });
}, 120_000);
afterAll(() => house.stop());

const arrived = (mailbox: string, containing: string): Promise<string> =>
  eventually(() =>
    house.world.store.mails
      .filter((mail) => mail.mailbox === mailbox)
      .map(({ raw }) => Buffer.from(raw, 'base64').toString('latin1'))
      .find((raw) => raw.includes(containing)),
  );

describe('where no rule lets it leave open', () => {
  test('what is locked already goes as it is to everybody, those unseen included, and opens in their program', async () => {
    const authorities = await house.world.authorities();
    const { certificate } = authorities.correspondent(CLINIC)!;
    const raw = await sealForCertificates({
      message: demoMessage({ from: { name: '', address: MAREN }, to: [{ name: '', address: CLINIC }], files: [] }),
      recipients: [
        { certificate: readCertificate(new Uint8Array(Buffer.from(certificate, 'base64'))), capabilities: undefined },
      ],
      neutralSubject: 'A message',
      signer: undefined,
    });
    await handIn(house, maren, raw, [CLINIC, 'wren.ashby@postbox.example']);
    const [sent] = (await maren.client(listSent)).messages;
    expect(sent!.copies.map(({ address, lock }) => [address, lock])).toEqual([
      [CLINIC, 'certificate'],
      ['wren.ashby@postbox.example', 'certificate'],
    ]);
    const body = Buffer.from(raw).toString('latin1').split('\r\n\r\n').slice(1).join('\r\n\r\n').trimEnd();
    const there = await arrived(CLINIC, body);
    expect(there).toMatch(/^DKIM-Signature: /);
    await arrived('wren.ashby@postbox.example', body);
    const found = await openedOutside(new Uint8Array(Buffer.from(there, 'latin1')), CLINIC, house.world);
    expect(found).toMatchObject({ by: 'certificate', encrypted: true });
  });

  test('a readable mail waits; so does one that only says that it is encrypted', async () => {
    await handIn(house, maren, `From: ${MAREN}\r\nTo: pell@postbox.example\r\nSubject: Readable\r\n\r\nText.`, [
      'pell@postbox.example',
    ]);
    await handIn(
      house,
      maren,
      `From: ${MAREN}\r\nTo: pell@postbox.example\r\nSubject: Pretended\r\nMIME-Version: 1.0\r\nContent-Type: application/pkcs7-mime; smime-type=enveloped-data\r\nContent-Transfer-Encoding: base64\r\n\r\nVGhlIHRleHQ=\r\n`,
      ['pell@postbox.example'],
    );
    expect((await whysOf(maren)).map(({ subject }) => subject).sort()).toEqual(['Pretended', 'Readable']);
    expect(house.world.store.mails.filter(({ mailbox }) => mailbox === 'pell@postbox.example')).toEqual([]);
  });
});

describe('where a rule lets what mail programs hand in leave open', () => {
  const rawOpen = [
    `From: Maren Oduya <${MAREN}>`,
    'To: Pell Anders <pell@postbox.example>',
    'Cc:  nobody.here@elsewhere.example ',
    'Bcc: wren.ashby@postbox.example',
    'Subject: =?utf-8?q?F=C3=A4hrplan?=',
    'X-Mailer: odd   spacing',
    'MIME-Version: 1.0',
    'Content-Type: text/plain; charset=iso-8859-1',
    'Content-Transfer-Encoding: quoted-printable',
    '',
    'F=E4hren fahren =',
    'um sieben.',
    '.',
    '',
  ].join('\r\n');

  beforeAll(() =>
    makeRule(
      admin,
      'Timetables',
      [{ kind: 'header-is', name: 'x-mailer', value: 'odd   spacing' }],
      [{ kind: 'programs-leave-open' }],
    ),
  );

  test('it arrives octet for octet, signed by the office, and nobody unseen is named; Sent says that it was open and why', async () => {
    await handIn(house, maren, rawOpen, ['pell@postbox.example', 'wren.ashby@postbox.example']);
    const [sent] = (await maren.client(listSent)).messages;
    expect(sent!.copies.map(({ address, role, lock }) => [address, role, lock])).toEqual([
      ['pell@postbox.example', 'to', 'open'],
      ['wren.ashby@postbox.example', 'bcc', 'open'],
    ]);
    expect(await maren.client(getSent, { params: { id: sent!.id } })).toMatchObject({
      handling: { clear: true },
      openReason: 'Handed in by a mail program; the rule “Timetables” lets it leave open',
      byProgram: 'Desk at home',
    });
    const kept = rawOpen.replace(/^Bcc:.*\r\n/m, '');
    for (const mailbox of ['pell@postbox.example', 'wren.ashby@postbox.example']) {
      const there = await arrived(mailbox, 'hren fahren');
      expect(there.slice(there.indexOf('Message-ID: '))).toMatch(/^Message-ID: <[^>]+@larkmoor\.example>\r\nDate: /);
      expect(there.trimEnd().endsWith(kept.trimEnd())).toBe(true);
      expect(there).not.toContain('wren.ashby@');
    }
  });

  test('somebody else’s program finds the office’s signature over it right', async () => {
    const there = await arrived('pell@postbox.example', 'hren fahren');
    const [key] = await publishedKeys(house.server.context);
    const file = join(folder, 'arrived.eml');
    writeFileSync(file, Buffer.from(there, 'latin1'));
    const program = `import dkim, sys; print(dkim.verify(open(sys.argv[1], 'rb').read(), dnsfunc=lambda name, timeout=5: sys.argv[2].encode()))`;
    const { code, out } = await ran('/usr/bin/python3', ['-c', program, file, key!.record.value]);
    expect([code, out.trim()]).toEqual([0, 'True']);
  });

  test('what the next host refuses comes back to its writer as a delivery report, once', async () => {
    const to = 'no-such-person@postbox.example';
    await handIn(house, maren, rawOpen.replace(/^To: .*$/m, `To: ${to}`), [to]);
    await eventually(async () => {
      const [sent] = (await maren.client(listSent)).messages;
      return sent!.copies.find(({ state }) => state === 'refused');
    });
    for (let times = 0; times < 2; times++) await tellFailures(house.server.context);
    const reports = house.world.store.mails
      .filter(({ mailbox }) => mailbox === MAREN)
      .map(({ raw }) => new Uint8Array(Buffer.from(raw, 'base64')))
      .flatMap((raw) => failedDelivery(raw) ?? []);
    expect(reports).toEqual([expect.stringMatching(/^550 /)]);
  });

  test('what answers something that came under a lock is not among it, and keeps a lock', async () => {
    const { context } = house.server;
    const account = (await AccountRow.findByPk(maren.account.id))!;
    for (const [id, type] of [
      ['locked', 'application/pkcs7-mime; smime-type=enveloped-data'],
      ['plain', 'text/plain'],
    ])
      await keepIncoming(
        context,
        account,
        utf8(
          `From: ${CLINIC}\r\nSubject: Berths\r\nMessage-ID: <${id}@clinic.example>\r\nContent-Type: ${type}\r\n\r\nVGhl\r\n`,
        ),
        { from: CLINIC },
      );
    const answer = (id: string) =>
      rawOpen
        .replace('MIME-Version', `In-Reply-To: <${id}@clinic.example>\r\nMIME-Version`)
        .replace(/^Subject:.*$/m, `Subject: Answer to ${id}`);
    await handIn(house, maren, answer('plain'), ['pell@postbox.example']);
    await arrived('pell@postbox.example', 'Answer to plain');
    await handIn(house, maren, answer('locked'), ['pell@postbox.example']);
    expect(await whysOf(maren)).toContainEqual({
      subject: 'Answer to locked',
      sentences: ['Pell Anders: phone number for the passcode missing'],
    });
    expect(house.world.store.mails.map(({ raw }) => atob(raw)).join()).not.toContain('Answer to locked');
  });

  test('what goes round in circles is refused, and says by whom', async () => {
    const round = 'Received: by relay.larkmoor.example with ESMTP; Wed, 25 Nov 2026 10:00:00 +0000\r\n'.repeat(61);
    await expect(handIn(house, maren, round + rawOpen, ['pell@postbox.example'])).rejects.toThrow(
      /554.*5\.4\.6 This mail goes round in circles/,
    );
  });

  test('a rule that asks for more wins: it waits, and nothing of it left', async () => {
    await makeRule(
      admin,
      'The clinic’s files',
      [{ kind: 'recipient-at', domains: ['harbourclinic.example'] }],
      [{ kind: 'lock-files' }],
    );
    await handIn(house, maren, rawOpen.replace(/^Subject:.*$/m, 'Subject: Berths'), ['pell@postbox.example', CLINIC]);
    expect((await whysOf(maren)).map(({ subject }) => subject)).toContain('Berths');
  });

  test('the permission is for what a mail program handed in: a browser does not get it', async () => {
    await makeRule(admin, 'Everything', [], [{ kind: 'programs-leave-open' }]);
    const copy = buildMessage(
      demoMessage({
        from: { name: '', address: MAREN },
        to: [{ name: '', address: 'pell@postbox.example' }],
        files: [],
      }),
    );
    const prepared = await prepare(demoMessage({ files: [] }), { addresses: [] });
    const blobId = randomUUID();
    await upload(maren.client, prepared.contentBlobId, prepared.content);
    await upload(maren.client, blobId, copy);
    const { version } = await admin.client(getPolicy);
    const recipients = [{ id: randomUUID(), address: 'pell@postbox.example', name: '', role: 'to' as const }];
    const body = {
      ...prepared.dispatch,
      grants: [],
      handling: { ...prepared.dispatch.handling, clear: true, copies: true },
      openReason: 'Because',
      copies: [{ id: randomUUID(), lock: 'open' as const, blobId, recipients }],
      ruled: { version, content: NO_CONTENT, withoutLock: [], confirmed: [], harmless: [] },
    };
    expect(await codeOf(maren.client(dispatchMessage, { params: { id: prepared.id }, body }))).toBe('below-preset');
  });
});
