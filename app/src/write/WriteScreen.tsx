/** Write: a draft by its number, opened, gone or on its way. */
import { timeInWords } from '@under-lock/core/when';
import { Banner, Button, Loading, Row, Text } from '@under-lock/ui';
import { useLocalSearchParams } from 'expo-router';
import { zone } from '../clock';
import { Screen } from '../shell/Screen';
import { type Keeping, useDraft } from './useDraft';
import { fromHere } from '../shell/from-here';
import { WriteDesk } from './WriteDesk';

export function WriteScreen() {
  const { id, fresh, person, inBook } = useLocalSearchParams<{
    id: string;
    fresh?: string;
    person?: string;
    inBook?: string;
  }>();
  const desk = useDraft(id, fresh === '1', { person, inBook });
  if (desk.missing) {
    return (
      <Screen title="This draft is gone">
        <Text>It has been sent or removed, here or on another device.</Text>
        <Row>
          <Button kind="main" label="Write a new message" onPress={() => fromHere()('/write')} />
        </Row>
      </Screen>
    );
  }
  if (desk.draft === undefined) {
    return (
      <Screen title="Write">
        {desk.keeping.state === 'failed' ? (
          <Banner tone="brick">{desk.keeping.sentence}</Banner>
        ) : (
          <Loading what="Opening your draft" />
        )}
      </Screen>
    );
  }
  return <WriteDesk desk={desk} draft={desk.draft} aside={keepingWords(desk.keeping)} />;
}

function keepingWords(keeping: Keeping): string {
  switch (keeping.state) {
    case 'new':
      return 'Kept by itself, sealed, as you write';
    case 'changed':
    case 'keeping':
      return 'Keeping …';
    case 'kept':
      return `Draft kept, sealed, ${timeInWords(keeping.at, zone)}`;
    case 'conflict':
      return 'Not kept: changed elsewhere';
    case 'failed':
      return 'Not kept yet; trying again';
  }
}
