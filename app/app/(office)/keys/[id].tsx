import { later } from '@under-lock/ui/later';
import { useLocalSearchParams } from 'expo-router';

const KeyScreen = later(async () => (await import('../../../src/keys/KeyScreen')).KeyScreen);

/** Another key is another page: nothing of the one before may linger. */
export default function Key() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <KeyScreen key={id} />;
}
