/** What stands under letter and plan: what is still to settle, the sending as it goes, and its buttons. */
import { isRead } from '@under-lock/core/locks/index';
import { withoutTags } from '@under-lock/core/rules/tags';
import { momentInWords } from '@under-lock/core/when';
import { Banner, border, Button, colour, Progress, space, Stack, Text } from '@under-lock/ui';
import { router } from 'expo-router';
import { memo, useState } from 'react';
import { Pressable, StyleSheet, View } from 'react-native';
import { zone } from '../clock';
import { sendWords } from './plan/plan-words';
import { SeenBeforeSending } from './SeenBeforeSending';
import { type Writing } from './useWriting';

const stepWords = {
  sealing: 'Sealing in your browser',
  uploading: 'Uploading the sealed message',
  dispatching: 'Handing over for delivery',
} as const;

export function Failed({ failed }: Writing) {
  if (failed === undefined) return null;
  return (
    <Banner
      tone="brick"
      actions={
        failed.messageId === undefined ? undefined : (
          <Button label="Look at what was sent" onPress={() => router.push(`/mail/${failed.messageId}` as never)} />
        )
      }
    >
      {failed.sentence}
    </Banner>
  );
}

/** What is still to settle, or how far the sending is. */
export function SendState({ sending, open }: Pick<Writing, 'sending' | 'open'>) {
  if (sending === undefined)
    return (
      <Text kind="small" tone={open.length === 0 ? 'sea' : 'amber'} aria-live="polite">
        {open.length === 0
          ? '● Everything is settled'
          : `▲ ${open.length === 1 ? '1 thing' : `${open.length} things`} to settle: ${open[0]}`}
      </Text>
    );
  const words = stepWords[sending.step];
  return (
    <Stack style={styles.sending}>
      <Text kind="small" aria-live="polite">
        {words}
      </Text>
      <Progress
        done={sending.step === 'uploading' ? sending.done : sending.step === 'dispatching' ? 1 : 0}
        label={words}
      />
    </Stack>
  );
}

/** @param short One word where there is no room for more; screen readers hear all of them. */
export function SendButtons({ short = false, ...writing }: Writing & { short?: boolean }) {
  const { planned, sending, open, now } = writing;
  const { plan, applied, leavesAt, releasers } = planned;
  const forRelease = releasers !== undefined;
  const words =
    leavesAt === undefined || forRelease
      ? sendWords(plan.lines, applied.terms.clear, forRelease)
      : `Send ${momentInWords(leavesAt, now, zone)}`;
  // That it goes unlocked is said whatever room there is.
  const label = short && leavesAt === undefined && !applied.terms.clear && !forRelease ? 'Send' : words;
  return (
    <>
      <Button
        kind="main"
        wide={!short}
        label={sending === undefined ? label : 'Sending'}
        describe={sending === undefined ? words : 'Sending'}
        onPress={writing.send}
        disabled={open.length > 0}
        busy={sending !== undefined || writing.sendingSoon}
        shortcut="Control+Enter"
      />
      {sending !== undefined && sending.step !== 'dispatching' ? <Button label="Stop" onPress={writing.stop} /> : null}
    </>
  );
}

export function AsTheySeeItButton({ draft, policy, planned, account, office, now, sending }: Writing) {
  const [seen, setSeen] = useState(false);
  const { plan, applied } = planned;
  const { closing, terms } = applied;
  const isReadHere = plan.lines.length === 0 || plan.lines.some(({ chosen }) => isRead(chosen.lock));
  if (sending !== undefined || !isReadHere || !closing.ok) return null;
  return (
    <>
      <Button label="As they see it" onPress={() => setSeen(true)} />
      {seen ? (
        <SeenBeforeSending
          draft={withoutTags(policy.tags, draft)}
          plan={plan}
          account={account}
          office={office}
          handling={{ ...terms, closesAt: closing.closesAt }}
          confirms={planned.preset?.terms.confirm === true}
          now={now}
          onClose={() => setSeen(false)}
        />
      ) : null}
    </>
  );
}

/**
 * The plan in two lines on a phone: handling and closing date, and what is unsettled; it opens the whole of it.
 * `covered`: the whole of it lies above, and says all this itself.
 */
export const PlanStrip = memo(function PlanStrip({
  covered,
  onOpen,
  ...writing
}: Writing & { covered: boolean; onOpen: () => void }) {
  const { planned, open, sending, now, seen, doubts } = writing;
  const {
    preset,
    applied: { closing },
  } = planned;
  const until = closing.ok ? `until ${momentInWords(closing.closesAt, now, zone)}` : 'no closing date yet';
  const name = preset?.name ?? 'Handling';
  const noticed = [
    ...(doubts.length === 0 ? [] : [`${doubts.length} to look at`]),
    ...(seen.open.length === 0 ? [] : [`${seen.open.length} seen in it`]),
  ];
  const state = [open.length === 0 ? 'everything is settled' : `${open.length} to settle`, ...noticed].join(', ');
  return (
    <View style={styles.strip} role="complementary" aria-label="How it goes out" {...({ inert: covered } as object)}>
      {covered ? null : <Failed {...writing} />}
      {sending === undefined || covered ? (
        <View style={styles.stripLine}>
          <Pressable
            role="button"
            aria-label={`Plan: ${name}, ${until}, ${state}`}
            onPress={onOpen}
            style={({ pressed }) => [styles.stripWords, pressed && styles.pressed]}
          >
            {covered ? null : (
              <>
                <Text kind="small" numberOfLines={1}>
                  <Text kind="label">{name}</Text>
                  {` · ${until}`}
                </Text>
                <Text kind="small" tone={open.length === 0 ? 'sea' : 'amber'} numberOfLines={1} aria-live="polite">
                  {`${open.length === 0 ? '● Everything is settled' : `▲ ${open[0]}`}${noticed.map((one) => ` · ▲ ${one}`).join('')}`}
                </Text>
              </>
            )}
          </Pressable>
          {covered ? null : <SendButtons {...writing} short />}
        </View>
      ) : (
        <>
          <SendState {...writing} />
          <View style={styles.stripLine}>
            <SendButtons {...writing} />
          </View>
        </>
      )}
    </View>
  );
});

const styles = StyleSheet.create({
  sending: { gap: space.xs },
  strip: {
    backgroundColor: colour.paper,
    borderTopWidth: border.hair,
    borderTopColor: colour.line,
    paddingHorizontal: space.l,
    paddingVertical: space.s,
    gap: space.s,
  },
  stripLine: { flexDirection: 'row', alignItems: 'center', gap: space.m },
  stripWords: { flex: 1, minWidth: 0, minHeight: space.touch, justifyContent: 'center' },
  pressed: { opacity: 0.8 },
});
