/** Sending waits for the moment in which what was written last is looked through. */
import { useEffect, useRef, useState } from 'react';

export function useSendingWhenLooked(
  isTextSeen: boolean,
  send: () => Promise<void>,
): { asked: boolean; send: () => void } {
  const [asked, setAsked] = useState(false);
  const latest = useRef(send);
  latest.current = send;
  useEffect(() => {
    if (!asked || !isTextSeen) return;
    setAsked(false);
    void latest.current();
  }, [asked, isTextSeen]);
  return { asked, send: () => (isTextSeen ? void latest.current() : setAsked(true)) };
}
