import { later } from '@under-lock/ui/later';
import { useLocalSearchParams } from 'expo-router';

const HandedScreen = later(async () => (await import('../../../../src/programs/HandedScreen')).HandedScreen);

/** Another mail is opened anew. */
export default function Handed() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <HandedScreen key={id} id={id} />;
}
