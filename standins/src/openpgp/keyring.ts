/**
 * The people outside who use OpenPGP, their keys, and where each is published: at their own domain, in the key
 * directory, or nowhere. Written down in one file, so that keys stay over a restart.
 */
import { certified, revoked } from '@under-lock/core/openpgp/change-key';
import { readSecretKey } from '@under-lock/core/openpgp/key';
import { makeOpenPgpKey, type OpenPgpKind } from '@under-lock/core/openpgp/make-key';
import { readFirst, writeWhole } from '../ready';

export const KEYS_HOST = 'keys.islestrust.example';
export const CERTIFYING_HOST = 'northquay.example';

export interface KeyHolder {
  name: string;
  address: string;
  /** Binary, base64, without a passphrase: nothing here is worth one. */
  secret: string;
  place: 'domain' | 'directory' | 'nowhere';
  revoked: boolean;
}

interface Written {
  certifying: string;
  holders: KeyHolder[];
}
interface Wanted {
  name: string;
  address: string;
  kind: OpenPgpKind;
  place: KeyHolder['place'];
  vouched?: true;
  revoked?: true;
  untilDays?: number;
}

const WANTED: readonly Wanted[] = [
  { name: 'Nils Rook', address: 'underwriting@northquay.example', kind: 'wide', place: 'domain', vouched: true },
  { name: 'Una Pike', address: 'una.pike@skerryfreight.example', kind: 'wide', place: 'directory' },
  { name: 'Jon Fell', address: 'jon.fell@skerryfreight.example', kind: 'wide', place: 'directory', revoked: true },
  {
    name: 'Skerry Freight, customs desk',
    address: 'customs@skerryfreight.example',
    kind: 'newest',
    place: 'directory',
  },
  { name: 'Lene Hjort', address: 'lene.hjort@pilots.example', kind: 'wide', place: 'nowhere', untilDays: 20 },
];
const NAME = 'openpgp.json';
const DAY = 86_400_000;

/** Known without making anybody's key. */
export const usesOpenPgp = (address: string): boolean => WANTED.some((one) => one.address === address.toLowerCase());

const packed = (bytes: Uint8Array): string => Buffer.from(bytes).toString('base64');
export const unpacked = (text: string): Uint8Array<ArrayBuffer> => new Uint8Array(Buffer.from(text, 'base64'));

async function makeHolder(
  { name, address, kind, place, vouched, revoked: gone, untilDays = 700 }: Wanted,
  certifying: Uint8Array,
  now: Date,
): Promise<KeyHolder> {
  const born = new Date(now.getTime() - 40 * DAY);
  const made = await makeOpenPgpKey(
    kind,
    { name, addresses: [address] },
    born,
    new Date(now.getTime() + untilDays * DAY),
  );
  let secret = await readSecretKey(made.secret);
  if (vouched === true)
    secret = await secret.update(
      await certified(secret.toPublic(), await readSecretKey(certifying), new Date(now.getTime() - 30 * DAY)),
    );
  if (gone === true) secret = await revoked(secret, 'keyCompromise', new Date(now.getTime() - 12 * DAY));
  return { name, address, place, revoked: gone === true, secret: packed(secret.write()) };
}

export interface Keyring {
  holders: readonly KeyHolder[];
  holder(address: string): KeyHolder | undefined;
  certifying: Uint8Array<ArrayBuffer>;
  /** A holder's key changes: replaced by a new one, or revoked. */
  change(address: string, what: 'replace' | 'revoke', now: Date): Promise<void>;
}

/**
 * Opens what `dir` holds, or makes it; without `dir` it is forgotten when the process ends.
 *
 * @param ready a folder that is read where `dir` holds nothing, and never written
 */
export async function openKeyring(dir: string | undefined, now: Date, ready?: string): Promise<Keyring> {
  const kept = readFirst<Written>([dir, ready], NAME);
  const certifying =
    kept === undefined
      ? (
          await makeOpenPgpKey(
            'wide',
            { name: 'Northquay Insurance', addresses: [] },
            new Date(now.getTime() - 60 * DAY),
          )
        ).secret
      : unpacked(kept.certifying);
  const holders = kept?.holders ?? (await Promise.all(WANTED.map((wanted) => makeHolder(wanted, certifying, now))));
  const write = (): void => {
    if (dir === undefined) return;
    writeWhole(dir, NAME, { certifying: packed(certifying), holders } satisfies Written);
  };
  write();
  const holder = (address: string): KeyHolder | undefined =>
    holders.find((one) => one.address === address.toLowerCase());
  return {
    holders,
    certifying,
    holder,
    async change(address, what, at) {
      const one = holder(address);
      if (one === undefined) return;
      if (what === 'revoke') {
        one.secret = packed((await revoked(await readSecretKey(unpacked(one.secret)), 'keyCompromise', at)).write());
        one.revoked = true;
      } else
        one.secret = packed((await makeOpenPgpKey('wide', { name: one.name, addresses: [one.address] }, at)).secret);
      write();
    },
  };
}
