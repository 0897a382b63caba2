/** A notice to somebody made up, as it would leave now: as a mail program shows it, and as one that shows text only. */
import { type NoticeLook } from '@under-lock/core/notice/look';
import { noticeText } from '@under-lock/core/notice/notice';
import { type Language } from '@under-lock/core/language';
import { Choice, Prose, Section, space, Stack, Text } from '@under-lock/ui';
import { AtWidth } from '@under-lock/ui/at-width';
import { HtmlFrame } from '@under-lock/ui/html-frame';
import { useState } from 'react';
import { StyleSheet, View } from 'react-native';
import { useNow } from '../clock';
import { useOpenSession } from '../session/session';
import { useOffice } from '../session/useOffice';

const AHEAD_MS = 9 * 86_400_000;
const WIDTHS = { phone: 390, desktop: 680 } as const;

export function NoticePreview({ look, stale, language }: { look: NoticeLook; stale: boolean; language: Language }) {
  const { account } = useOpenSession();
  const { data: office } = useOffice();
  const now = useNow();
  const [as, setAs] = useState<'phone' | 'desktop' | 'text'>('phone');
  if (office === undefined) return null;
  const { subject, text, html } = noticeText({
    messageId: '',
    date: now,
    officeName: office.name,
    sender: { name: account.name, address: account.address },
    recipient: { name: 'Pell Anders', address: 'pell.anders@postbox.example' },
    closesAt: new Date(now.getTime() + AHEAD_MS),
    zone: office.calendar.zone,
    check: { kind: 'text', hint: '··· 417', question: false },
    link: `${office.roomOrigin}/room/…`,
    language,
    answerThere: true,
    look,
  });
  return (
    <Section title="As it would leave">
      <Stack>
        <Choice
          label="Shown"
          row
          value={as}
          onChange={setAs}
          options={[
            { value: 'phone', label: 'On a phone' },
            { value: 'desktop', label: 'On a desktop' },
            { value: 'text', label: 'As text only' },
          ]}
        />
        {stale ? (
          <Text kind="small" tone="amber">
            ▲ As kept before: something in the new words is not right yet.
          </Text>
        ) : null}
        <Text kind="strong">{subject}</Text>
        {as === 'text' ? (
          <View style={styles.text}>
            <Prose kind="mono">{text}</Prose>
          </View>
        ) : (
          <AtWidth width={WIDTHS[as]} onlyLooked="Smaller as a whole, to look at only.">
            <HtmlFrame key={as} html={html} title={subject} />
          </AtWidth>
        )}
      </Stack>
    </Section>
  );
}

const styles = StyleSheet.create({
  text: { padding: space.m },
});
