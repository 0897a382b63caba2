/**
 * A small certificate authority: a root and the certificate that issues, mail certificates (RFC 5280, RFC 8550 §4.4),
 * a revocation list for each, and answers by OCSP (RFC 6960).
 * A stand-in: it believes whoever calls it. Everything is made with a library; what is odd about the odd ones is
 * asked for by whoever issues them.
 */
import * as asn1js from 'asn1js';
import { webcrypto } from 'node:crypto';
import * as pkijs from 'pkijs';

pkijs.setEngine('outside', new pkijs.CryptoEngine({ name: 'outside', crypto: webcrypto as unknown as Crypto }));
const { subtle } = webcrypto;

export type Bytes = Uint8Array<ArrayBuffer>;
/** By their numbers in RFC 5280 §5.3.1. */
export const REASONS = {
  unspecified: 0,
  keyCompromise: 1,
  affiliationChanged: 3,
  superseded: 4,
  cessationOfOperation: 5,
} as const;
export type Reason = keyof typeof REASONS;

interface Kept {
  key: string;
  certificate: string;
}
export interface Issued {
  serial: string;
  certificate: string;
  name: string;
  addresses: string[];
  issuedAt: string;
  revoked?: { at: string; reason: Reason };
}
/** All of an authority, as it is written down; bytes in base64. */
export interface AuthorityState {
  name: string;
  host: string;
  root: Kept;
  issuing: Kept;
  issued: Issued[];
  listNumber: number;
}

export type Purpose = 'sign' | 'encrypt' | 'both';
export interface IssueInput {
  publicKey: webcrypto.CryptoKey | Bytes;
  name: string;
  organization?: string;
  addresses: readonly string[];
  purpose: Purpose;
  from: Date;
  until: Date;
  /** Left out for a certificate that is not for mail. */
  forMail?: boolean;
}

const DAY = 86_400_000;
const RSA = {
  name: 'RSASSA-PKCS1-v1_5',
  modulusLength: 3072,
  publicExponent: Uint8Array.of(1, 0, 1),
  hash: 'SHA-256',
} as const;
const toBase64 = (bytes: ArrayBuffer | Uint8Array): string => Buffer.from(bytes as Uint8Array).toString('base64');
const fromBase64 = (text: string): Bytes => new Uint8Array(Buffer.from(text, 'base64'));

function nameOf(parts: readonly [string, string][]): pkijs.RelativeDistinguishedNames {
  return new pkijs.RelativeDistinguishedNames({
    typesAndValues: parts
      .filter(([, value]) => value !== '')
      .map(([type, value]) => new pkijs.AttributeTypeAndValue({ type, value: new asn1js.Utf8String({ value }) })),
  });
}

const extension = (extnID: string, critical: boolean, value: { toBER(): ArrayBuffer }): pkijs.Extension =>
  new pkijs.Extension({ extnID, critical, extnValue: value.toBER() });
const bits = (...set: number[]): asn1js.BitString => {
  const bytes = new Uint8Array(2);
  for (const bit of set) bytes[bit >> 3] = bytes[bit >> 3]! | (0x80 >> (bit & 7));
  const last = Math.max(...set);
  return new asn1js.BitString({ valueHex: bytes.slice(0, (last >> 3) + 1).buffer, unusedBits: 7 - (last & 7) });
};
const uri = (value: string): pkijs.GeneralName => new pkijs.GeneralName({ type: 6, value });
const keyId = async (info: pkijs.PublicKeyInfo): Promise<ArrayBuffer> =>
  subtle.digest('SHA-1', info.subjectPublicKey.valueBlock.valueHexView as Bytes);

const serialNumber = (): asn1js.Integer => {
  const bytes = webcrypto.getRandomValues(new Uint8Array(16));
  bytes[0] = (bytes[0]! & 0x3f) | 0x40;
  return new asn1js.Integer({ valueHex: bytes.buffer });
};

interface Made {
  certificate: pkijs.Certificate;
  key: webcrypto.CryptoKey;
}

export class Authority {
  private constructor(
    readonly state: AuthorityState,
    private readonly root: Made,
    private readonly issuing: Made,
    private readonly changed: () => void,
  ) {}

  static async create(name: string, host: string, now: Date, changed: () => void): Promise<Authority> {
    const root = await authorityCertificate(`${name} Root`, name, undefined, now, host);
    const issuing = await authorityCertificate(`${name} Mail`, name, root, now, host);
    const kept = async ({ certificate, key }: Made): Promise<Kept> => ({
      key: toBase64(await subtle.exportKey('pkcs8', key)),
      certificate: toBase64(certificate.toSchema().toBER()),
    });
    return new Authority(
      { name, host, root: await kept(root), issuing: await kept(issuing), issued: [], listNumber: 1 },
      root,
      issuing,
      changed,
    );
  }

  static async open(state: AuthorityState, changed: () => void): Promise<Authority> {
    const opened = async ({ key, certificate }: Kept): Promise<Made> => ({
      certificate: pkijs.Certificate.fromBER(fromBase64(certificate).buffer),
      key: await subtle.importKey('pkcs8', fromBase64(key), RSA, true, ['sign']),
    });
    return new Authority(state, await opened(state.root), await opened(state.issuing), changed);
  }

  get rootCertificate(): Bytes {
    return fromBase64(this.state.root.certificate);
  }
  get issuingCertificate(): Bytes {
    return fromBase64(this.state.issuing.certificate);
  }

  /** A mail certificate in DER; written down, so that it can be revoked and found. */
  async issue({
    publicKey,
    name,
    organization = '',
    addresses,
    purpose,
    from,
    until,
    forMail = true,
  }: IssueInput): Promise<Bytes> {
    const certificate = new pkijs.Certificate();
    certificate.version = 2;
    certificate.serialNumber = serialNumber();
    certificate.issuer = this.issuing.certificate.subject;
    certificate.subject = nameOf([
      ['2.5.4.10', organization],
      ['2.5.4.3', name],
    ]);
    certificate.notBefore.value = from;
    certificate.notAfter.value = until;
    if (publicKey instanceof Uint8Array)
      certificate.subjectPublicKeyInfo = pkijs.PublicKeyInfo.fromBER(publicKey.buffer);
    else await certificate.subjectPublicKeyInfo.importKey(publicKey as CryptoKey);
    certificate.extensions = [
      ...(await mailExtensions(certificate.subjectPublicKeyInfo, { purpose, addresses, forMail })),
      ...(await this.issuerExtensions('issuing')),
      accessToIssuer(this.state.host),
    ];
    await certificate.sign(this.issuing.key as CryptoKey, 'SHA-256');
    const der = new Uint8Array(certificate.toSchema(true).toBER());
    this.state.issued.push({
      serial: hexOf(certificate.serialNumber),
      certificate: toBase64(der),
      name,
      addresses: [...addresses],
      issuedAt: from.toISOString(),
    });
    this.changed();
    return der;
  }

  private issuerExtensions(by: 'root' | 'issuing'): Promise<pkijs.Extension[]> {
    return issuerExtensions((by === 'root' ? this.root : this.issuing).certificate, this.state.host, by);
  }

  /** @returns false when it has issued no such certificate, or has revoked it already. */
  revoke(serial: string, reason: Reason, at: Date): boolean {
    const found = this.state.issued.find((one) => one.serial === serial);
    if (found === undefined || found.revoked !== undefined) return false;
    found.revoked = { at: at.toISOString(), reason };
    this.state.listNumber += 1;
    this.changed();
    return true;
  }

  /** A complete list in DER, good for a week. */
  async list(of: 'root' | 'issuing', now: Date): Promise<Bytes> {
    const { certificate, key } = of === 'root' ? this.root : this.issuing;
    const list = new pkijs.CertificateRevocationList({
      version: 1,
      issuer: certificate.subject,
      thisUpdate: new pkijs.Time({ type: 0, value: now }),
      nextUpdate: new pkijs.Time({ type: 0, value: new Date(now.getTime() + 7 * DAY) }),
    });
    const revoked = of === 'root' ? [] : this.state.issued.filter((one) => one.revoked !== undefined);
    if (revoked.length > 0) {
      list.revokedCertificates = revoked.map(
        ({ serial, revoked: when }) =>
          new pkijs.RevokedCertificate({
            userCertificate: new asn1js.Integer({ valueHex: new Uint8Array(Buffer.from(serial, 'hex')).buffer }),
            revocationDate: new pkijs.Time({ type: 0, value: new Date(when!.at) }),
            crlEntryExtensions: new pkijs.Extensions({
              extensions: [extension('2.5.29.21', false, new asn1js.Enumerated({ value: REASONS[when!.reason] }))],
            }),
          }),
      );
    }
    const [authority] = await issuerExtensions(certificate, this.state.host, of);
    list.crlExtensions = new pkijs.Extensions({
      extensions: [authority!, extension('2.5.29.20', false, new asn1js.Integer({ value: this.state.listNumber }))],
    });
    await list.sign(key as CryptoKey, 'SHA-256');
    return new Uint8Array(list.toSchema(true).toBER());
  }

  /** An answer in DER, good for a day. @throws Error on what is no request */
  async answer(request: Bytes, now: Date): Promise<Bytes> {
    const asked = pkijs.OCSPRequest.fromBER(request.buffer);
    const basic = new pkijs.BasicOCSPResponse();
    basic.tbsResponseData.responderID = this.issuing.certificate.subject;
    basic.tbsResponseData.producedAt = now;
    const mine = await Promise.all(
      (['SHA-1', 'SHA-256'] as const).map(async (hash) =>
        Buffer.from(
          await subtle.digest(
            hash,
            this.issuing.certificate.subjectPublicKeyInfo.subjectPublicKey.valueBlock.valueHexView as Bytes,
          ),
        ).toString('hex'),
      ),
    );
    for (const { reqCert } of asked.tbsRequest.requestList) {
      const response = new pkijs.SingleResponse({ certID: reqCert });
      const issued = mine.includes(Buffer.from(reqCert.issuerKeyHash.valueBlock.valueHexView).toString('hex'))
        ? this.state.issued.find(({ serial }) => serial === hexOf(reqCert.serialNumber))
        : undefined;
      response.certStatus = statusOf(issued);
      response.thisUpdate = now;
      response.nextUpdate = new Date(now.getTime() + DAY);
      basic.tbsResponseData.responses.push(response);
    }
    await basic.sign(this.issuing.key as CryptoKey, 'SHA-256');
    const response = new pkijs.OCSPResponse({
      responseStatus: new asn1js.Enumerated({ value: 0 }),
      responseBytes: new pkijs.ResponseBytes({
        responseType: '1.3.6.1.5.5.7.48.1.1',
        response: new asn1js.OctetString({ valueHex: basic.toSchema().toBER() }),
      }),
    });
    return new Uint8Array(response.toSchema().toBER());
  }
}

const hexOf = (number: asn1js.Integer): string => Buffer.from(number.valueBlock.valueHexView).toString('hex');

/** What it may be used for, by whom it is held, and how its key is named. */
async function mailExtensions(
  key: pkijs.PublicKeyInfo,
  { purpose, addresses, forMail }: Required<Pick<IssueInput, 'purpose' | 'addresses' | 'forMail'>>,
): Promise<pkijs.Extension[]> {
  const ec = key.algorithm.algorithmId === '1.2.840.10045.2.1';
  const usages = [...(purpose === 'encrypt' ? [] : [0]), ...(purpose === 'sign' ? [] : [ec ? 4 : 2])];
  const extended = new asn1js.ObjectIdentifier({ value: forMail ? '1.3.6.1.5.5.7.3.4' : '1.3.6.1.5.5.7.3.2' });
  const names = addresses.map((value) => new pkijs.GeneralName({ type: 1, value }));
  return [
    extension('2.5.29.15', true, bits(...usages)),
    extension('2.5.29.37', false, new asn1js.Sequence({ value: [extended] })),
    extension('2.5.29.17', false, new pkijs.GeneralNames({ names }).toSchema()),
    extension('2.5.29.14', false, new asn1js.OctetString({ valueHex: await keyId(key) })),
  ];
}

/** Where its issuer answers, and where the issuer's own certificate lies. */
function accessToIssuer(host: string): pkijs.Extension {
  const at = (accessMethod: string, path: string) =>
    new pkijs.AccessDescription({ accessMethod, accessLocation: uri(`http://${host}/${path}`) });
  const accessDescriptions = [at('1.3.6.1.5.5.7.48.1', 'ocsp'), at('1.3.6.1.5.5.7.48.2', 'issuing.cer')];
  return extension('1.3.6.1.5.5.7.1.1', false, new pkijs.InfoAccess({ accessDescriptions }).toSchema());
}

/** Unknown, good or revoked (RFC 6960 §4.2.1). */
function statusOf(issued: AuthorityState['issued'][number] | undefined): asn1js.Primitive | asn1js.Constructed {
  if (issued === undefined) return new asn1js.Primitive({ idBlock: { tagClass: 3, tagNumber: 2 } });
  if (issued.revoked === undefined) return new asn1js.Primitive({ idBlock: { tagClass: 3, tagNumber: 0 } });
  const reason = new asn1js.Constructed({
    idBlock: { tagClass: 3, tagNumber: 0 },
    value: [new asn1js.Enumerated({ value: REASONS[issued.revoked.reason] })],
  });
  return new asn1js.Constructed({
    idBlock: { tagClass: 3, tagNumber: 1 },
    value: [new asn1js.GeneralizedTime({ valueDate: new Date(issued.revoked.at) }), reason],
  });
}

async function issuerExtensions(
  issuer: pkijs.Certificate,
  host: string,
  by: 'root' | 'issuing',
): Promise<pkijs.Extension[]> {
  return [
    extension(
      '2.5.29.35',
      false,
      new pkijs.AuthorityKeyIdentifier({
        keyIdentifier: new asn1js.OctetString({ valueHex: await keyId(issuer.subjectPublicKeyInfo) }),
      }).toSchema(),
    ),
    extension(
      '2.5.29.31',
      false,
      new pkijs.CRLDistributionPoints({
        distributionPoints: [new pkijs.DistributionPoint({ distributionPoint: [uri(`http://${host}/${by}.crl`)] })],
      }).toSchema(),
    ),
  ];
}

/** A root signs itself for twenty years; what it issues lasts ten. */
async function authorityCertificate(
  commonName: string,
  organization: string,
  by: Made | undefined,
  now: Date,
  host: string,
): Promise<Made> {
  const keys = await subtle.generateKey(RSA, true, ['sign', 'verify']);
  const certificate = new pkijs.Certificate();
  certificate.version = 2;
  certificate.serialNumber = serialNumber();
  certificate.subject = nameOf([
    ['2.5.4.10', organization],
    ['2.5.4.3', commonName],
  ]);
  certificate.issuer = by?.certificate.subject ?? certificate.subject;
  certificate.notBefore.value = new Date(now.getTime() - 400 * DAY);
  certificate.notAfter.value = new Date(now.getTime() + (by === undefined ? 20 : 10) * 365 * DAY);
  await certificate.subjectPublicKeyInfo.importKey(keys.publicKey as CryptoKey);
  certificate.extensions = [
    extension(
      '2.5.29.19',
      true,
      new pkijs.BasicConstraints({ cA: true, ...(by === undefined ? {} : { pathLenConstraint: 0 }) }).toSchema(),
    ),
    extension('2.5.29.15', true, bits(5, 6)),
    extension('2.5.29.14', false, new asn1js.OctetString({ valueHex: await keyId(certificate.subjectPublicKeyInfo) })),
    ...(by === undefined ? [] : await issuerExtensions(by.certificate, host, 'root')),
  ];
  await certificate.sign((by?.key ?? keys.privateKey) as CryptoKey, 'SHA-256');
  return { certificate, key: keys.privateKey };
}

export interface Asked {
  publicKey: Bytes;
  name: string;
  addresses: string[];
}

/**
 * What a PKCS#10 request asks for, its signature checked. @throws Error when it is none, or not signed with its own key
 */
export async function readRequest(der: Bytes): Promise<Asked> {
  const request = pkijs.CertificationRequest.fromBER(der.buffer);
  if (!(await request.verify())) throw new Error('the request is not signed with its key');
  const name = request.subject.typesAndValues.find(({ type }) => type === '2.5.4.3')?.value.valueBlock.value as
    string | undefined;
  const asked = request.attributes?.find(({ type }) => type === '1.2.840.113549.1.9.14')?.values[0] as
    asn1js.Sequence | undefined;
  const extensions = asked === undefined ? [] : new pkijs.Extensions({ schema: asked }).extensions;
  const alternative = extensions.find(({ extnID }) => extnID === '2.5.29.17');
  const names =
    alternative === undefined
      ? []
      : pkijs.GeneralNames.fromBER(alternative.extnValue.valueBlock.valueHexView as Bytes).names;
  return {
    publicKey: new Uint8Array(request.subjectPublicKeyInfo.toSchema().toBER()),
    name: name ?? '',
    addresses: names.filter(({ type }) => type === 1).map(({ value }) => String(value)),
  };
}
