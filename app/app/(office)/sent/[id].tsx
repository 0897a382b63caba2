import { Redirect, useLocalSearchParams } from 'expo-router';

/** Where mail led to for a while. */
export default function Moved() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <Redirect href={`/mail/${id}` as never} />;
}
