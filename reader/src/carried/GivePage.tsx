/** Asks for the file that a message travels in, before anything else is asked. */
import { type Room } from '@under-lock/contract/room';
import { type Carried } from '@under-lock/core/locks/carried/read';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import { Banner, Button, Heading, Loading, Row, Stack, Text } from '@under-lock/ui';
import { DropZone } from '@under-lock/ui/drop-zone';
import { useEffect, useRef, useState } from 'react';
import { language } from '../words/words';
import { askOpener, type Refused, takeFile } from './take';
import { carriedWords } from './words';
import { zone } from '../zone';

interface Props {
  grantId: string;
  room: Extract<Room, { state: 'held' }>;
  /** The reader's share is known from the address, or lies in an account. */
  hasShare: boolean;
  now: Date;
  onGiven: (carried: Pick<Carried, 'share' | 'sealed'>) => void;
}

function refusal(refused: Refused, name: string): string {
  switch (refused.why) {
    case 'not-ours':
      return carriedWords.notOurs(name);
    case 'another':
      return carriedWords.another(name);
    case 'too-large':
      return carriedWords.tooLarge(name);
    case 'no-link':
      return carriedWords.noLink(name);
    case 'elsewhere':
      return carriedWords.elsewhere(name, refused.origin);
  }
}

export function GivePage({ grantId, room, hasShare, now, onGiven }: Props) {
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | undefined>();
  const picker = useRef<HTMLInputElement>(null);
  const given = useRef(onGiven);
  given.current = onGiven;
  // Its link came with the address, where the page itself has opened this one.
  useEffect(
    () => (hasShare ? askOpener((sealed) => given.current({ share: undefined, sealed })) : undefined),
    [hasShare],
  );

  const take = async ([file]: readonly File[]): Promise<void> => {
    if (file === undefined) return;
    setBusy(true);
    setError(undefined);
    try {
      const taken = await takeFile(file, { grantId, origin: window.location.origin, hasShare });
      if ('why' in taken) setError(refusal(taken, file.name));
      else onGiven(taken);
    } catch {
      setError(carriedWords.notOurs(file.name)); // it could not be read from the disk
    } finally {
      setBusy(false);
    }
  };

  if (busy) return <Loading what={carriedWords.looking} />;
  return (
    <DropZone anywhere onFiles={(files) => void take(files)}>
      <Stack>
        <Heading level={1}>{carriedWords.title(room.senderName)}</Heading>
        <Text>{`${carriedWords.says} ${carriedWords.until(momentInWords(room.closesAt, now, zone, language), distanceInWords(room.closesAt, now, zone, language))}`}</Text>
        {error === undefined ? null : <Banner tone="brick">{error}</Banner>}
        <input
          ref={picker}
          type="file"
          hidden
          aria-label={carriedWords.field}
          onChange={(event) => {
            void take([...(event.target.files ?? [])]);
            event.target.value = '';
          }}
        />
        <Row>
          <Button label={carriedWords.choose} kind="main" onPress={() => picker.current?.click()} />
        </Row>
        <Text kind="small" tone="soft">
          {carriedWords.orDrop}
        </Text>
      </Stack>
    </DropZone>
  );
}
