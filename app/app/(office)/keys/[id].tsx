import { useLocalSearchParams } from 'expo-router';
import { KeyScreen } from '../../../src/keys/KeyScreen';

/** Another key is another page: nothing of the one before may linger. */
export default function Key() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <KeyScreen key={id} />;
}
