/** Files to send along: chosen, named with their sizes, taken out again; and whether they are too large together. */
import { sizeInWords } from '@under-lock/core/when';
import { Button, Row, Text } from '@under-lock/ui';
import { useRef } from 'react';
import { words } from './words/words';

const MAX_FILES = 50;

export const tooLarge = (files: readonly File[], maxBytes: number): boolean =>
  files.reduce((sum, { size }) => sum + size, 0) > maxBytes;

export function FilePicker({
  files,
  maxBytes,
  onChange,
}: {
  files: readonly File[];
  maxBytes: number;
  onChange: (files: File[]) => void;
}) {
  const picker = useRef<HTMLInputElement>(null);
  const limit = sizeInWords(maxBytes);
  const over = tooLarge(files, maxBytes);
  return (
    <>
      {files.map((file, index) => (
        <Row key={`${file.name}${index}`}>
          <Text kind="small">{`${file.name}, ${sizeInWords(file.size)}`}</Text>
          <Button
            kind="quiet"
            label={words.remove}
            describe={`${words.remove} ${file.name}`}
            onPress={() => onChange(files.filter((_, at) => at !== index))}
          />
        </Row>
      ))}
      <input
        ref={picker}
        type="file"
        multiple
        hidden
        aria-label={words.replyFiles}
        onChange={(event) => {
          onChange([...files, ...(event.target.files ?? [])].slice(0, MAX_FILES));
          event.target.value = '';
        }}
      />
      <Row>
        <Button label={words.replyFiles} onPress={() => picker.current?.click()} />
        <Text kind="small" tone={over ? 'brick' : 'soft'}>
          {over ? `■ ${words.replyTooLarge(limit)}` : words.replyFilesHint(limit)}
        </Text>
      </Row>
    </>
  );
}
