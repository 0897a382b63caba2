/** What a mail program made leaves as it made it: what is kept back, what is added, and what state it is in. */
import { fromUtf8, utf8 } from '../../src/bytes';
import { readEntity } from '../../src/message/entity';
import { asItLeaves, ownStateOf } from '../../src/outgoing/as-it-came';
import fc from 'fast-check';

const at = { messageId: 'made@larkmoor.example', date: new Date('2026-11-29T13:30:00Z') };
const trace = 'Received: by larkmoor.example with ESMTPSA id made;\r\n Sun, 29 Nov 2026 13:30:00 +0000\r\n';
/** Below the line that says that it came by here. */
const left = (text: string): string => {
  const all = fromUtf8(asItLeaves(utf8(text), at));
  expect(all.startsWith(trace)).toBe(true);
  return all.slice(trace.length);
};
const complete = 'Message-ID: <a@b.example>\r\nDate: Sun, 29 Nov 2026 13:00:00 +0000\r\n';

test('who is unseen is not named, however it is folded or spelled; everything else is the same octets', () => {
  const rest = `${complete}To: a@b.example\r\nX-Odd:  two  blanks \r\n\tfolded\r\n\r\nBcc: in the text stays\r\n.\r\n`;
  expect(left(`BCC: x@y.example,\r\n z@y.example\r\nReturn-Path: <q@y.example>\r\n${rest}`)).toBe(rest);
  expect(left(rest)).toBe(rest);
});

test('the number and the date that every mail has are put before it where they are missing, and never twice', () => {
  expect(left('To: a@b.example\r\n\r\nText')).toBe(
    'Message-ID: <made@larkmoor.example>\r\nDate: Sun, 29 Nov 2026 13:30:00 +0000\r\nTo: a@b.example\r\n\r\nText',
  );
  expect(left('message-id : <a@b.example>\r\n\r\n')).not.toContain('made@larkmoor.example');
});

test('bare line ends become the wire’s: nothing can be smuggled in by them', () => {
  expect(left(`${complete}\n\nOne\n.\nTwo`)).toBe(
    `${complete}\r\n\r\nOne\r\n.\r\nTwo`.replace('\r\n\r\n\r\n', '\r\n\r\n\r\n'),
  );
  fc.assert(
    fc.property(fc.string({ unit: fc.constantFrom('\n', '\r\n', 'a', ':', ' ', '.') }), (text) => {
      expect(left(text).replace(/\r\n/g, '')).not.toContain('\n');
    }),
  );
});

test.each([
  ['text/plain', 'Text', 'readable'],
  ['multipart/signed; protocol="application/pgp-signature"; boundary=b', '--b--', 'signed'],
  ['multipart/signed; protocol="application/pkcs7-signature"; boundary=b', '--b--', 'signed'],
  // What only says that it is encrypted is not.
  ['application/pkcs7-mime; smime-type=enveloped-data', 'VGhlIHRleHQ=', 'readable'],
  ['multipart/encrypted; protocol="application/pgp-encrypted"', 'no boundary', 'readable'],
  [
    'multipart/encrypted; protocol="application/pgp-encrypted"; boundary=b',
    '--b\r\nContent-Type: application/pgp-encrypted\r\n\r\nVersion: 1\r\n--b\r\n\r\nThe text\r\n--b--\r\n',
    'readable',
  ],
])('%s: %j is %s', async (type, body, is) => {
  expect(await ownStateOf(readEntity(utf8(`Content-Type: ${type}\r\n\r\n${body}`)))).toEqual({ is });
});
