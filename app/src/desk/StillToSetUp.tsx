import { Banner, Button } from '@under-lock/ui';
import { router } from 'expo-router';
import { doneOf, STEPS, useSetup } from '../office/useSetup';
import { useOpenSession } from '../session/session';

/** To an administrator, while the office is not set up. */
export function StillToSetUp() {
  const isAdministrator = useOpenSession().account.role === 'administrator';
  const { data: setup } = useSetup(isAdministrator);
  if (setup === undefined || doneOf(setup) === STEPS.length) return null;
  return (
    <Banner tone="amber" actions={<Button label="Set it up" onPress={() => router.push('/office/setup' as never)} />}>
      {`This office is not set up yet: ${doneOf(setup)} of ${STEPS.length} done.`}
    </Banner>
  );
}
