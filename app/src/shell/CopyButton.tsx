import { Button } from '@under-lock/ui';
import { useEffect, useState } from 'react';
import { Text as NativeText } from 'react-native';

const SAID_MS = 4_000;

interface Props {
  value: string;
  /** What is copied, with its article: “the address”. */
  what: string;
  /** Whose it is, for screen readers, where several are copied on a page. */
  of?: string;
}

export function CopyButton({ value, what, of }: Props) {
  const [copied, setCopied] = useState(false);
  useEffect(() => {
    if (!copied) return undefined;
    const timer = setTimeout(() => setCopied(false), SAID_MS);
    return () => clearTimeout(timer);
  }, [copied]);
  const label = copied ? 'Copied' : `Copy ${what}`;
  return (
    <>
      <Button
        kind="quiet"
        label={label}
        {...(of === undefined ? {} : { describe: `${label}: ${of}` })}
        onPress={() => void navigator.clipboard.writeText(value).then(() => setCopied(true))}
      />
      <NativeText role="status" style={{ position: 'absolute', width: 1, height: 1, overflow: 'hidden' }}>
        {copied ? `Copied ${what}` : ''}
      </NativeText>
    </>
  );
}
