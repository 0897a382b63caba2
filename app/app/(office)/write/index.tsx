import { Redirect } from 'expo-router';
import { useState } from 'react';

/** A new draft has its number from the start, so that leaving and coming back finds it. */
export default function NewDraft() {
  const [id] = useState(() => crypto.randomUUID());
  return <Redirect href={`/write/${id}?fresh=1` as never} />;
}
