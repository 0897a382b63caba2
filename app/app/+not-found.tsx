import { Text } from '@under-lock/ui';
import { WayLink } from '../src/shell/WayLink';
import { Entrance } from '../src/session/Entrance';

export default function NotFound() {
  return (
    <Entrance title="There is no such page" footer={<WayLink href="/desk" label="To the desk" />}>
      <Text>The address may be mistyped, or the page has moved.</Text>
    </Entrance>
  );
}
