/** A one-time password that is still to be told: shown by a press, and gone once it was used. */
import { type Grant } from '@under-lock/contract/outgoing';
import { Button, Row, Text } from '@under-lock/ui';
import { useState } from 'react';
import { who } from '../handling/grant-words';

export function OneTimePassword({ grant, told }: { grant: Grant; told: string | undefined }) {
  const [shown, setShown] = useState(false);
  if (grant.check.used === undefined) return null;
  if (grant.check.used)
    return (
      <Text kind="small" tone="soft">
        The one-time password was used.
      </Text>
    );
  if (told === undefined) return null;
  return (
    <>
      {shown ? (
        <>
          <Text kind="mono" selectable>
            {told}
          </Text>
          <Text kind="small" tone="soft">
            Tell it to them by phone or in person, never by mail.
          </Text>
        </>
      ) : null}
      <Row>
        <Button
          kind="quiet"
          label={shown ? 'Hide it' : 'Show the one-time password'}
          describe={`${shown ? 'Hide' : 'Show'} the one-time password for ${who(grant)}`}
          onPress={() => setShown(!shown)}
        />
      </Row>
    </>
  );
}
