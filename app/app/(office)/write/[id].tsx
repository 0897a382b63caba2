import { useLocalSearchParams } from 'expo-router';
import { WriteScreen } from '../../../src/write/WriteScreen';

/** Another draft is another desk: nothing of the one before may linger. */
export default function Draft() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <WriteScreen key={id} />;
}
