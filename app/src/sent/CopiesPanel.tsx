/** Who got a copy of their own: where it got to. Nobody can close or withdraw it. */
import { type SentCopy } from '@under-lock/contract/outgoing';
import { momentInWords } from '@under-lock/core/when';
import { Line, Panel, Row, Section, StateMark, Text } from '@under-lock/ui';
import { LockShape } from '@under-lock/ui/lock-shape';
import { StyleSheet } from 'react-native';
import { zone } from '../clock';
import { lockLabel, lockShapes } from '../locks/lock-words';
import { CopyPassword } from './CopyPassword';
import { type Summary } from '@under-lock/core/outgoing/draft';
import { copyMark, who } from '../handling/grant-words';

interface Props {
  copies: readonly SentCopy[];
  /** Signed and readable. */
  clear: boolean;
  /** It waits to leave. */
  leaving: boolean;
  /** Why it left open, in the sender's words. */
  openReason?: string | undefined;
  now: Date;
  /** Of locked files, by copy; undefined when the vault does not open the message. */
  passwords: Summary['passwords'] | undefined;
  onTold: (copy: SentCopy) => Promise<void>;
  /** Sends a locked file's password as a text message; undefined where no number is known. */
  onText: (copy: SentCopy) => (() => Promise<void>) | undefined;
}

const orWords = new Intl.ListFormat('en', { type: 'disjunction' });
const readableWay = (lock: SentCopy['lock']): string =>
  lock === 'open'
    ? 'as it was written'
    : lock === 'file'
      ? 'with its files packed, not protected'
      : 'with your signature';

function aboutCopies(copies: readonly SentCopy[], clear: boolean): string {
  if (clear) {
    const ways = new Set(copies.map(({ lock }) => readableWay(lock)));
    return `Gone as ordinary mail ${orWords.format(ways)}. Anybody on its way could read it; nobody can close or withdraw it.`;
  }
  const files = copies.filter(({ lock }) => lock === 'file').length;
  const how =
    files === 0
      ? 'Encrypted to their certificate or key and gone into their own mail program'
      : files === copies.length
        ? 'Gone as a locked file, which opens with its password'
        : 'Encrypted to their certificate or key, or locked in a file with a password, and gone to them';
  return `${how}. A copy can’t be closed, withdrawn or limited, and nobody is told when it is opened.`;
}

/** How what is no secret went out. */
export const sentReadable = (copies: readonly SentCopy[]): string =>
  copies.every(({ lock }) => lock === 'file')
    ? 'Sent packed'
    : copies.some(({ lock }) => lock === 'file' || lock === 'open')
      ? 'Sent'
      : 'Sent signed';

export function CopiesPanel({ copies, clear, leaving, openReason, now, passwords, onTold, onText }: Props) {
  return (
    <Section title={clear ? `${sentReadable(copies)}, open` : 'Copies of their own'} aside={String(copies.length)}>
      <Text
        kind="small"
        tone="soft"
      >{`${aboutCopies(copies, clear)}${openReason === undefined ? '' : ` Your reason: “${openReason}”`}`}</Text>
      <Panel>
        {copies.map((copy, index) => {
          const { tone, word } = copyMark(copy, leaving);
          return (
            <Line key={copy.id} last={index === copies.length - 1}>
              <Row style={styles.between}>
                <Row style={styles.who}>
                  <LockShape shape={lockShapes[copy.lock]} state={tone === 'stopped' ? 'stopped' : 'filled'} />
                  <Text kind="strong" style={styles.wrap}>
                    {who(copy)}
                  </Text>
                </Row>
                <StateMark tone={tone} word={word} />
              </Row>
              <Text
                kind="small"
                tone="soft"
                style={styles.wrap}
              >{`${lockLabel(copy.lock, clear)}${copy.name === '' ? '' : `, to ${copy.address}`}`}</Text>
              {copy.at === undefined ? null : (
                <Text kind="small" tone="soft">{`${word}, ${momentInWords(copy.at, now, zone)}`}</Text>
              )}
              {copy.lock !== 'file' || clear ? null : (
                <CopyPassword
                  who={who(copy)}
                  kept={passwords?.[copy.id]}
                  onTold={() => onTold(copy)}
                  onText={onText(copy)}
                />
              )}
              {copy.answer === undefined || copy.state === 'accepted' ? null : (
                <Text
                  kind="small"
                  tone={copy.state === 'waiting' ? 'soft' : 'brick'}
                  style={styles.wrap}
                >{`Their mail host said: ${copy.answer}`}</Text>
              )}
            </Line>
          );
        })}
      </Panel>
    </Section>
  );
}

const styles = StyleSheet.create({
  between: { justifyContent: 'space-between', flexWrap: 'nowrap', alignItems: 'flex-start' },
  who: { flexShrink: 1, flexWrap: 'nowrap' },
  wrap: { overflowWrap: 'anywhere', flexShrink: 1 } as object,
});
