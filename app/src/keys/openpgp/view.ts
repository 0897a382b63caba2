/** An OpenPGP key and what is judged of it, as plain values that cross from the worker thread to the page. */
import { type RevocationReason } from '@under-lock/core/certificate/extensions';
import { type OpenPgpFinding } from '@under-lock/core/openpgp/verdict';

export interface KeyPartView {
  fingerprint: string;
  algorithm: string;
  primary: boolean;
  sign: boolean;
  encrypt: boolean;
  createdAt: Date;
  expiresAt: Date | undefined;
  revokedAt: Date | undefined;
}

export interface OpenPgpView {
  /** Lower-case hex. */
  fingerprint: string;
  /** The same as words to read out. */
  words: readonly string[];
  /** What a QR picture of it says. */
  uri: string;
  keyIds: readonly string[];
  bytes: Uint8Array<ArrayBuffer>;
  name: string;
  addresses: readonly string[];
  retired: readonly string[];
  version: number;
  createdAt: Date;
  expiresAt: Date | undefined;
  revocation: { at: Date; reason: RevocationReason } | undefined;
  parts: readonly KeyPartView[];
  readsNewest: boolean;
  uses: { sign: boolean; encrypt: boolean };
}

export interface OpenPgpVerdictView {
  level: 'valid' | 'unchecked' | 'stop';
  findings: readonly OpenPgpFinding[];
  vouchedBy: readonly { name: string; fingerprint: string }[];
  validUntil: Date | undefined;
}
