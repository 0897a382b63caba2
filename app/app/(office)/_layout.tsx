import { Gate } from '../../src/session/Gate';
import { Shell } from '../../src/frame/Shell';

export default function Layout() {
  return (
    <Gate>
      <Shell />
    </Gate>
  );
}

export { Crash as ErrorBoundary } from '../../src/frame/Crash';
