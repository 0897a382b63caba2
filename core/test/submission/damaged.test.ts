/** Damaged mails, as mail programs and relays may hand them in: each is a draft or is refused, and nothing else happens. */
import { type Bytes, utf8 } from '../../src/bytes';
import { buildMessage } from '../../src/message/build';
import { EntityError, readEntity } from '../../src/message/entity';
import { hopsOf } from '../../src/message/hops';
import { MessageReadError } from '../../src/message/read';
import { asItLeaves } from '../../src/outgoing/as-it-came';
import { draftSchema } from '../../src/outgoing/draft';
import { makeKey } from '../../src/outgoing/split';
import { authorOf, draftOfMail } from '../../src/submission/draft';
import { readHead } from '../../src/incoming/incoming';
import { readDamaged } from '../mutations';

const account = { address: 'maren.oduya@larkmoor.example', further: [] };
const crlf = (lines: string[]): Bytes => utf8(lines.join('\r\n'));
const head = ['From: Maren <maren.oduya@larkmoor.example>', 'To: =?utf-8?q?J=C3=B8rn?= <jorn@postbox.example>'];

const mails: Bytes[] = [
  buildMessage({
    messageId: 'a@larkmoor.example',
    from: { name: 'Maren Oduya', address: account.address },
    to: [{ name: 'Pell Anders', address: 'pell@postbox.example' }],
    cc: [],
    subject: 'Prüfung – Fähren',
    date: new Date('2026-11-26T09:00:00Z'),
    reference: 'CR/1',
    text: 'Text.',
    html: '<p>Text, <b>formatted</b></p><ul><li>One<li>Two</ul>',
    answers: ['b@postbox.example'],
    files: [{ name: 'Übersicht.csv', type: 'text/csv', bytes: utf8('1;2') }],
  }),
  crlf([
    ...head,
    'Subject: =?iso-2022-jp?B?GyRCRnxLXBsoQg==?=',
    'MIME-Version: 1.0',
    'Content-Type: multipart/signed; protocol="application/pgp-signature"; boundary=s',
    '',
    '--s',
    'Content-Type: text/plain; charset=windows-1252; format=flowed',
    'Content-Transfer-Encoding: quoted-printable',
    '',
    'As =E4greed =',
    'by phone.',
    '--s',
    'Content-Type: application/pgp-signature',
    '',
    '-----BEGIN PGP SIGNATURE-----',
    '',
    'abcd',
    '-----END PGP SIGNATURE-----',
    '--s--',
    '',
  ]),
  crlf([
    ...head,
    'Subject: Fwd',
    'MIME-Version: 1.0',
    'Content-Type: multipart/mixed; boundary="a b"',
    '',
    'before',
    '--a b',
    'Content-Type: message/rfc822',
    '',
    'From: x@y.example',
    'Content-Type: multipart/alternative; boundary=i',
    '',
    '--i',
    'Content-Type: text/html',
    '',
    '<table><tr><td>one<td>two</table>',
    '--i--',
    '--a b--',
    'after',
  ]),
  crlf([
    ...head,
    'MIME-Version: 1.0',
    'Content-Type: application/pkcs7-mime; smime-type=enveloped-data; name=smime.p7m',
    'Content-Transfer-Encoding: base64',
    '',
    'MIIBpQYJKoZIhvcNAQcDoIIBljCCAZICAQAxggFNMIIBSQIB',
  ]),
];

async function taken(raw: Bytes): Promise<void> {
  hopsOf(raw);
  readHead(raw, '');
  authorOf(readEntity(raw), account);
  asItLeaves(raw, { messageId: 'a@larkmoor.example', date: new Date(0) });
  const { draft } = await draftOfMail(
    raw,
    { envelope: ['pell@postbox.example'], account },
    async ({ name, type, bytes }) => ({ blobId: 'x', name, type, size: bytes.length, key: makeKey() }),
  );
  // As it is sealed, and read again.
  draftSchema.parse(JSON.parse(JSON.stringify(draft)));
}

test.each(mails.map((mail, index) => [index, mail] as const))(
  'mail %i is a draft; damaged, it is one or is refused',
  async (_, mail) => {
    await taken(mail);
    await readDamaged(mail, 2_000, taken, [EntityError, MessageReadError]);
  },
  120_000,
);
