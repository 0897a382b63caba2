/**
 * People in the worker's vault whose certificate or OpenPGP key runs out soon, told from what was noted when it was
 * kept: no key is opened and nobody asked.
 */
import { runsOutSoon } from '@under-lock/core/certificate/reminder';
import { currentCertificate } from './certificates';
import { currentKey } from './keys';
import { type Person } from '@under-lock/core/people/kept-person';
import { usePeople } from './person';

export interface RunningOut {
  who: string;
  what: 'certificate' | 'key';
  at: Date;
}

/** The soonest first. */
export function peopleRunningOut(people: readonly Person[], now: Date): RunningOut[] {
  return people
    .flatMap((person): RunningOut[] => {
      const ends = [
        { what: 'certificate', at: currentCertificate(person)?.notAfter } as const,
        { what: 'key', at: currentKey(person)?.notAfter } as const,
      ];
      return ends.flatMap(({ what, at }): RunningOut[] =>
        at === undefined || !runsOutSoon({ notAfter: new Date(at) }, now)
          ? []
          : [{ who: person.name || person.address, what, at: new Date(at) }],
      );
    })
    .sort((a, b) => a.at.getTime() - b.at.getTime());
}

export const usePeopleRunningOut = (now: Date): RunningOut[] =>
  peopleRunningOut(
    (usePeople().data ?? []).map(({ value }) => value),
    now,
  );
