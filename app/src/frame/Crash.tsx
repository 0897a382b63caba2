import { Button, Row, Text } from '@under-lock/ui';
import { Entrance } from '../session/Entrance';

/**
 * What is shown when a page breaks: Expo Router's error boundary. The draft lies sealed on the server; loading again
 * brings it back.
 */
export function Crash() {
  return (
    <Entrance title="This page stopped working">
      <Text>
        What you wrote was kept up to a moment ago. Load the page again; if it happens once more, tell your
        administrator what you did just before.
      </Text>
      <Row>
        <Button kind="main" label="Load again" onPress={() => window.location.reload()} />
      </Row>
    </Entrance>
  );
}
