import { Slot } from 'expo-router';
import { SWRConfig } from 'swr';

export default function Layout() {
  return (
    <SWRConfig value={{ shouldRetryOnError: true, errorRetryInterval: 4_000, keepPreviousData: true }}>
      <Slot />
    </SWRConfig>
  );
}

export { Crash as ErrorBoundary } from '../src/shell/Crash';
