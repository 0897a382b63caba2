import { type Rights } from '@under-lock/core/handling/handling';
import { type MessageFile } from '@under-lock/core/message/content';
import { sizeInWords } from '@under-lock/core/when';
import { Button, Line, Panel, space, Text } from '@under-lock/ui';
import { type ReactNode, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { kindOf } from './file-kind';
import { save } from './save';
import { words } from '../words/words';
import { Thumbnail } from './Thumbnail';
import { Viewer } from './Viewer';

interface Props {
  files: MessageFile[];
  rights: Pick<Rights, 'save' | 'print' | 'copy'>;
  pdfBase: string;
  /** Asks whether a file may be saved now. @throws when it may not */
  onSave: () => Promise<unknown>;
  onPrint: (file: MessageFile) => Promise<unknown>;
  /** Lies over a file that is looked at. */
  over?: ReactNode;
}

interface LineProps extends Pick<Props, 'rights' | 'pdfBase' | 'onSave' | 'onPrint'> {
  file: MessageFile;
  last: boolean;
  onLook: () => void;
}

function FileLine({ file, rights, pdfBase, last, onLook, onSave, onPrint }: LineProps) {
  const [busy, setBusy] = useState<string | undefined>();
  const [refused, setRefused] = useState(false);
  const kind = kindOf(file);
  const shown = kind !== 'other';
  const attempt = async (label: string, task: () => Promise<unknown>): Promise<void> => {
    setBusy(label);
    setRefused(false);
    await task().catch(() => setRefused(true));
    setBusy(undefined);
  };
  const keep = (): Promise<void> =>
    attempt(words.save, async () => {
      await onSave();
      save(file);
    });
  const acts = [
    ...(shown ? [{ label: words.look, act: onLook }] : []),
    ...(rights.print && kind === 'pdf'
      ? [{ label: words.print, act: () => void attempt(words.print, () => onPrint(file)) }]
      : []),
    ...(rights.save ? [{ label: words.save, act: () => void keep() }] : []),
  ];
  return (
    <Line last={last} style={styles.line}>
      <View style={styles.row}>
        {/* The button beside it does the same, and says so. */}
        <Pressable aria-hidden tabIndex={-1} disabled={!shown} onPress={onLook}>
          <Thumbnail file={file} pdfBase={pdfBase} />
        </Pressable>
        <View style={styles.words}>
          <Text kind="strong" style={styles.name}>
            {file.name}
          </Text>
          <Text kind="small" tone="soft">
            {sizeInWords(file.bytes.length)}
          </Text>
        </View>
        <View style={styles.actions}>
          {acts.map(({ label, act }) => (
            <Button key={label} label={label} describe={`${label} ${file.name}`} busy={busy === label} onPress={act} />
          ))}
        </View>
      </View>
      {refused ? <Text kind="small" tone="brick">{`■ ${words.refused}`}</Text> : null}
      {shown ? null : (
        <Text kind="small" tone="soft">
          {rights.save ? words.cannotShow : words.cannotShowNorSave}
        </Text>
      )}
    </Line>
  );
}

export function FileList({ files, rights, pdfBase, onSave, onPrint, over }: Props) {
  const [looking, setLooking] = useState<number | undefined>();
  const shownFiles = files.filter((file) => kindOf(file) !== 'other');
  return (
    <Panel>
      {files.map((file, index) => (
        <FileLine
          key={index}
          file={file}
          last={index === files.length - 1}
          onLook={() => setLooking(shownFiles.indexOf(file))}
          {...{ rights, pdfBase, onSave, onPrint }}
        />
      ))}
      {looking === undefined ? null : (
        <Viewer
          files={shownFiles}
          at={looking}
          onAt={setLooking}
          onClose={() => setLooking(undefined)}
          pdfBase={pdfBase}
          readable={rights.copy}
          over={over}
        />
      )}
    </Panel>
  );
}

const styles = StyleSheet.create({
  line: { gap: space.m },
  row: { flexDirection: 'row', gap: space.m, alignItems: 'center', flexWrap: 'wrap' },
  words: { flexGrow: 1, flexShrink: 1, flexBasis: 120 },
  name: { overflowWrap: 'anywhere' } as object,
  actions: { flexDirection: 'row', gap: space.s, flexWrap: 'wrap' },
});
