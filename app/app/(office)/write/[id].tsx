import { later } from '@under-lock/ui/later';
import { useLocalSearchParams } from 'expo-router';

const WriteScreen = later(async () => (await import('../../../src/write/WriteScreen')).WriteScreen);

/** Another draft is another desk: nothing of the one before may linger. */
export default function Draft() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <WriteScreen key={id} />;
}
