/** Object identifiers of CMS and S/MIME: RFC 5652, 5083, 5084, 5753, 3560, 3565, 8551, 5035. */
export const CONTENT = {
  data: '1.2.840.113549.1.7.1',
  signed: '1.2.840.113549.1.7.2',
  enveloped: '1.2.840.113549.1.7.3',
  authEnveloped: '1.2.840.113549.1.9.16.1.23',
  compressed: '1.2.840.113549.1.9.16.1.9',
} as const;

export const ATTRIBUTE = {
  contentType: '1.2.840.113549.1.9.3',
  messageDigest: '1.2.840.113549.1.9.4',
  signingTime: '1.2.840.113549.1.9.5',
  capabilities: '1.2.840.113549.1.9.15',
  signingCertificate: '1.2.840.113549.1.9.16.2.12',
  signingCertificateV2: '1.2.840.113549.1.9.16.2.47',
  encryptionKeyPreference: '1.2.840.113549.1.9.16.2.11',
} as const;

export const CIPHER = {
  'AES-128-CBC': '2.16.840.1.101.3.4.1.2',
  'AES-192-CBC': '2.16.840.1.101.3.4.1.22',
  'AES-256-CBC': '2.16.840.1.101.3.4.1.42',
  'AES-128-GCM': '2.16.840.1.101.3.4.1.6',
  'AES-192-GCM': '2.16.840.1.101.3.4.1.26',
  'AES-256-GCM': '2.16.840.1.101.3.4.1.46',
  '3DES-CBC': '1.2.840.113549.3.7',
  'RC2-CBC': '1.2.840.113549.3.2',
} as const;
export type CipherName = keyof typeof CIPHER;

export const WRAP = {
  '2.16.840.1.101.3.4.1.5': 16,
  '2.16.840.1.101.3.4.1.25': 24,
  '2.16.840.1.101.3.4.1.45': 32,
} as const;
export const WRAP_AES_256 = '2.16.840.1.101.3.4.1.45';

export const KEY_ENCRYPTION = {
  rsa: '1.2.840.113549.1.1.1',
  rsaOaep: '1.2.840.113549.1.1.7',
  mgf1: '1.2.840.113549.1.1.8',
} as const;
/** Ephemeral-static ECDH with the X9.63 key derivation, by its hash (RFC 5753 §7.1.4). */
export const AGREEMENT = {
  '1.3.133.16.840.63.0.2': 'SHA-1',
  '1.3.132.1.11.1': 'SHA-256',
  '1.3.132.1.11.2': 'SHA-384',
  '1.3.132.1.11.3': 'SHA-512',
} as const;
export const AGREEMENT_SHA256 = '1.3.132.1.11.1';
export const AGREEMENT_SHA384 = '1.3.132.1.11.2';
