/** Colleagues who could be let in and are not, and how their keys are told apart. */
import { spelledFingerprint } from '@under-lock/core/account/key-fingerprint';
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

export const spelledKey = ({ key }: Pick<Colleague, 'key'>): string =>
  key === undefined ? '' : spelledFingerprint(key.publicKey);
