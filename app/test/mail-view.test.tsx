/**
 * A mail that was opened, on its page: what could have been tampered with is text and nothing else; a certificate is
 * kept only after looking, and never swapped silently.
 */
import { act, fireEvent, render, screen } from '@testing-library/react';
import { toBase64Url } from '@under-lock/core/bytes';
import { type CertificateView, type VerdictView } from '../src/keys/certificate-view';
import { type Person } from '@under-lock/core/people/kept-person';
import { MailView } from '../src/received/MailView';
import { type OpenedMail, type SignerView } from '../src/threads/keys/opening';

const kept: Person[] = [];
const people: { id: string; revision: number; value: Person }[] = [];
jest.mock('../src/people/person', () => ({
  usePeople: () => ({ data: [...people] }),
  rememberPerson: (_: unknown, person: Person) => {
    kept.push(person);
    return Promise.resolve();
  },
}));
jest.mock('../src/threads/keys/door', () => ({ keysDoor: () => ({}) }));
jest.mock('../src/keys/useKeys', () => ({ keysChanged: () => Promise.resolve() }));
// The frame itself is tried in the browser: here only whether there is one.
jest.mock('@under-lock/ui/html-frame', () => {
  const { createElement } = jest.requireActual<{
    createElement: (tag: string, props: object, child: string) => unknown;
  }>('react');
  return { HtmlFrame: ({ html }: { html: string }) => createElement('div', { 'data-testid': 'frame' }, html) };
});
beforeEach(() => {
  kept.length = 0;
  people.length = 0;
});

const at = new Date('2026-11-24T09:00:00Z');
const ADA = 'ada.lund@harbourclinic.example';
const certificate: CertificateView = {
  fingerprint: 'ab'.repeat(32),
  bytes: Uint8Array.of(1, 2, 3),
  name: 'Ada Lund',
  organization: '',
  addresses: [ADA],
  issuer: 'Isles Trust Mail',
  notBefore: at,
  notAfter: new Date('2027-11-25T12:00:00Z'),
  key: 'RSA 2048',
  uses: { sign: true, encrypt: true },
  serial: '1',
  authority: false,
};
const verdict = (over: Partial<VerdictView> = {}): VerdictView => ({
  level: 'valid',
  findings: [],
  path: [],
  personal: false,
  validUntil: at,
  ...over,
});
const signed = (over: Partial<VerdictView> = {}, view: Partial<CertificateView> = {}): SignerView => ({
  kind: 'signed',
  certificate: { ...certificate, ...view },
  verdict: verdict(over),
  signingTime: at,
  capabilities: ['2.16.840.1.101.3.4.1.46'],
  chain: [Uint8Array.of(9)],
});
const mail = (over: Partial<OpenedMail> = {}, message: Partial<OpenedMail['message']> = {}): OpenedMail => ({
  outcome: 'opened',
  encrypted: { cipher: 'AES-256-GCM', authenticated: true, old: false },
  signers: [signed()],
  headerProtected: true,
  changedOutside: [],
  severalSenders: false,
  partsOnTheirOwn: 0,
  keys: [],
  certificates: [],
  message: {
    messageId: 'a@b.example',
    from: { name: 'Ada Lund', address: ADA },
    to: [{ name: '', address: 'maren.oduya@larkmoor.example' }],
    cc: [],
    subject: 'Results',
    date: at,
    reference: '',
    text: 'All fit.',
    html: '<p>All <b>fit</b>.</p><script>1</script>',
    files: [],
    ...message,
  },
  ...over,
});

test('formatted text is shown in its frame where the seal or a signature holds', () => {
  for (const one of [
    mail(),
    mail({ signers: [] }),
    mail({ encrypted: { cipher: 'AES-256-CBC', authenticated: false, old: false } }),
  ]) {
    const { unmount } = render(<MailView mail={one} />);
    expect(screen.getByTestId('frame')).toBeTruthy();
    unmount();
  }
});

test.each<[string, Partial<OpenedMail>]>([
  ['nobody’s signature', { signers: [] }],
  [
    'a signature that is none to rely on',
    { signers: [signed({ level: 'stop', findings: [{ code: 'unknown-authority', issuer: 'x' }] })] },
  ],
  ['a changed text', { signers: [{ kind: 'changed', certificate }] }],
])('encrypted without a seal and with %s it is words only', (_, over) => {
  render(
    <MailView
      mail={mail({ encrypted: { cipher: 'AES-256-CBC', authenticated: false, old: false }, ...over }, { text: '' })}
    />,
  );
  expect(screen.queryByTestId('frame')).toBeNull();
  // The words of the HTML, without its script.
  expect(screen.getByText('All fit.')).toBeTruthy();
});

test('whether it was encrypted stands by it, and a mail without subject or date says so', () => {
  const { rerender } = render(<MailView mail={mail({ encrypted: undefined }, { subject: '', date: new Date(0) })} />);
  expect(screen.getByText('○ not encrypted')).toBeTruthy();
  expect(screen.getByRole('heading', { name: '(no subject)' })).toBeTruthy();
  expect(screen.getByText(/without a date/)).toBeTruthy();
  rerender(<MailView mail={mail({ encrypted: { cipher: '3DES-CBC', authenticated: false, old: true } })} />);
  expect(screen.getByText('▲ encrypted to you')).toBeTruthy();
});

test('its files are listed with their sizes and can be saved', () => {
  render(
    <MailView
      mail={mail({}, { files: [{ name: 'fit.pdf', type: 'application/pdf', bytes: new Uint8Array(2_000_000) }] })}
    />,
  );
  expect(screen.getByText(/^fit.pdf · /)).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Save fit.pdf' })).toBeTruthy();
});

test('the signer’s certificate is kept for whom the mail is from, with what their program reads and the chain that came along', async () => {
  render(<MailView mail={mail()} />);
  await act(async () => fireEvent.click(screen.getByRole('button', { name: `Keep the certificate, for ${ADA}` })));
  expect(kept).toMatchObject([
    {
      name: 'Ada Lund',
      address: ADA,
      certificates: [
        {
          certificate: toBase64Url(certificate.bytes),
          from: 'mail',
          chain: [toBase64Url(Uint8Array.of(9))],
          capabilities: ['2.16.840.1.101.3.4.1.46'],
          notAfter: certificate.notAfter.toISOString(),
        },
      ],
    },
  ]);
});

test('a different one than is kept is said to be so before it is taken, and the old one stays beside it', async () => {
  people.push({
    id: 'p',
    revision: 1,
    value: {
      name: 'Ada',
      address: ADA,
      phone: '+447700900355',
      certificates: [{ certificate: toBase64Url(Uint8Array.of(7)), addedAt: at.toISOString(), from: 'file' }],
    },
  });
  render(<MailView mail={mail()} />);
  expect(screen.getByText(/You have another certificate for Ada/)).toBeTruthy();
  await act(async () => fireEvent.click(screen.getByRole('button', { name: `Take it instead, for ${ADA}` })));
  expect(kept[0]!.certificates!.map(({ certificate: one, replacedAt }) => [one, replacedAt === undefined])).toEqual([
    [toBase64Url(certificate.bytes), true],
    [toBase64Url(Uint8Array.of(7)), false],
  ]);
  expect(kept[0]).toMatchObject({ name: 'Ada', phone: '+447700900355' });
});

test('the one that is kept already is not offered again', () => {
  people.push({
    id: 'p',
    revision: 1,
    value: {
      name: 'Ada',
      address: ADA,
      certificates: [{ certificate: toBase64Url(certificate.bytes), addedAt: at.toISOString(), from: 'mail' }],
    },
  });
  render(<MailView mail={mail()} />);
  expect(screen.getByText('● the certificate you have for them')).toBeTruthy();
  expect(screen.queryByRole('button', { name: /Keep the certificate|Take it instead/ })).toBeNull();
});

test.each<[string, SignerView]>([
  [
    'one not to be relied on',
    signed({ level: 'stop', findings: [{ code: 'revoked', at, reason: 'keyCompromise', authority: false }] }),
  ],
  ['one that is only for signing', signed({}, { uses: { sign: true, encrypt: false } })],
  ['one of a signature that is wrong', { kind: 'wrong', certificate }],
])('%s is not offered for keeping', (_, signer) => {
  render(<MailView mail={mail({ signers: [signer] })} />);
  expect(screen.queryByRole('button', { name: /Keep the certificate/ })).toBeNull();
});

test('only an authority that is not known may be trusted for oneself', () => {
  const { rerender } = render(
    <MailView
      mail={mail({
        signers: [signed({ level: 'stop', findings: [{ code: 'unknown-authority', issuer: 'Skerry Root' }] })],
      })}
    />,
  );
  expect(screen.getByRole('button', { name: /^Trust the authority for myself/ })).toBeTruthy();
  rerender(<MailView mail={mail({ signers: [signed({ level: 'stop', findings: [{ code: 'expired', at }] })] })} />);
  expect(screen.queryByRole('button', { name: /^Trust the authority for myself/ })).toBeNull();
  rerender(<MailView mail={mail({ signers: [signed({ personal: true })] })} />);
  expect(screen.getByText(/Only you trust its authority/)).toBeTruthy();
});
