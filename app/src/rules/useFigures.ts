import { getRuleFigures, type RuleFigures } from '@under-lock/contract/rules';
import useSWR from 'swr';
import { api } from '../api';
import { told } from '../live/live';

export const useFigures = () => useSWR('rule-figures', () => api(getRuleFigures), { use: [told('office')] });

const times = (count: number): string => `${count} ×`;

/** In a few words, for a line of a list. */
export function figuresInWords(figures: RuleFigures | undefined, state: 'off' | 'tried' | 'on'): string {
  const { acted = 0, stopped = 0, would = 0 } = figures ?? {};
  const said = [
    ...(acted > 0 ? [`acted ${times(acted)}`] : []),
    ...(stopped > 0 ? [`stopped ${times(stopped)}`] : []),
    ...(would > 0 ? [`would have acted ${times(would)}`] : []),
  ];
  return said.length > 0 ? said.join(', ') : state === 'off' ? 'counts for nobody' : 'has not acted yet';
}
