/** What runs out when, and whom it affects. */
import { type CertificateView, type VerdictView } from '../src/keys/certificate-view';
import { forecast, type Judged } from '../src/keys/run-out';

const now = new Date('2026-11-25T12:00:00Z');
const inDays = (days: number): Date => new Date(now.getTime() + days * 86_400_000);
const view = (name: string, days: number): CertificateView => ({
  fingerprint: name,
  bytes: new Uint8Array(0),
  name,
  organization: '',
  addresses: [],
  issuer: '',
  notBefore: inDays(-1),
  notAfter: inDays(days),
  key: '',
  uses: { sign: true, encrypt: true },
  serial: '',
  authority: false,
});
const judged = (who: string, kind: Judged['kind'], ...path: CertificateView[]): Judged => ({
  who,
  kind,
  verdict: { level: 'valid', findings: [], path, personal: false, validUntil: now } satisfies VerdictView,
});
const root = view('root', 5000);
const issuing = view('issuing', 60);

test('the soonest first, an authority once with everybody below it, and nothing that is far off or past', () => {
  const ahead = forecast(
    [
      judged('you', 'own', root, issuing, view('mine', 20)),
      judged('Clinic', 'person', root, issuing, view('clinic', 100)),
      judged('Pilots', 'person', root, view('pilots', 9)),
      judged('Yard', 'person', root, view('yard', 300)),
      judged('Gone', 'person', root, view('gone', -3)),
    ],
    [],
    now,
  );
  expect(ahead.map(({ name, kind, affects, own }) => [name, kind, affects.join(), own])).toEqual([
    ['pilots', 'person', 'Pilots', false],
    ['mine', 'own', 'you', true],
    ['issuing', 'authority', 'you,Clinic', true],
    ['clinic', 'person', 'Clinic', false],
  ]);
});

test('without certificates there is nothing ahead', () => expect(forecast([], [], now)).toEqual([]));

test('OpenPGP keys with an end stand among them', () => {
  const key = (who: string, kind: 'own' | 'person', days: number) => ({
    who,
    kind,
    at: inDays(days),
    name: who,
    fingerprint: who,
  });
  expect(
    forecast(
      [judged('Pilots', 'person', root, view('pilots', 9))],
      [key('Nils', 'person', 5), key('you', 'own', 50), key('Una', 'person', 500)],
      now,
    ).map(({ what, kind, affects }) => [what, kind, affects.join()]),
  ).toEqual([
    ['key', 'person', 'Nils'],
    ['certificate', 'person', 'Pilots'],
    ['key', 'own', 'you'],
  ]);
});
