/**
 * What strangers send is read in linear time: eight times the input takes at most twelve times as long. Each input is
 * made against its parser. A machine that is busy elsewhere is measured again; a parser that grows with the square
 * takes sixty-four times as long however often one looks.
 */
import { otherFile } from '../src/incoming/recognise';
import { readCleartext } from '../src/openpgp/cleartext';
import { cmsOctets } from '../src/locks/certificate/layers';
import { readDirectory } from '../src/zip/directory';
import { ZipError } from '../src/zip/errors';
import { certificatesIn } from '../src/key-files/in-file';
import { readOcspAnswer } from '../src/certificate/ocsp';
import { readRevocationList } from '../src/certificate/revocation-list';
import { readContentInfo } from '../src/cms/content-info';
import { lockedKind } from '../src/locks/file/recognise';
import { readCarried } from '../src/locks/carried/read';
import { readAddressList } from '../src/message/address-list';
import { readDate } from '../src/message/date';
import { failedDelivery } from '../src/message/delivery-report';
import { decodeWords } from '../src/message/encoded-words';
import { blocksOfHtml } from '../src/message/blocks';
import { decodedBody, partsOf, readEntity } from '../src/message/entity';
import { safeFileName } from '../src/file-name';
import { readHead } from '../src/incoming/incoming';
import { readParameters } from '../src/message/parameters';
import { messageIdsIn, readMessage } from '../src/message/read';
import { textOfHtml, unflowed } from '../src/message/text-forms';
import { wordsOfHtml } from '../src/scan/files/html';
import { scanText } from '../src/scan/text';
import { TextWords } from '../src/scan/text-words';
import { armouredBlocks, onlyBlock } from '../src/openpgp/armour';
import { openPgpKeysIn } from '../src/openpgp/in-file';
import { packetHeads } from '../src/openpgp/packets';
import { cleanName } from '../src/people/address';
import { readRecipients } from '../src/outgoing/recipient-list';

const SMALL = 30_000;
const TIMES = 8;
const MOST = 12;
/**
 * Below this a ratio tells nothing: it is the clock's and the collector's own. With the square, a quarter of a megabyte
 * takes seconds.
 */
const NOTHING_MS = 50;
const ATTEMPTS = 12;

const octets = (text: string): Uint8Array<ArrayBuffer> => new Uint8Array(Buffer.from(text, 'latin1'));
const filled =
  (unit: string) =>
  (length: number): string =>
    unit.repeat(Math.ceil(length / unit.length)).slice(0, length);
const quietly = async (act: () => unknown): Promise<void> => {
  try {
    await act();
  } catch (error) {
    // Refusing is an answer; running out of stack or memory is none.
    if (error instanceof RangeError) throw error;
  }
};

/** Of the processor, in milliseconds: what others do on the same machine is no work of ours. */
async function timeOf(act: () => unknown): Promise<number> {
  const from = process.cpuUsage();
  await quietly(act);
  const { user, system } = process.cpuUsage(from);
  return (user + system) / 1000;
}

async function growth(read: (input: string) => unknown, make: (length: number) => string): Promise<number> {
  const [small, large] = [make(SMALL), make(SMALL * TIMES)];
  let best = Infinity;
  let [fastSmall, fastLarge] = [Infinity, Infinity];
  for (let attempt = 0; attempt < ATTEMPTS; attempt++) {
    fastSmall = Math.min(fastSmall, await timeOf(() => read(small)));
    fastLarge = Math.min(fastLarge, await timeOf(() => read(large)));
    best = Math.min(best, fastLarge < NOTHING_MS ? 1 : fastLarge / Math.max(fastSmall, 0.05));
    if (best <= MOST) break;
  }
  return best;
}

const UNITS = [
  ' ',
  '\t',
  '=',
  ';',
  '"',
  '\\',
  '<',
  '>',
  '(',
  ')',
  '()',
  ',',
  ':',
  '@',
  '?',
  '=?',
  '=?utf-8?q?a?=',
  '=?utf-8?b?',
  '-',
  '--',
  '*',
  '%',
  "'",
  'a',
  'a=',
  'a="',
  'a="\\',
  'a=b;',
  'a*0=b;',
  'a*0*=x;',
  '"a"',
  '"a"@',
  '<a',
  '<a>',
  '<a@b>',
  '<b><p>',
  '<svg>',
  '<form>',
  '<ul><li>',
  '<div></p>',
  '&amp;',
  'a@b',
  'a@b,',
  'a:;',
  '(a',
  '\\"',
  ' a',
  ' \r\n',
  '\r\n ',
  '\r\n\t',
  'name=',
  'name="',
  '.',
  '. ',
  '\u00ff',
  '&',
  '&amp;',
  '<br',
  '> ',
  '/R ',
  '/Encrypt ',
];

const OF_TEXT: Record<string, (text: string) => unknown> = {
  parameters: readParameters,
  'an address list': readAddressList,
  'a pasted list': readRecipients,
  'encoded words': decodeWords,
  'Message-IDs': messageIdsIn,
  'a date': readDate,
  'a file name': safeFileName,
  'a display name': cleanName,
  'text of HTML': textOfHtml,
  'words of HTML': wordsOfHtml,
  'blocks of HTML': blocksOfHtml,
  'flowing text': (text) => unflowed(text, true),
};
/** The least of a few measurements, where the first is too much: the machine's other work only ever adds. */
async function steadily(read: (input: string) => unknown, of: (length: number) => string): Promise<number> {
  let times = await growth(read, of);
  for (let again = 0; times > MOST && again < 3; again++) times = Math.min(times, await growth(read, of));
  return times;
}
/** Which of these make it grow faster than it may. */
async function tooFast(read: (input: string) => unknown, units: readonly string[]): Promise<string[]> {
  const found: string[] = [];
  for (const unit of units) {
    const times = await steadily(read, filled(unit));
    if (times > MOST) found.push(`${JSON.stringify(unit)}: ${times.toFixed(0)} times`);
  }
  return found;
}

test.each(Object.entries(OF_TEXT))(
  '%s, whatever it is filled with',
  async (_, read) => expect(await tooFast(read, UNITS)).toEqual([]),
  120_000,
);

const SCANNED = [
  'a',
  '1',
  '1 ',
  'A1',
  'A ',
  '1-',
  ';',
  '1;',
  ':',
  ' :',
  'a: ',
  'password: ',
  'pass: a',
  'pass :\n',
  '@',
  'a@a.',
  '://a:',
  '_',
  'live_',
  '<<',
  'eyJ',
  '-----BEGIN ',
  '4111 1111 1111 1111 ',
  'born 1.1.1990 ',
  'DE89',
  '\n',
  '1\n',
  'Bearer ',
  '12.12.',
  'jan ',
];
test('the scan, whatever a text is filled with', async () => {
  const read = (text: string): unknown => {
    new TextWords().add(text);
    return scanText(text, { thisYear: 2026 });
  };
  expect(await tooFast(read, SCANNED)).toEqual([]);
}, 120_000);

const mail = (head: string, body: string): Uint8Array<ArrayBuffer> =>
  octets(`From: a@b.example\r\n${head}\r\n\r\n${body}`);
const FIELDS = [
  'Content-Type',
  'Content-Disposition',
  'Content-Transfer-Encoding',
  'From',
  'To',
  'Subject',
  'Date',
  'Message-ID',
  'References',
  'X-Other',
];
const HEAD_UNITS = [' ', '=', ';', '"', '<', '(', '=?utf-8?q?a?=', 'a=', 'a="\\', '\r\n ', ' \r\n\t', '<a>', 'a@b,'];
test.each(FIELDS)(
  'a mail, whatever its %s is filled with',
  async (field) => {
    const read = (text: string): unknown => {
      readHead(mail(`${field}: ${text}`, ''), '');
      return readMessage(mail(`${field}: ${text}`, 'x'));
    };
    expect(await tooFast(read, HEAD_UNITS)).toEqual([]);
  },
  120_000,
);

const BODIES: Record<string, (length: number) => Uint8Array<ArrayBuffer>> = {
  'a boundary at every line': (length) => mail('Content-Type: multipart/mixed; boundary=b', filled('--b\r\n')(length)),
  'lines that almost are the boundary': (length) =>
    mail(`Content-Type: multipart/mixed; boundary="${'b'.repeat(60)}"`, filled(`--${'b'.repeat(59)}\r\n`)(length)),
  'dashes only': (length) => mail('Content-Type: multipart/mixed; boundary="--"', filled('-')(length)),
  'multiparts in one another': (length) =>
    mail(
      'Content-Type: multipart/mixed; boundary=b0',
      Array.from(
        { length: 19 },
        (_, at) => `--b${at}\r\nContent-Type: multipart/mixed; boundary=b${at + 1}\r\n\r\n`,
      ).join('') + filled('x\r\n')(length),
    ),
  'fields without an end': (length) => octets(filled('A: b\r\n')(length)),
  'one folded field': (length) => octets(`Subject: ${filled('a\r\n ')(length)}`),
  'soft line breaks': (length) => mail('Content-Transfer-Encoding: quoted-printable', filled('= ')(length)),
  'equals signs': (length) => mail('Content-Transfer-Encoding: quoted-printable', filled('=')(length)),
  padding: (length) => mail('Content-Transfer-Encoding: base64', filled('=')(length)),
  'names of keys': (length) => mail('Content-Type: text/plain', filled('name=')(length)),
  'names of keys by the line': (length) =>
    mail('Content-Type: text/plain', filled('Content-Type: a; name=\r\n')(length)),
  'beginnings of armour': (length) =>
    mail('Content-Type: text/plain', filled('-----BEGIN PGP MESSAGE-----\r\n')(length)),
  'beginnings of armour with fields': (length) =>
    mail('Content-Type: text/plain', filled('-----BEGIN PGP MESSAGE-----\r\nA: b\r\n')(length)),
  'a report of blanks': (length) =>
    mail(
      'Content-Type: multipart/report; boundary=b',
      `--b\r\nContent-Type: message/delivery-status\r\n\r\nAction:${filled(' ')(length)}`,
    ),
  'a report of folded lines': (length) =>
    mail(
      'Content-Type: multipart/report; boundary=b',
      `--b\r\nContent-Type: message/delivery-status\r\n\r\nAction: failed\r\nDiagnostic-Code: smtp;${filled('\r\n a')(length)}`,
    ),
};
describe.each(Object.entries(BODIES))('a mail of %s', (_, make) => {
  const of = (length: number): string => Buffer.from(make(length)).toString('latin1');
  it('is read', async () => expect(await steadily((text) => readMessage(octets(text)), of)).toBeLessThanOrEqual(MOST));
  it('has its head read', async () =>
    expect(await steadily((text) => readHead(octets(text), ''), of)).toBeLessThanOrEqual(MOST));
  it('is looked at as a report', async () =>
    expect(await steadily((text) => failedDelivery(octets(text)), of)).toBeLessThanOrEqual(MOST));
  it('is taken apart', async () =>
    expect(
      await steadily(
        (text) =>
          partsOf(readEntity(octets(text)))
            .map(readEntity)
            .map(decodedBody),
        of,
      ),
    ).toBeLessThanOrEqual(MOST));
});

const FILES: Record<string, (bytes: Uint8Array<ArrayBuffer>) => unknown> = {
  armour: armouredBlocks,
  'a text signed in the clear': readCleartext,
  'what kind of file it is': otherFile,
  'a CMS object in text': cmsOctets,
  'a directory of files': (bytes) => {
    try {
      return readDirectory(bytes);
    } catch (error) {
      if (!(error instanceof ZipError)) throw error;
      return undefined;
    }
  },
  'one block': (bytes) => onlyBlock(bytes, 'MESSAGE'),
  packets: (bytes) => packetHeads(bytes),
  keys: openPgpKeysIn,
  certificates: certificatesIn,
  'a revocation list': (bytes) => readRevocationList(bytes),
  'an OCSP answer': (bytes) => readOcspAnswer(bytes),
  'a CMS object': (bytes) => readContentInfo(bytes),
  'a locked file': lockedKind,
  'a carried page': readCarried,
};
const FILE_UNITS = [
  '-----BEGIN PGP SIGNED MESSAGE-----\n',
  '-----BEGIN PKCS7-----\n',
  'From: a\n ',
  'PK\u0006\u0007',
  'A\n',
  '-----BEGIN PGP MESSAGE-----\n',
  '-----BEGIN PGP PUBLIC KEY BLOCK-----\nA: b\n',
  '-----BEGIN CERTIFICATE-----\n',
  '-----BEGIN CERTIFICATE-----',
  'KEY:',
  'KEY;',
  'a.KEY\n',
  '0\u0080',
  '0\u0082\u00ff\u00ff',
  '1\u0000',
  '\u00c1\u00e0',
  '\u0099\u0000\u0001a',
  '\u00b4\u0000',
  '<',
  '<!doctype html>',
  '%PDF-2.0 /R ',
  '%PDF-2.0\n/Encrypt 1 0 R /R 6',
  'PK\u0003\u0004',
  'PK\u0001\u0002',
  'PK\u0005\u0006',
  '\u0000',
  ' ',
  '=',
  'A',
];
test.each(Object.entries(FILES))(
  '%s in a file, whatever it is filled with',
  async (_, read) => expect(await tooFast((text) => read(octets(text)), FILE_UNITS)).toEqual([]),
  120_000,
);
