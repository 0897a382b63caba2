import { sha256 } from '@noble/hashes/sha2.js';
import { toBase64Url, toHex } from '../bytes';

/** What tells two account keys apart: SHA-256 of the public half, as base64url. */
export const keyFingerprint = (publicKey: Uint8Array): string => toBase64Url(sha256(publicKey));

/** Eight groups of four of it: enough to be read out, and to be told from another. */
export const spelledFingerprint = (publicKey: Uint8Array): string =>
  toHex(sha256(publicKey)).slice(0, 32).match(/.{4}/g)!.join(' ');
