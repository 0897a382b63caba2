import { asUri, inWords } from '@under-lock/core/openpgp/fingerprint';
import { addressesOfKey, nameOfKey, type OpenPgpKey, partFor } from '@under-lock/core/openpgp/key';
import { type OpenPgpVerdict } from '@under-lock/core/openpgp/verdict';
import { type OpenPgpVerdictView, type OpenPgpView } from '../../../keys/openpgp/view';

export function keyView(key: OpenPgpKey, now: Date): OpenPgpView {
  const { fingerprint, bytes, version, createdAt, expiresAt, revocation, parts, readsNewest, users } = key;
  return {
    fingerprint,
    words: inWords(fingerprint),
    uri: asUri(fingerprint),
    bytes,
    version,
    createdAt,
    expiresAt,
    revocation,
    readsNewest,
    keyIds: key.material.getKeyIDs().map((id) => id.toHex()),
    name: nameOfKey(key),
    addresses: addressesOfKey(key),
    retired: users
      .filter(({ retiredAt, address }) => retiredAt !== undefined && address !== '')
      .map(({ address }) => address),
    parts: parts.map(
      ({ fingerprint: one, algorithm, primary, sign, encrypt, createdAt: born, expiresAt: end, revocation: gone }) => ({
        fingerprint: one,
        algorithm,
        primary,
        sign,
        encrypt,
        createdAt: born,
        expiresAt: end,
        revokedAt: gone?.at,
      }),
    ),
    uses: { sign: partFor(key, 'sign', now) !== undefined, encrypt: partFor(key, 'encrypt', now) !== undefined },
  };
}

export const keyVerdictView = ({ level, findings, vouchedBy, validUntil }: OpenPgpVerdict): OpenPgpVerdictView => ({
  level,
  findings,
  validUntil,
  vouchedBy: vouchedBy.map((one) => ({ name: nameOfKey(one), fingerprint: one.fingerprint })),
});
