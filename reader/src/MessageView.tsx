/**
 * A message as its reader sees it: the same component in the reading room, in a colleague's Received and in the
 * sender's view of it.
 */
import { type Handling } from '@under-lock/core/handling/handling';
import { type MessageContent, type MessageFile } from '@under-lock/core/message/content';
import { addressKey, type Correspondent } from '@under-lock/core/people/address';
import { commaIn, distanceInWords, momentInWords } from '@under-lock/core/when';
import {
  type as fonts,
  border,
  Button,
  colour,
  Heading,
  Prose,
  Row,
  Section,
  space,
  Text,
  TimeBar,
} from '@under-lock/ui';
import { HtmlFrame } from '@under-lock/ui/html-frame';
import { Watermark } from '@under-lock/ui/watermark';
import { useEffect, useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { FileList } from './files/FileList';
import { Paper } from './Paper';
import { pagesForPaper } from './files/pdf';
import { rightsSentences } from './rights';
import { language, words } from './words/words';
import { zone } from './zone';

const named = ({ name, address }: Correspondent): string => (name === '' ? address : name);

/** Whom it names; and who reads it, where it names them to nobody. */
export function namedRecipients(
  { to, cc }: Pick<MessageContent, 'to' | 'cc'>,
  reader: Correspondent | undefined,
): string {
  const isNamed =
    reader === undefined || [...to, ...cc].some(({ address }) => addressKey(address) === addressKey(reader.address));
  return [
    ...(to.length === 0 ? [] : [`${words.to}: ${to.map(named).join(', ')}`]),
    ...(cc.length === 0 ? [] : [`${words.cc}: ${cc.map(named).join(', ')}`]),
    ...(isNamed ? [] : [words.unseen]),
  ].join(' · ');
}

export type Use = 'saved' | 'printed';

export interface MessageViewProps {
  content: MessageContent;
  handling: Handling;
  reader: Correspondent;
  officeName: string;
  now: Date;
  /** Where pdf.js lies. */
  pdfBase: string;
  headingLevel?: 1 | 2;
  /** Of what nothing holds and nothing closes, no terms are said. */
  free?: boolean;
  /** Asks for leave to save or print; rejects when it is not given. A preview gives it to itself. */
  onUse: (what: Use) => Promise<unknown>;
}

/** Where copying is switched off the clipboard stays as it was. Discourages, and the page says so. */
function useNoCopying(off: boolean): void {
  useEffect(() => {
    if (!off) return undefined;
    const prevent = (event: ClipboardEvent): void => {
      // What the reader types themselves is theirs.
      if (!(event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement))
        event.preventDefault();
    };
    document.addEventListener('copy', prevent);
    document.addEventListener('cut', prevent);
    return () => {
      document.removeEventListener('copy', prevent);
      document.removeEventListener('cut', prevent);
    };
  }, [off]);
}

/** The browser's own print command counts as printing too. */
function usePrinting(
  allowed: boolean,
  onUse: MessageViewProps['onUse'],
): { sheets: string[] | undefined; print: (sheets?: string[]) => void } {
  const [sheets, setSheets] = useState<string[] | undefined>();
  const [wanted, setWanted] = useState(0);
  useEffect(() => {
    if (!allowed) return undefined;
    const before = (): void => void onUse('printed').catch(() => undefined);
    const after = (): void => setSheets(undefined);
    window.addEventListener('beforeprint', before);
    window.addEventListener('afterprint', after);
    return () => {
      window.removeEventListener('beforeprint', before);
      window.removeEventListener('afterprint', after);
    };
  }, [allowed, onUse]);
  useEffect(() => {
    if (wanted === 0) return;
    // Pictures are decoded before the paper is made, or it would be white.
    const pictures = [...document.querySelectorAll<HTMLImageElement>('#paper img.sheet')];
    void Promise.allSettled(pictures.map((picture) => picture.decode())).then(() => window.print());
  }, [wanted]);
  return {
    sheets,
    print(next) {
      setSheets(next);
      setWanted((before) => before + 1);
    },
  };
}

/** Until when it can be read, and what may be done with it. */
function Terms({ handling, since, now }: { handling: Handling; since: Date; now: Date }) {
  const { closesAt, rights } = handling;
  const whole = closesAt.getTime() - since.getTime();
  return (
    <View style={styles.terms}>
      <Text>
        {words.until('')}
        <Text kind="strong">{momentInWords(closesAt, now, zone, language)}</Text>
        {`${commaIn(language)} ${distanceInWords(closesAt, now, zone, language)}`}
      </Text>
      <TimeBar left={whole <= 0 ? 0 : (closesAt.getTime() - now.getTime()) / whole} />
      <Text kind="small" tone="soft">
        {[...rightsSentences(handling), ...(rights.copy ? [] : [words.honest])].join(' ')}
      </Text>
    </View>
  );
}

export function MessageView({
  content,
  handling,
  reader,
  officeName,
  now,
  pdfBase,
  headingLevel = 1,
  free = false,
  onUse,
}: MessageViewProps) {
  const { rights, watermark } = handling;
  const { sheets, print } = usePrinting(rights.print, onUse);
  useNoCopying(!rights.copy);
  const printFile = async (file: MessageFile): Promise<void> => print(await pagesForPaper(file.bytes, pdfBase));
  const mark = watermark ? (
    <Watermark lines={[named(reader), reader.address, momentInWords(now, now, zone, language)]} />
  ) : null;
  return (
    <View style={[styles.message, !rights.copy && styles.fixed]}>
      <View style={styles.head}>
        <Heading level={headingLevel}>{content.subject}</Heading>
        <Text
          kind="small"
          tone="soft"
        >{`${named(content.from)} · ${momentInWords(content.date, now, zone, language)}`}</Text>
        <Text kind="small" tone="soft">
          {namedRecipients(content, free ? undefined : reader)}
        </Text>
        {content.reference === '' ? null : (
          <Text kind="small" tone="soft">
            {`${words.reference} `}
            <Text kind="mono" tone="soft" style={styles.reference}>
              {content.reference}
            </Text>
          </Text>
        )}
      </View>
      {free ? null : <Terms handling={handling} since={content.date} now={now} />}
      {content.html === '' ? (
        <Prose>{content.text}</Prose>
      ) : (
        <HtmlFrame html={content.html} title={content.subject} selectable={rights.copy} />
      )}
      {rights.print ? (
        <Row>
          <Button label={words.print} describe={words.printAll} onPress={() => print()} />
        </Row>
      ) : null}
      {content.files.length === 0 ? null : (
        <Section title={words.files} aside={String(content.files.length)}>
          <FileList
            files={content.files}
            rights={rights}
            pdfBase={pdfBase}
            onSave={() => onUse('saved')}
            onPrint={printFile}
            over={mark}
          />
        </Section>
      )}
      {mark}
      <Paper content={content} handling={handling} reader={reader} officeName={officeName} now={now} sheets={sheets} />
    </View>
  );
}

const styles = StyleSheet.create({
  message: { gap: space.xl, position: 'relative' },
  fixed: { userSelect: 'none' } as object,
  head: { gap: space.xs },
  reference: { fontSize: fonts.small.fontSize, lineHeight: fonts.small.lineHeight },
  terms: { borderStartWidth: border.bar, borderStartColor: colour.sea, paddingStart: space.m, gap: space.xs },
});
