/** How far the office is set up. */
import { getSetup, type Setup } from '@under-lock/contract/office';
import useSWR from 'swr';
import { api } from '../api';
import { told } from '../live/live';

export const useSetup = (asked = true) =>
  useSWR(asked ? 'setup' : null, () => api(getSetup), { use: [told('office')] });

export const STEPS = ['mail', 'records', 'presets', 'authorities', 'colleagues'] as const;
export type SetupStep = (typeof STEPS)[number];

export const isDone: Record<SetupStep, (setup: Setup) => boolean> = {
  mail: ({ mailTried }) => mailTried?.outcome === 'accepted',
  records: ({ recordsPublishedAt }) => recordsPublishedAt !== undefined,
  presets: ({ presets }) => presets > 0,
  authorities: ({ authorities }) => authorities > 0,
  colleagues: ({ colleagues }) => colleagues > 1,
};

export const doneOf = (setup: Setup): number => STEPS.filter((step) => isDone[step](setup)).length;
