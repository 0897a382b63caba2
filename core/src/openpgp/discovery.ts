/**
 * Where somebody's key may be found: Web Key Directory (draft-koch-openpgp-webkey-service), a key directory over HTTP
 * (HKP), the Autocrypt field of their mail (Autocrypt level 1).
 */
import { sha1 } from '@noble/hashes/legacy.js';
import { type Bytes, utf8 } from '../bytes';
import { checkAddress } from '../people/address';
import { toBase64 } from '../bytes';
import { base64 } from '@scure/base';
import { keyHost } from './key-host';

/** Z-base-32 (RFC 6189 §5.1.6). */
const LETTERS = 'ybndrfg8ejkmcpqxot1uwisza345h769';
export function zBase32(bytes: Uint8Array): string {
  const bits = [...bytes].map((octet) => octet.toString(2).padStart(8, '0')).join('');
  return (bits.match(/.{1,5}/g) ?? []).map((five) => LETTERS[parseInt(five.padEnd(5, '0'), 2)]).join('');
}

/** Only letters of ASCII are folded (§3.1): other ones differ by place. */
const folded = (local: string): string => local.replace(/[A-Z]/g, (letter) => letter.toLowerCase());

/** The name a directory keeps an address's key under: SHA-1 is what the draft fixes, as a name and not as a proof. */
export const wkdHash = (local: string): string => zBase32(sha1(utf8(folded(local))));

/** The advanced place first, then the direct one (§3.1). Empty for what is no address. */
export function wkdUrls(address: string): string[] {
  const checked = checkAddress(address);
  if (!checked.ok) return [];
  const at = checked.address.lastIndexOf('@');
  const [local, domain] = [checked.address.slice(0, at), checked.address.slice(at + 1)];
  const [hash, query] = [wkdHash(local), encodeURIComponent(local)];
  return [
    `https://${keyHost(domain)}/.well-known/openpgpkey/${domain}/hu/${hash}?l=${query}`,
    `https://${domain}/.well-known/openpgpkey/hu/${hash}?l=${query}`,
  ];
}

/** A lookup by address, or by the whole fingerprint; the answer is armoured (draft-shaw-openpgp-hkp §3.1). */
export const hkpUrl = (directory: string, search: string): string =>
  `${directory}/pks/lookup?op=get&options=mr&search=${encodeURIComponent(search)}`;

export interface Autocrypt {
  address: string;
  key: Bytes;
  prefersEncryption: boolean;
}

const MAX_AUTOCRYPT = 64 * 1024;

/**
 * One field's value; undefined when it is to be passed over: another type, a critical attribute not known here, no key.
 */
export function readAutocrypt(value: string): Autocrypt | undefined {
  if (value.length > MAX_AUTOCRYPT) return undefined;
  const attributes = value.split(';').map((one) => {
    const equals = one.indexOf('=');
    return [one.slice(0, equals).trim(), one.slice(equals + 1).trim()] as const;
  });
  const known = ['addr', 'prefer-encrypt', 'keydata'];
  if (attributes.some(([name]) => !known.includes(name) && !name.startsWith('_') && name !== '')) return undefined;
  const get = (wanted: string): string => attributes.find(([name]) => name === wanted)?.[1] ?? '';
  try {
    const key = base64.decode(get('keydata').replace(/\s+/g, '')) as Bytes;
    const address = checkAddress(get('addr'));
    return address.ok && key.length > 0
      ? { address: address.address, key, prefersEncryption: get('prefer-encrypt') === 'mutual' }
      : undefined;
  } catch {
    return undefined;
  }
}

/** The field as it leaves, folded, with its line end. */
export function autocryptField(address: string, key: Uint8Array): string {
  const lines = toBase64(key).replace(/(.{74})(?=.)/g, '$1\r\n ');
  return `Autocrypt: addr=${address}; prefer-encrypt=mutual; keydata=\r\n ${lines}\r\n`;
}
