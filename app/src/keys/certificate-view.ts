/** A certificate and what is judged of it, as plain values that cross from the worker thread to the page. */
import { type Finding, type Use } from '@under-lock/core/certificate/verdict';

export interface CertificateView {
  /** SHA-256, lower-case hex. */
  fingerprint: string;
  bytes: Uint8Array<ArrayBuffer>;
  name: string;
  organization: string;
  addresses: readonly string[];
  issuer: string;
  notBefore: Date;
  notAfter: Date;
  /** As `RSA 3072` or `EC P-256`. */
  key: string;
  uses: Record<Use, boolean>;
  serial: string;
  authority: boolean;
}

export interface VerdictView {
  level: 'valid' | 'unchecked' | 'stop';
  findings: readonly Finding[];
  /** From the anchor down; only itself when nothing leads to one. */
  path: readonly CertificateView[];
  validUntil: Date;
  /** Only this worker trusts the authority it rests on. */
  personal: boolean;
}
