import { useLocalSearchParams } from 'expo-router';
import { OpenPgpKeyScreen } from '../../../../src/keys/openpgp/OpenPgpKeyScreen';

/** Another key is another page: nothing of the one before may linger. */
export default function Key() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <OpenPgpKeyScreen key={id} />;
}
