/**
 * Mail addresses as RFC 5321 §4.1.2 and RFC 6531 §3.3 allow them. Left out: address literals (`user@[192.0.2.1]`),
 * which no correspondent of an office has, and comments.
 */

export type AddressProblem = 'no-at' | 'local-part' | 'domain' | 'too-long' | 'no-dot';
export type AddressResult = { ok: true; address: string } | { ok: false; problem: AddressProblem };

const ATEXT = String.raw`[\p{L}\p{N}\p{M}!#$%&'*+/=?^_\x60{|}~-]`;
const DOT_STRING = new RegExp(`^${ATEXT}+(\\.${ATEXT}+)*$`, 'u');
const QUOTED = /^"(?:[^"\\\p{Cc}]|\\[\x20-\x7e])*"$/u;
const LABEL = /^[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?$/;

/**
 * A domain in the letters DNS takes, or undefined. Uses the URL parser's IDNA (UTS 46), which browsers and Node share.
 */
export function asciiDomain(domain: string): string | undefined {
  if (/[\s/?#@:\\[\]%]/.test(domain)) return undefined;
  let host: string;
  try {
    host = new URL(`http://${domain}`).hostname;
  } catch {
    return undefined;
  }
  // The URL parser reads "1.2" as an IPv4 address: a host of digits only is no mail domain.
  if (host.length > 253 || /^[\d.]+$/.test(host)) return undefined;
  return host.split('.').every((label) => LABEL.test(label)) ? host : undefined;
}

/** What stands behind the @, and before it, as they are written. */
export const hostOf = (address: string): string => address.slice(address.lastIndexOf('@') + 1);
export const localPartOf = (address: string): string => address.slice(0, address.lastIndexOf('@'));
/** Whether it is an address of this domain, or the domain itself, however either is spelled. */
export const isAtDomain = (address: string, domain: string): boolean =>
  hostOf(addressKey(address)) === domain.toLowerCase();

/**
 * Checks one bare address. The result is normalised: NFC, domain in lower case ASCII; the local part keeps its case.
 */
export function checkAddress(typed: string): AddressResult {
  const text = typed.trim().normalize('NFC');
  const at = text.lastIndexOf('@');
  if (at < 1 || at === text.length - 1) return { ok: false, problem: 'no-at' };
  const local = text.slice(0, at);
  if (new TextEncoder().encode(local).length > 64) return { ok: false, problem: 'too-long' }; // §4.5.3.1.1
  if (!DOT_STRING.test(local) && !QUOTED.test(local)) return { ok: false, problem: 'local-part' };
  const domain = asciiDomain(text.slice(at + 1));
  if (domain === undefined) return { ok: false, problem: 'domain' };
  if (!domain.includes('.')) return { ok: false, problem: 'no-dot' };
  const address = `${local}@${domain}`;
  if (new TextEncoder().encode(address).length > 254) return { ok: false, problem: 'too-long' }; // §4.5.3.1.3 less the angle brackets
  return { ok: true, address };
}

/** Two spellings with the same key are one mailbox to us: no host we write to tells case apart. */
export const addressKey = (address: string): string => address.normalize('NFC').toLowerCase();

export interface Correspondent {
  /** Empty when not known. */
  name: string;
  address: string;
}

/**
 * A display name without control characters and direction overrides (a name must not be able to show as another
 * address).
 */
export function cleanName(name: string): string {
  return name
    .replace(/[\p{Cc}\u202a-\u202e\u2066-\u2069]/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 200);
}

/** What the office itself writes from: notices, and reports to its own people. Nobody there reads an answer. */
export const readingRoomAddress = (mailDomain: string): string => `reading-room@${mailDomain}`;
