/** A file over the whole screen: the next and the one before, larger and smaller, and what stands in it. */
import { type MessageFile } from '@under-lock/core/message/content';
import { Button, Field, measure, Row, Sheet, space, Text } from '@under-lock/ui';
import { type KeyboardEvent, type ReactNode, useCallback, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { words } from '../words/words';
import { kindOf } from './file-kind';
import { FileView } from './FileView';
import { type FileFind, type Finding } from './useFound';

const ZOOMS = [0.5, 0.75, 1, 1.5, 2, 3, 4] as const;
const WHOLE = 2;
const percent = (zoom: number): string => `${zoom * 100} %`;

interface Props {
  /** Those that can be shown. */
  files: readonly MessageFile[];
  at: number;
  onAt: (at: number) => void;
  onClose: () => void;
  pdfBase: string;
  /** Its words may be copied. */
  readable: boolean;
  /** Lies over what is shown. */
  over?: ReactNode;
}

export function Viewer({ files, at, onAt, onClose, pdfBase, readable, over }: Props) {
  const file = files[at]!;
  const [zoomAt, setZoomAt] = useState(WHOLE);
  const zoom = ZOOMS[zoomAt]!;
  const finder = useFinder();
  const canFind = readable && kindOf(file) !== 'picture';
  const go = (next: number): void => {
    if (files[next] === undefined) return;
    finder.close();
    onAt(next);
  };
  // Where nothing sticks out, the arrows have nothing else to do.
  const arrows = ({ key, target }: KeyboardEvent): void => {
    if (zoom > 1 || target instanceof HTMLInputElement) return;
    if (key === 'ArrowRight') go(at + 1);
    if (key === 'ArrowLeft') go(at - 1);
  };
  return (
    <Sheet
      title={file.name}
      back={words.closeFile}
      onClose={onClose}
      still
      under={canFind && finder.isOpen ? <FindBar finder={finder} /> : undefined}
      foot={
        <View style={styles.foot}>
          {files.length < 2 ? null : (
            <Row>
              <Button label={words.previousFile} onPress={() => go(at - 1)} disabled={at === 0} />
              <Text kind="small" tone="soft" aria-live="polite">
                {words.fileOf(at + 1, files.length)}
              </Text>
              <Button label={words.nextFile} onPress={() => go(at + 1)} disabled={at === files.length - 1} />
            </Row>
          )}
          <Row>
            <Button label={words.smaller} onPress={() => setZoomAt(zoomAt - 1)} disabled={zoomAt === 0} />
            <Text kind="small" tone="soft" aria-live="polite">
              {percent(zoom)}
            </Text>
            <Button label={words.larger} onPress={() => setZoomAt(zoomAt + 1)} disabled={zoomAt === ZOOMS.length - 1} />
            {canFind ? <Button label={words.find} expanded={finder.isOpen} onPress={finder.toggle} /> : null}
          </Row>
        </View>
      }
    >
      {/* Keys only; each has its button. */}
      <div onKeyDown={arrows} style={sideways} {...(zoom > 1 ? scrolled(file.name) : {})}>
        <div style={{ ...page, width: `calc(min(100%, ${measure.paper}px) * ${zoom})` }}>
          <FileView
            key={at}
            file={file}
            pdfBase={pdfBase}
            selectable={readable}
            zoom={zoom}
            find={canFind && finder.isOpen ? finder.find : undefined}
          />
          {over}
        </div>
      </div>
    </Sheet>
  );
}

interface Finder {
  isOpen: boolean;
  find: FileFind;
  finding: Finding;
  toggle(): void;
  close(): void;
  setPhrase(phrase: string): void;
  step(by: 1 | -1): void;
}

const NOTHING: Finding = { found: [], isReading: false };

function useFinder(): Finder {
  const [isOpen, setOpen] = useState(false);
  const [phrase, setPhrase] = useState('');
  const [current, setCurrent] = useState(0);
  const [finding, setFinding] = useState(NOTHING);
  const onFinding = useCallback((next: Finding) => setFinding(next), []);
  const reset = (next: boolean): void => {
    setOpen(next);
    setPhrase('');
    setCurrent(0);
    setFinding(NOTHING);
  };
  const count = finding.found.length;
  return {
    isOpen,
    find: { phrase, current, onFinding },
    finding,
    toggle: () => reset(!isOpen),
    close: () => reset(false),
    setPhrase(next) {
      setPhrase(next);
      setCurrent(0);
    },
    step: (by) => count > 0 && setCurrent((current + by + count) % count),
  };
}

function foundInWords({ find: { phrase, current }, finding: { found, isReading } }: Finder): string {
  if (phrase.trim() === '') return '';
  if (found.length === 0) return isReading ? words.stillReading : words.foundNone;
  return words.foundOf(current + 1, found.length);
}

function FindBar({ finder }: { finder: Finder }) {
  const none = finder.finding.found.length === 0;
  return (
    <View style={styles.find}>
      <View style={styles.phrase}>
        <Field
          label={words.findIn}
          value={finder.find.phrase}
          onChangeText={finder.setPhrase}
          onSubmitEditing={() => finder.step(1)}
          submitBehavior="submit"
          maxLength={100}
          autoFocus
          autoCapitalize="none"
          enterKeyHint="search"
        />
      </View>
      <Row>
        <Button label={words.previousFound} onPress={() => finder.step(-1)} disabled={none} />
        <Button label={words.nextFound} onPress={() => finder.step(1)} disabled={none} />
        <View role="status">
          <Text kind="small" tone="soft">
            {foundInWords(finder)}
          </Text>
        </View>
      </Row>
    </View>
  );
}

const sideways = { overflowX: 'auto', outlineOffset: -2 } as const;
const page = { position: 'relative', marginInline: 'auto' } as const;
/** What sticks out is scrolled by keys, too. */
const scrolled = (name: string) => ({ tabIndex: 0, role: 'region', 'aria-label': name }) as const;

const styles = StyleSheet.create({
  foot: { flexDirection: 'row', flexWrap: 'wrap', columnGap: space.xxl, rowGap: space.s, justifyContent: 'center' },
  find: { flexDirection: 'row', flexWrap: 'wrap', gap: space.s, alignItems: 'flex-end' },
  phrase: { flexGrow: 1, flexBasis: 240, maxWidth: measure.form },
});
