import { sha256 } from '@noble/hashes/sha2.js';
import { toBase64Url } from '../bytes';

/** What tells two account keys apart: SHA-256 of the public half, as base64url. */
export const keyFingerprint = (publicKey: Uint8Array): string => toBase64Url(sha256(publicKey));
