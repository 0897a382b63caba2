/** A message as its reader sees it: the same component in the reading room and in the sender's view of it. */
import { type Handling } from '@under-lock/core/handling/handling';
import { type MessageContent } from '@under-lock/core/message/content';
import { type Correspondent } from '@under-lock/core/people/address';
import { distanceInWords, momentInWords } from '@under-lock/core/when';
import { border, colour, Heading, Section, space, Text, TimeBar, type as fonts } from '@under-lock/ui';
import { HtmlFrame } from '@under-lock/ui/html-frame';
import { StyleSheet, View } from 'react-native';
import { FileList } from './FileList';
import { language, words } from './words/words';

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
const named = ({ name, address }: Correspondent): string => (name === '' ? address : name);

export interface MessageViewProps {
  content: MessageContent;
  handling: Handling;
  now: Date;
  /** Where pdf.js lies. */
  pdfBase: string;
  headingLevel?: 1 | 2;
}

export function MessageView({ content, handling, now, pdfBase, headingLevel = 1 }: MessageViewProps) {
  const { rights, closesAt } = handling;
  const whole = closesAt.getTime() - content.date.getTime();
  return (
    <View style={styles.message}>
      <View style={styles.head}>
        <Heading level={headingLevel} style={styles.subject}>{content.subject}</Heading>
        <Text kind="small" tone="soft">{`${named(content.from)} · ${momentInWords(content.date, now, zone, language)}`}</Text>
        <Text kind="small" tone="soft">{`${words.to}: ${content.to.map(named).join(', ')}${content.cc.length === 0 ? '' : ` · ${words.cc}: ${content.cc.map(named).join(', ')}`}`}</Text>
        {content.reference === '' ? null : (
          <Text kind="small" tone="soft">{`${words.reference} `}<Text kind="mono" tone="soft" style={styles.reference}>{content.reference}</Text></Text>
        )}
      </View>
      <View style={styles.terms}>
        <Text>{words.until('')}<Text kind="strong">{momentInWords(closesAt, now, zone, language)}</Text>{`, ${distanceInWords(closesAt, now, zone, language)}`}</Text>
        <TimeBar left={whole <= 0 ? 0 : (closesAt.getTime() - now.getTime()) / whole} />
        <Text kind="small" tone="soft">{`${rights.reply ? words.mayReply : words.mayNotReply} ${rights.save ? words.maySave : words.mayNotSave} ${words.honest}`}</Text>
      </View>
      {content.html === '' ? <Text style={styles.text}>{content.text}</Text> : <HtmlFrame html={content.html} title={content.subject} />}
      {content.files.length === 0 ? null : (
        <Section title={words.files} aside={String(content.files.length)}>
          <FileList files={content.files} maySave={rights.save} pdfBase={pdfBase} />
        </Section>
      )}
    </View>
  );
}

const styles = StyleSheet.create({
  message: { gap: space.xl },
  head: { gap: space.xs },
  subject: { overflowWrap: 'anywhere' } as object,
  reference: { fontSize: fonts.small.fontSize, lineHeight: fonts.small.lineHeight },
  terms: { borderLeftWidth: border.bar, borderLeftColor: colour.sea, paddingLeft: space.m, gap: space.xs },
  text: { whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' } as object,
});
