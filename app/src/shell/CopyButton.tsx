import { Button } from '@under-lock/ui';
import { useEffect, useState } from 'react';
import { Text as NativeText } from 'react-native';

const SAID_MS = 4_000;

/** @param what What is copied, with its article: “the address”. */
export function CopyButton({ value, what }: { value: string; what: string }) {
  const [copied, setCopied] = useState(false);
  useEffect(() => {
    if (!copied) return undefined;
    const timer = setTimeout(() => setCopied(false), SAID_MS);
    return () => clearTimeout(timer);
  }, [copied]);
  return (
    <>
      <Button
        kind="quiet"
        label={copied ? 'Copied' : `Copy ${what}`}
        onPress={() => void navigator.clipboard.writeText(value).then(() => setCopied(true))}
      />
      <NativeText role="status" style={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden' }}>
        {copied ? `Copied ${what}` : ''}
      </NativeText>
    </>
  );
}
