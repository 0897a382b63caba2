import { later } from '@under-lock/ui/later';
import { useLocalSearchParams } from 'expo-router';

const OpenPgpKeyScreen = later(
  async () => (await import('../../../../src/keys/openpgp/OpenPgpKeyScreen')).OpenPgpKeyScreen,
);

/** Another key is another page: nothing of the one before may linger. */
export default function Key() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <OpenPgpKeyScreen key={id} />;
}
