/** Colleagues who could be let in and are not, and how their keys are told apart. */
import { keyFingerprint } from '@under-lock/core/account/key-fingerprint';
import { fromBase64Url, toHex } from '@under-lock/core/bytes';
import { type Colleague } from '../session/useOffice';
import { type BookStand } from './useBook';

export const waitingFor = (stand: BookStand, colleagues: readonly Colleague[]): Colleague[] =>
  colleagues.filter(
    ({ id, key, endedAt }) =>
      key !== undefined &&
      endedAt === undefined &&
      !stand.out.includes(id) &&
      !stand.members.some((member) => member.id === id),
  );

/** Eight groups of four of the key's SHA-256: enough to be read out, and to be told from another. */
export const spelledKey = ({ key }: Pick<Colleague, 'key'>): string =>
  key === undefined
    ? ''
    : (
        toHex(fromBase64Url(keyFingerprint(key.publicKey)))
          .slice(0, 32)
          .match(/.{4}/g) ?? []
      ).join(' ');
