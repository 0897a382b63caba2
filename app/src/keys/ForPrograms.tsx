/** On the page of a certificate or key that signs for a worker's mail programs, and nothing here. */
import { Banner, Stack, Text } from '@under-lock/ui';
import { WayLink } from '../shell/WayLink';

export const ForPrograms = ({ soon = false }: { /** It runs out soon. */ soon?: boolean }) => (
  <Stack>
    <Text>Signs what your mail programs send, at the door for these, and nothing here. It opens no mail.</Text>
    {soon ? (
      <Banner tone="amber">It runs out soon. Take it back under Mail programs, and make a new one there.</Banner>
    ) : null}
    <WayLink href="/account/programs" label="Mail programs" forward />
  </Stack>
);
