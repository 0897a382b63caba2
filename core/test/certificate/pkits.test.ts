/**
 * Path validation and revocation judged by PKITS: every test of which the suite says Valid or Invalid, with all its
 * certificates and lists at hand at once.
 */
import { holds, judgePaths } from '../../src/certificate/judge-paths';
import { pkitsCertificate, pkitsEvidence, pkitsNames } from './pkits';

const evidence = pkitsEvidence();
const AT = new Date('2026-11-25T12:00:00Z');
const tests = pkitsNames('certs')
  .filter((name) => /^(Valid|Invalid).*EE\.crt$/.test(name))
  .map((name) => name.replace('.crt', ''));

test.each(tests.filter((name) => name.startsWith('Valid')))('%s', async (name) => {
  const { problems, revocation, path } = await judgePaths(pkitsCertificate(name), evidence, AT);
  expect({ anchored: path !== undefined, problems, revocation: revocation.map(({ kind }) => kind) }).toEqual({
    anchored: true,
    problems: [],
    revocation: revocation.map(() => 'good'),
  });
});

/** Why each one fails, by what its name says it is about; refusing for another reason would be luck. */
const WHY: [RegExp, string][] = [
  [/NameChaining/, 'no path'],
  [/nameConstraints/, 'name-not-allowed'],
  [/Policy/, 'policy-missing'],
  [/notAfterDate/, 'expired'],
  [/notBeforeDate/, 'not-yet-valid'],
  [/(CA|EE|DSA)Signature|BasicSelfIssuedCRLSigningKeyTest8/, 'signature-wrong'],
  [/basicConstraints|cAFalse/, 'not-an-authority'],
  [/pathLen/, 'too-many-authorities'],
  [/keyCertSignFalse/, 'may-not-issue'],
  [/UnknownCriticalCertificateExtension/, 'unknown-critical-extension'],
  [
    /Revoked|SerialNumber|BasicSelfIssued|UnknownCRLEntryExtension|UnknownCRLExtensionTest9|KeysTest20|IDPwithindirectCRLTest23|cRLIssuerTest3[124]|deltaCRLTest[3469]|distributionPointTest[26]|onlySomeReasonsTest(15|16|20|21)/,
    'revoked',
  ],
  [/[cC]RL|distributionPoint|onlyContains|onlySomeReasons|KeysTest21/, 'unknown'],
];

test.each(tests.filter((name) => name.startsWith('Invalid')))('%s', async (name) => {
  const judged = await judgePaths(pkitsCertificate(name), evidence, AT);
  expect(holds(judged)).toBe(false);
  const reasons =
    judged.path === undefined
      ? ['no path']
      : judged.problems.length > 0
        ? judged.problems.map(({ code }) => code)
        : judged.revocation.map(({ kind }) => kind).filter((kind) => kind !== 'good');
  const why = /deltaCRLTest10/.test(name) ? 'unknown' : WHY.find(([about]) => about.test(name))?.[1];
  expect(reasons).toContain(why);
});
