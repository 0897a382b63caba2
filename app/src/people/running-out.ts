/** People in the worker's vault whose certificate runs out soon, told from what was noted when it was kept: no key is opened and nobody asked. */
import { runsOutSoon } from '@under-lock/core/certificate/reminder';
import { currentCertificate } from './certificates';
import { type Person, usePeople } from './person';

export interface RunningOut { who: string; at: Date }

/** The soonest first. */
export function peopleRunningOut(people: readonly Person[], now: Date): RunningOut[] {
  return people.flatMap((person): RunningOut[] => {
    const notAfter = currentCertificate(person)?.notAfter;
    return notAfter === undefined || !runsOutSoon({ notAfter: new Date(notAfter) }, now) ? [] : [{ who: person.name || person.address, at: new Date(notAfter) }];
  }).sort((a, b) => a.at.getTime() - b.at.getTime());
}

export const usePeopleRunningOut = (now: Date): RunningOut[] => peopleRunningOut((usePeople().data ?? []).map(({ value }) => value), now);
