/** What a reader wrote, opened again at a press: its text and the names of its files. */
import { type MessageContent } from '@under-lock/core/message/content';
import { sizeInWords } from '@under-lock/core/when';
import { Button, Loading, Prose, Row, Text } from '@under-lock/ui';
import { useState } from 'react';
import { words } from './words/words';

interface Props {
  open: () => Promise<MessageContent>;
  labels: { look: string; hide: string };
  /** What stands behind the button's label for screen readers. */
  what: string;
}

export function SentContent({ open, labels, what }: Props) {
  const [content, setContent] = useState<MessageContent | 'opening' | 'failed' | undefined>();
  if (content === 'opening') return <Loading what={words.opening} />;
  const shown = typeof content === 'object';
  const label = shown ? labels.hide : labels.look;
  const press = (): void => {
    setContent(shown ? undefined : 'opening');
    if (!shown) open().then(setContent, () => setContent('failed'));
  };
  return (
    <>
      {shown ? <Prose>{content.text}</Prose> : null}
      {shown && content.files.length > 0 ? (
        <Text kind="small" tone="soft">
          {content.files.map((file) => `${file.name}, ${sizeInWords(file.bytes.length)}`).join(' · ')}
        </Text>
      ) : null}
      {content === 'failed' ? <Text kind="small" tone="brick">{`■ ${words.failed}`}</Text> : null}
      <Row>
        <Button label={label} describe={`${label}${what}`} expanded={shown} onPress={press} />
      </Row>
    </>
  );
}
