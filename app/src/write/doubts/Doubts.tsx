/** What may be a mistake, each with the difference marked and settled by one press. None of it holds anything up. */
import { differing } from '@under-lock/core/doubts/alike';
import { hostOf, localPartOf } from '@under-lock/core/people/address';
import { type Doubt, doubtKey } from '@under-lock/core/doubts/doubts';
import { border, Button, colour, Row, Section, space, Text } from '@under-lock/ui';
import { Fragment, type ReactNode } from 'react';
import { StyleSheet, View } from 'react-native';
import { type Writing } from '../useWriting';

/** An address with that marked which another has not. */
const Marked = ({ text, unlike }: { text: string; unlike: string }) => (
  <>
    {differing(text, unlike).map((stretch, index) =>
      stretch.differs ? (
        <Text key={index} kind="strong" style={styles.marked}>
          {stretch.text}
        </Text>
      ) : (
        <Fragment key={index}>{stretch.text}</Fragment>
      ),
    )}
  </>
);

function sentenceOf(doubt: Doubt): ReactNode {
  switch (doubt.code) {
    case 'domain-alike':
    case 'other-ending':
      return (
        <>
          {`${localPartOf(doubt.address)}@`}
          <Marked text={hostOf(doubt.address)} unlike={doubt.known} />
          {`: you know ${doubt.known}.`}
        </>
      );
    case 'address-alike':
      return (
        <>
          <Marked text={doubt.address} unlike={doubt.known} />
          {`: you know ${doubt.known}, and never wrote to this one.`}
        </>
      );
    case 'private-mailbox':
      return `${doubt.address} has the name of your colleague ${doubt.colleague}, and is not an address of the office.`;
    case 'names-another':
      return `“${doubt.file}” is called after ${doubt.name}, who does not get it.`;
    case 'speaks-of-another':
      return `“${doubt.file}” speaks of ${doubt.name}, who does not get it, and of nobody who does.`;
    case 'nothing-attached':
      return `The text says “${doubt.word}”, and there is no file.`;
    case 'never-together':
      return `${doubt.name} was never written to together with the others.`;
    case 'many-answered':
      return `This answers ${doubt.count} people at once.`;
  }
}

/** In words alone, for who hears it. */
function spokenOf(doubt: Doubt): string {
  const said = sentenceOf(doubt);
  return typeof said === 'string' ? said : 'known' in doubt ? `${doubt.address}: you know ${doubt.known}.` : '';
}

export function Doubts({ doubts, desk }: Pick<Writing, 'doubts' | 'desk'>) {
  if (doubts.length === 0) return null;
  const settle = (doubt: Doubt): void =>
    desk.change((before) => ({ ...before, passedOver: [...(before.passedOver ?? []), doubtKey(doubt)] }));
  return (
    <Section title="Is this right?" aside={String(doubts.length)}>
      <View role="list" aria-label="Is this right?">
        {doubts.map((doubt) => (
          <View key={doubtKey(doubt)} role="listitem" style={styles.doubt}>
            <Text style={styles.words}>
              {'▲ '}
              {sentenceOf(doubt)}
            </Text>
            <Row>
              <Button label="It is right" describe={`It is right: ${spokenOf(doubt)}`} onPress={() => settle(doubt)} />
            </Row>
          </View>
        ))}
      </View>
    </Section>
  );
}

const styles = StyleSheet.create({
  doubt: {
    gap: space.xs,
    paddingVertical: space.s,
    paddingLeft: space.m,
    borderLeftWidth: border.bar,
    borderLeftColor: colour.amber,
    marginBottom: space.s,
  },
  words: { overflowWrap: 'anywhere' } as object,
  marked: { textDecorationLine: 'underline', color: colour.brick },
});
