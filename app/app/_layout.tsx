import { keepPressesSteady } from '@under-lock/ui/steady-presses';
import { Slot } from 'expo-router';
import { SWRConfig } from 'swr';
import { swrSettings } from '../src/swr';

keepPressesSteady();

export default function Layout() {
  return (
    <SWRConfig value={swrSettings}>
      <Slot />
    </SWRConfig>
  );
}

export { Crash as ErrorBoundary } from '../src/frame/Crash';
