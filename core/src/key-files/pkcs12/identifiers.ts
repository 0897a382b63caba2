/** Object identifiers of PKCS#12 and the password schemes inside it: RFC 7292, 8018. */
export const OLD_PBE = {
  '1.2.840.113549.1.12.1.3': { name: '3DES-CBC', keyBytes: 24, bits: 0 },
  '1.2.840.113549.1.12.1.4': { name: '3DES-CBC', keyBytes: 16, bits: 0 },
  '1.2.840.113549.1.12.1.5': { name: 'RC2-CBC', keyBytes: 16, bits: 128 },
  '1.2.840.113549.1.12.1.6': { name: 'RC2-CBC', keyBytes: 5, bits: 40 },
} as const;
export const PBES2 = '1.2.840.113549.1.5.13';
export const PBKDF2 = '1.2.840.113549.1.5.12';
export const PRF = {
  '1.2.840.113549.2.7': 'SHA-1',
  '1.2.840.113549.2.9': 'SHA-256',
  '1.2.840.113549.2.10': 'SHA-384',
  '1.2.840.113549.2.11': 'SHA-512',
} as const;
export const HMAC_SHA256 = '1.2.840.113549.2.9';
export const BAG = {
  key: '1.2.840.113549.1.12.10.1.1',
  shroudedKey: '1.2.840.113549.1.12.10.1.2',
  certificate: '1.2.840.113549.1.12.10.1.3',
  safe: '1.2.840.113549.1.12.10.1.6',
} as const;
export const X509 = '1.2.840.113549.1.9.22.1';
export const FRIENDLY_NAME = '1.2.840.113549.1.9.20';
export const LOCAL_KEY_ID = '1.2.840.113549.1.9.21';
export const ENCRYPTED_DATA = '1.2.840.113549.1.7.6';
