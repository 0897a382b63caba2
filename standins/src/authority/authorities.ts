/**
 * The two authorities of this world, and the people outside who have certificates: good ones, and such as one meets.
 * Written down in one file, so that what was issued stays valid over a restart.
 */
import { webcrypto } from 'node:crypto';
import { readFirst, writeWhole } from '../ready';
import { Authority, type AuthorityState, type IssueInput } from './authority';

/** The office's own authority, and one that others use. */
export const HOSTS = { office: 'authority.larkmoor.example', foreign: 'ca.islestrust.example' } as const;
export const DIRECTORY_HOST = 'directory.islestrust.example';

export interface Correspondent {
  name: string;
  organization: string;
  address: string;
  /** DER, base64; the newest last. */
  certificate: string;
  /** PKCS#8, base64. */
  key: string;
  /** Found in the directory. */
  listed: boolean;
}

interface Written {
  office: AuthorityState;
  foreign: AuthorityState;
  correspondents: Correspondent[];
}

const NAME = 'authorities.json';
const DAY = 86_400_000;
const toBase64 = (bytes: ArrayBuffer | Uint8Array): string => Buffer.from(bytes as Uint8Array).toString('base64');

const KEYS = {
  rsa: { name: 'RSASSA-PKCS1-v1_5', modulusLength: 2048, publicExponent: Uint8Array.of(1, 0, 1), hash: 'SHA-256' },
  weak: { name: 'RSASSA-PKCS1-v1_5', modulusLength: 1024, publicExponent: Uint8Array.of(1, 0, 1), hash: 'SHA-256' },
  ec: { name: 'ECDSA', namedCurve: 'P-256' },
} as const;

interface Wanted {
  name: string;
  organization: string;
  address: string;
  key: keyof typeof KEYS;
  fromDays: number;
  untilDays: number;
  listed?: boolean;
  forMail?: boolean;
  revoked?: boolean;
}
const WANTED: readonly Wanted[] = [
  {
    name: 'Harbour Clinic Records',
    organization: 'Harbour Clinic',
    address: 'records@harbourclinic.example',
    key: 'rsa',
    fromDays: -90,
    untilDays: 275,
  },
  {
    name: 'Dr Odile Brask',
    organization: 'Harbour Clinic',
    address: 'odile.brask@harbourclinic.example',
    key: 'ec',
    fromDays: -30,
    untilDays: 335,
  },
  {
    name: 'Harbour Clinic Billing',
    organization: 'Harbour Clinic',
    address: 'billing@harbourclinic.example',
    key: 'rsa',
    fromDays: -380,
    untilDays: -15,
  },
  {
    name: 'Harbour Clinic Wards',
    organization: 'Harbour Clinic',
    address: 'wards@harbourclinic.example',
    key: 'rsa',
    fromDays: -60,
    untilDays: 305,
    revoked: true,
  },
  {
    name: 'Harbour Clinic Web',
    organization: 'Harbour Clinic',
    address: 'web@harbourclinic.example',
    key: 'rsa',
    fromDays: -60,
    untilDays: 305,
    forMail: false,
  },
  {
    name: 'Quay Archive',
    organization: 'Quay Archive',
    address: 'desk@quayarchive.example',
    key: 'weak',
    fromDays: -60,
    untilDays: 305,
  },
  {
    name: 'North Quay Claims',
    organization: 'North Quay Insurance',
    address: 'claims@northquay.example',
    key: 'rsa',
    fromDays: -20,
    untilDays: 345,
    listed: false,
  },
  {
    name: 'Pilot Office',
    organization: 'Pilot Office',
    address: 'duty@pilots.example',
    key: 'rsa',
    fromDays: -340,
    untilDays: 9,
  },
];

/** Known without making anybody's key. */
export const hasCertificate = (address: string): boolean => WANTED.some((one) => one.address === address.toLowerCase());

export interface Authorities {
  byHost(host: string): Authority | undefined;
  office: Authority;
  foreign: Authority;
  correspondents: readonly Correspondent[];
  correspondent(address: string): Correspondent | undefined;
}

async function makeCorrespondent(
  foreign: Authority,
  { name, organization, address, key, fromDays, untilDays, listed = true, forMail = true, revoked = false }: Wanted,
  now: Date,
): Promise<Correspondent> {
  const keys = (await webcrypto.subtle.generateKey(KEYS[key], true, ['sign', 'verify'])) as webcrypto.CryptoKeyPair;
  const input: IssueInput = {
    publicKey: keys.publicKey,
    name,
    organization,
    addresses: [address],
    purpose: 'both',
    from: new Date(now.getTime() + fromDays * DAY),
    until: new Date(now.getTime() + untilDays * DAY),
    forMail,
  };
  const certificate = await foreign.issue(input);
  if (revoked) foreign.revoke(foreign.state.issued.at(-1)!.serial, 'keyCompromise', new Date(now.getTime() - 12 * DAY));
  return {
    name,
    organization,
    address,
    listed,
    certificate: toBase64(certificate),
    key: toBase64(await webcrypto.subtle.exportKey('pkcs8', keys.privateKey)),
  };
}

/**
 * Opens what `dir` holds, or makes it; without `dir` it is forgotten when the process ends.
 *
 * @param ready a folder that is read where `dir` holds nothing, and never written
 */
export async function openAuthorities(dir: string | undefined, now: Date, ready?: string): Promise<Authorities> {
  const held: { written?: Written } = {};
  const write = (): void => {
    if (dir === undefined || held.written === undefined) return;
    writeWhole(dir, NAME, held.written);
  };
  const kept = readFirst<Written>([dir, ready], NAME);
  const [office, foreign] =
    kept === undefined
      ? [
          await Authority.create('Larkmoor Ferries', HOSTS.office, now, write),
          await Authority.create('Isles Trust', HOSTS.foreign, now, write),
        ]
      : [await Authority.open(kept.office, write), await Authority.open(kept.foreign, write)];
  const correspondents =
    kept?.correspondents ?? (await Promise.all(WANTED.map((wanted) => makeCorrespondent(foreign, wanted, now))));
  held.written = { office: office.state, foreign: foreign.state, correspondents };
  write();
  return {
    office,
    foreign,
    correspondents,
    byHost: (host) => (host === HOSTS.office ? office : host === HOSTS.foreign ? foreign : undefined),
    correspondent: (address) => correspondents.find((one) => one.address === address.toLowerCase()),
  };
}
