/** One of the things that a new office sets up, with whether it is done. */
import { type Setup } from '@under-lock/contract/office';
import { Stack } from '@under-lock/ui';
import { type ReactNode } from 'react';
import { StepLine } from '../shell/StepLine';
import { isDone, STEPS, type SetupStep } from './useSetup';

interface StepProps {
  setup: Setup;
  step: SetupStep;
  title: string;
  last?: boolean;
  children: ReactNode;
}

export function Step({ setup, step, title, last = false, children }: StepProps) {
  return (
    <StepLine title={`${STEPS.indexOf(step) + 1}. ${title}`} done={isDone[step](setup)} marked last={last}>
      <Stack>{children}</Stack>
    </StepLine>
  );
}
